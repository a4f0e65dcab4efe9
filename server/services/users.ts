import { randomBytes } from 'node:crypto'
import { newId, type RoleName } from '@kataxis/core'
import type { Database } from '../db/connect'
import { notFound } from './refused'
import { refusal } from './refusals'
import { sessionOf } from './session-key'
import { notify } from '../live/notifications'
import * as repository from '../repositories/users'
import type { UserRow } from '../repositories/users'
import { looksLike } from './names'
import { hashed, matches } from './passwords'
import { SignInLimits } from './sign-in-limits'

export type { UserRow } from '../repositories/users'
export interface SignedIn {
  readonly user: UserRow
  /** Has to come along with every changing request, since a foreign page cannot read it. */
  readonly csrf: string
  /** Hash of the session's token, as others hear of it. */
  readonly session: string
}

const sessionDays = 14
/** So long a session is believed without asking the database, even where nobody could tell this
 *  instance that it ended. */
const believedMs = 800
const mostBelieved = 2000

/** Accounts and who is signed in. */
export class Users {
  private readonly believed = new Map<string, { signedIn: SignedIn; until: number }>()
  private readonly limits: SignInLimits

  constructor(private readonly db: Database) {
    this.limits = new SignInLimits(db)
  }

  list = () => repository.listUsers(this.db)
  hasAny = async () => (await repository.countUsers(this.db)) > 0

  async create(account: {
    name: string
    fullName: string
    role: RoleName
    password: string
  }): Promise<UserRow> {
    const row = await made(account)
    await repository.whileAlone(this.db, async (tx, users) => {
      // Everything done is signed with the full name, so that no two may look alike.
      const same = users.find(
        ({ name, fullName }) =>
          name === row.name || looksLike(fullName) === looksLike(row.fullName),
      )
      if (same) throw refusal('user.exists', same)
      await repository.insertUser(tx, row)
    })
    return row
  }

  /** The owner of a fresh instance; refused as soon as there is any account. */
  async createOwner(account: {
    name: string
    fullName: string
    password: string
  }): Promise<UserRow> {
    const row = await made({ ...account, role: 'owner' })
    await repository.whileAlone(this.db, async (tx, users) => {
      if (users.length > 0) throw refusal('owner.exists')
      await repository.insertUser(tx, row)
    })
    return row
  }

  async change(
    id: string,
    { role, password }: { role?: RoleName; password?: string },
  ): Promise<void> {
    const set = {
      ...(role && { role }),
      ...(password !== undefined && { password: await hashed(password, []) }),
    }
    await repository.whileAlone(this.db, async (tx, users) => {
      if (role && role !== 'owner') keepAnOwner(users, id)
      if (!(await repository.updateUser(tx, id, set))) throw notFound('account')
      if (password !== undefined) await repository.deleteSessionsOf(tx, id)
      await notify(tx, { ended: { user: id } })
    })
    this.doubt({ user: id })
  }

  /** Somebody's own password; the session it is sent in goes on, all others of that account end. */
  async changeOwn(
    user: UserRow,
    token: string,
    address: string,
    { current, password }: { current: string; password: string },
  ): Promise<void> {
    await this.limits.begin(address, user.name)
    const account = await repository.findUser(this.db, user.name)
    if (!(await matches(account?.password ?? null, current))) throw refusal('password.wrong')
    await this.limits.succeeded(address, user.name)
    const set = { password: await hashed(password, [user.name, user.fullName]) }
    await this.db.transaction(async (tx) => {
      await repository.updateUser(tx, user.id, set)
      for (const session of await repository.deleteSessionsOf(tx, user.id, sessionOf(token)))
        await notify(tx, { ended: { session } })
    })
    this.doubt({ user: user.id })
  }

  async remove(id: string): Promise<void> {
    await repository.whileAlone(this.db, async (tx, users) => {
      keepAnOwner(users, id)
      if (!(await repository.deleteUser(tx, id))) throw notFound('account')
      await notify(tx, { ended: { user: id } })
    })
    this.doubt({ user: id })
  }

  /** A new session, or null where name or password is wrong. */
  async signIn(
    name: string,
    password: string,
    address: string,
  ): Promise<(SignedIn & { token: string; expiresAt: Date }) | null> {
    await this.limits.begin(address, name)
    const account = await repository.findUser(this.db, name.trim().toLowerCase())
    if (!(await matches(account?.password ?? null, password)) || !account) return null
    await this.limits.succeeded(address, name)
    const { password: _password, ...user } = account
    return { user, ...(await this.open(user.id)) }
  }

  async open(
    userId: string,
  ): Promise<{ token: string; session: string; csrf: string; expiresAt: Date }> {
    const token = randomBytes(32).toString('base64url')
    const csrf = randomBytes(24).toString('base64url')
    const expiresAt = new Date(Date.now() + sessionDays * 86_400_000)
    await repository.insertSession(this.db, { token: sessionOf(token), userId, csrf, expiresAt })
    return { token, session: sessionOf(token), csrf, expiresAt }
  }

  async signedIn(token: string): Promise<SignedIn | null> {
    const key = sessionOf(token)
    const known = this.believed.get(key)
    if (known && known.until > Date.now()) return known.signedIn
    const row = await repository.findSession(this.db, key)
    if (!row) {
      this.believed.delete(key)
      return null
    }
    const { csrf, ...user } = row
    if (this.believed.size > mostBelieved) this.believed.clear()
    const signedIn = { user, csrf, session: key }
    this.believed.set(key, { signedIn, until: Date.now() + believedMs })
    return signedIn
  }

  async signOut(token: string): Promise<void> {
    const session = sessionOf(token)
    this.believed.delete(session)
    await this.db.transaction(async (tx) => {
      await repository.deleteSession(tx, session)
      await notify(tx, { ended: { session } })
    })
  }

  /** Believes a session, or all of an account, no longer without asking. */
  doubt({ session, user }: { session?: string; user?: string }): void {
    for (const [key, { signedIn }] of this.believed)
      if (key === session || signedIn.user.id === user) this.believed.delete(key)
  }
}

/** Somebody has to be left who keeps the accounts. */
function keepAnOwner(users: readonly UserRow[], id: string): void {
  const owners = users.filter(({ role }) => role === 'owner')
  if (owners.length === 1 && owners[0]!.id === id) throw refusal('owner.last')
}

async function made({
  name,
  fullName,
  role,
  password,
}: {
  name: string
  fullName: string
  role: RoleName
  password: string
}) {
  return {
    id: newId('u-'),
    name: name.trim().toLowerCase(),
    fullName: fullName.trim() || name.trim(),
    role,
    password: await hashed(password, [name, fullName]),
  }
}
