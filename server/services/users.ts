import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { newId, type RoleName } from '@kataxis/core'
import type { Database } from '../db/connect'
import { Refused, notFound } from '../http/refused'
import * as repository from '../repositories/users'
import type { UserRow } from '../repositories/users'

export type { UserRow } from '../repositories/users'
export interface SignedIn {
  readonly user: UserRow
  /** Has to come along with every changing request, since a foreign page cannot read it. */
  readonly csrf: string
}

const sessionDays = 14
/** So long a session is believed without asking the database: a sign-out or another role is felt that much later on other instances. */
const believedMs = 5000
const mostBelieved = 2000
const shortestPassword = 8

/** Accounts and who is signed in. */
export class Users {
  private readonly believed = new Map<string, { signedIn: SignedIn; until: number }>()
  /** Compared with where there is no such account, so that both take as long. */
  private readonly nobody = hash(randomBytes(16))

  constructor(private readonly db: Database) {}

  list = () => repository.listUsers(this.db)
  hasAny = async () => (await repository.countUsers(this.db)) > 0

  async create(account: { name: string; fullName: string; role: RoleName; password: string }): Promise<UserRow> {
    const row = await made(account)
    await repository.whileAlone(this.db, async (tx, users) => {
      const same = users.find(({ name, fullName }) => name === row.name || fullName === row.fullName)
      // Everything done is signed with the full name.
      if (same) throw new Refused(409, 'user.exists', `There already is an account "${same.name}" of ${same.fullName}.`)
      await repository.insertUser(tx, row)
    })
    return row
  }

  /** The owner of a fresh instance; refused as soon as there is any account. */
  async createOwner(account: { name: string; fullName: string; password: string }): Promise<UserRow> {
    const row = await made({ ...account, role: 'owner' })
    await repository.whileAlone(this.db, async (tx, users) => {
      if (users.length > 0) throw new Refused(409, 'owner.exists', 'This instance has an owner already; sign in.')
      await repository.insertUser(tx, row)
    })
    return row
  }

  async change(id: string, { role, password }: { role?: RoleName; password?: string }): Promise<void> {
    const set = { ...(role && { role }), ...(password !== undefined && { password: await hashed(password) }) }
    await repository.whileAlone(this.db, async (tx, users) => {
      if (role && role !== 'owner') keepAnOwner(users, id)
      if (!(await repository.updateUser(tx, id, set))) throw notFound('account')
      if (password !== undefined) await repository.deleteSessionsOf(tx, id)
    })
    this.believed.clear()
  }

  /** Somebody's own password; the session it is sent in goes on, all others of that account end. */
  async changeOwn(user: UserRow, token: string, { current, password }: { current: string; password: string }): Promise<void> {
    const account = await repository.findUser(this.db, user.name)
    if (!account || !(await verify(account.password, current))) throw new Refused(422, 'password.wrong', 'The present password is wrong.')
    const set = { password: await hashed(password) }
    await this.db.transaction(async (tx) => {
      await repository.updateUser(tx, user.id, set)
      await repository.deleteSessionsOf(tx, user.id, digest(token))
    })
    this.believed.clear()
  }

  async remove(id: string): Promise<void> {
    await repository.whileAlone(this.db, async (tx, users) => {
      keepAnOwner(users, id)
      if (!(await repository.deleteUser(tx, id))) throw notFound('account')
    })
    this.believed.clear()
  }

  /** A new session, or null where name or password is wrong. */
  async signIn(name: string, password: string): Promise<(SignedIn & { token: string; expiresAt: Date }) | null> {
    const account = await repository.findUser(this.db, name.trim().toLowerCase())
    const isRight = await verify(account?.password ?? (await this.nobody), password).catch(() => false)
    if (!account || !isRight) return null
    const { password: _password, ...user } = account
    return { user, ...(await this.open(user.id)) }
  }

  async open(userId: string): Promise<{ token: string; csrf: string; expiresAt: Date }> {
    const token = randomBytes(32).toString('base64url')
    const csrf = randomBytes(24).toString('base64url')
    const expiresAt = new Date(Date.now() + sessionDays * 86_400_000)
    await repository.insertSession(this.db, { token: digest(token), userId, csrf, expiresAt })
    return { token, csrf, expiresAt }
  }

  async signedIn(token: string): Promise<SignedIn | null> {
    const key = digest(token)
    const known = this.believed.get(key)
    if (known && known.until > Date.now()) return known.signedIn
    const row = await repository.findSession(this.db, key)
    if (!row) {
      this.believed.delete(key)
      return null
    }
    const { csrf, ...user } = row
    if (this.believed.size > mostBelieved) this.believed.clear()
    this.believed.set(key, { signedIn: { user, csrf }, until: Date.now() + believedMs })
    return { user, csrf }
  }

  async signOut(token: string): Promise<void> {
    this.believed.delete(digest(token))
    await repository.deleteSession(this.db, digest(token))
  }
}

/** Somebody has to be left who keeps the accounts. */
function keepAnOwner(users: readonly UserRow[], id: string): void {
  const owners = users.filter(({ role }) => role === 'owner')
  if (owners.length === 1 && owners[0]!.id === id) throw new Refused(409, 'owner.last', 'This is the last owner; make somebody else one first.')
}

async function made({ name, fullName, role, password }: { name: string; fullName: string; role: RoleName; password: string }) {
  return { id: newId('u-'), name: name.trim().toLowerCase(), fullName: fullName.trim() || name.trim(), role, password: await hashed(password) }
}

async function hashed(password: string): Promise<string> {
  if (password.length < shortestPassword) throw new Refused(422, 'password.short', `The password has ${password.length} characters; at least ${shortestPassword} are needed.`)
  return hash(password)
}

function digest(token: string): string {
  return createHash('sha256').update(token).digest('hex')
}
