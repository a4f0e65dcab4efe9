import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { liftCommand, type Command } from '@kataxis/core'
import type { ChangeEntry } from '../api/client'

export type Action =
  | { readonly kind: 'command'; readonly command: Command }
  | {
      readonly kind: 'undo' | 'redo'
      readonly withDependents?: boolean
      readonly skip?: boolean
      readonly target?: number
    }
  | { readonly kind: 'back'; readonly revision: number; readonly withDependents?: boolean }

/** Something done in this browser that the server has not confirmed. */
export interface Pending {
  readonly commandId: string
  /** The plan that it was meant for: where it stood, and in which database. */
  readonly baseRevision: number
  readonly epoch: string
  readonly action: Action
}

/** Whose work it is, and in which window it was done. */
export interface Owner {
  readonly project: string
  readonly user: string
  readonly tab: string
}

interface PendingRow extends Pending, Owner {
  /** In the order in which they were done. */
  readonly order: number
  readonly userName: string
}

/** Something that could not be carried out, kept until somebody decides. */
export interface SetAside {
  readonly commandId: string
  readonly project: string
  readonly user: string
  readonly action: Action
  readonly reason: string
  readonly at: string
}

/** The last plan that this browser saw, as the server sent it. */
interface StoredPlan {
  readonly project: string
  readonly text: string
}

interface Schema extends DBSchema {
  pending: { key: string; value: PendingRow; indexes: { project: string } }
  aside: { key: string; value: SetAside; indexes: { project: string } }
  plans: { key: string; value: StoredPlan }
  changes: {
    key: [string, number]
    value: { project: string; revision: number; entry: ChangeEntry }
  }
  catalogs: { key: string; value: { sha256: string; packed: string } }
}

const mostPlans = 5

let opened: Promise<IDBPDatabase<Schema>> | null = null
function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('kataxis', 2, {
    upgrade(db, oldVersion, _, change) {
      if (oldVersion > 0) {
        // Plans whose networks have no settings yet: the server has them as they are now.
        void change.objectStore('plans').clear()
        void change.objectStore('changes').clear()
        return
      }
      db.createObjectStore('pending', { keyPath: 'commandId' }).createIndex('project', 'project')
      db.createObjectStore('aside', { keyPath: 'commandId' }).createIndex('project', 'project')
      db.createObjectStore('plans', { keyPath: 'project' })
      db.createObjectStore('changes', { keyPath: ['project', 'revision'] })
      db.createObjectStore('catalogs', { keyPath: 'sha256' })
    },
  }).catch((error: unknown) => {
    opened = null
    throw error
  })
  return opened
}

/** Missing where a page is served over plain HTTP from elsewhere, and outside browsers. */
const locks = () =>
  (globalThis.navigator as Navigator | undefined)?.locks as LockManager | undefined

/** The window is alive as long as it holds the lock of its name, whatever happens to it. */
export const tabId = crypto.randomUUID()
const lockOf = (tab: string) => `kataxis.tab.${tab}`
// Held until the page goes: the promise never ends.
void locks()
  ?.request(lockOf(tabId), () => new Promise<never>(() => undefined))
  .catch(() => undefined)

async function livingTabs(): Promise<ReadonlySet<string>> {
  const { held = [] } = (await locks()?.query()) ?? {}
  return new Set([
    tabId,
    ...held.flatMap(({ name }) =>
      name?.startsWith(lockOf('')) ? [name.slice(lockOf('').length)] : [],
    ),
  ])
}

let order = Date.now()

/** Unconfirmed work outlives the page. Whoever calls goes on whether or not it could be kept. */
export async function keepPending(owner: Owner, userName: string, pending: Pending): Promise<void> {
  order = Math.max(order + 1, Date.now())
  await (await database()).put('pending', { ...pending, ...owner, userName, order })
}

export async function forgetPending(commandId: string): Promise<void> {
  await (await database()).delete('pending', commandId)
}

/** What somebody left unsent in a project, of windows that are gone: it becomes this window's, one
 *  window at a time. With what this window left there itself, where it comes back to the project. */
export async function takeOverPending(
  { project, user, tab }: Owner,
  withOwn: boolean,
): Promise<Pending[]> {
  return whileAlone('kataxis.take-over', async () => {
    const db = await database()
    const living = await livingTabs()
    const left = (await db.getAllFromIndex('pending', 'project', project)).filter(
      (row) => row.user === user && (!living.has(row.tab) || (withOwn && row.tab === tab)),
    )
    for (const row of left) await db.put('pending', { ...row, tab })
    return left
      .sort((a, b) => a.order - b.order)
      .map(({ commandId, baseRevision, epoch, action }) => ({
        commandId,
        baseRevision,
        epoch,
        action: inWordsOfToday(action),
      }))
  })
}

/** What an older program left here. */
function inWordsOfToday(action: Action): Action {
  return action.kind === 'command'
    ? { ...action, command: liftCommand(action.command) as Command }
    : action
}

/** Names of others whose unsent work waits in this browser, with how much it is. */
export async function pendingOfOthers(
  project: string,
  user: string,
): Promise<{ name: string; count: number }[]> {
  const counts = new Map<string, number>()
  for (const row of await (await database()).getAllFromIndex('pending', 'project', project))
    if (row.user !== user) counts.set(row.userName, (counts.get(row.userName) ?? 0) + 1)
  return [...counts].map(([name, count]) => ({ name, count }))
}

export async function setAside(entry: SetAside): Promise<void> {
  const db = await database()
  const change = db.transaction(['aside', 'pending'], 'readwrite')
  await Promise.all([
    change.objectStore('aside').put(entry),
    change.objectStore('pending').delete(entry.commandId),
    change.done,
  ])
}

export async function asideOf(project: string, user: string): Promise<SetAside[]> {
  const all = await (await database()).getAllFromIndex('aside', 'project', project)
  return all
    .filter((entry) => entry.user === user)
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map((entry) => ({ ...entry, action: inWordsOfToday(entry.action) }))
}

export async function forgetAside(commandId: string): Promise<void> {
  await (await database()).delete('aside', commandId)
}

/** Keeps a plan as it came, for a start without the server; of others only the latest stay. */
export async function keepPlan(project: string, text: string): Promise<void> {
  const db = await database()
  await forgetChanges(project)
  await db.put('plans', { project, text })
  const others = (await db.getAllKeys('plans')).filter((key) => key !== project)
  for (const key of others.slice(0, Math.max(0, others.length + 1 - mostPlans))) {
    await db.delete('plans', key)
    await forgetChanges(key)
  }
}

/** What happened to it since. */
export async function keepChange(project: string, entry: ChangeEntry): Promise<void> {
  await (await database()).put('changes', { project, revision: entry.revision, entry })
}

export async function storedPlan(
  project: string,
): Promise<{ text: string; entries: ChangeEntry[] } | null> {
  const db = await database()
  const plan = await db.get('plans', project)
  if (!plan) return null
  const changes = await db.getAll('changes', IDBKeyRange.bound([project, 0], [project, Infinity]))
  return { text: plan.text, entries: changes.map(({ entry }) => entry) }
}

export async function keepCatalog(sha256: string, packed: string): Promise<void> {
  await (await database()).put('catalogs', { sha256, packed })
}

export async function storedCatalog(sha256: string): Promise<string | null> {
  return (await (await database()).get('catalogs', sha256))?.packed ?? null
}

async function forgetChanges(project: string): Promise<void> {
  await (await database()).delete('changes', IDBKeyRange.bound([project, 0], [project, Infinity]))
}

async function whileAlone<T>(name: string, work: () => Promise<T>): Promise<T> {
  const one = locks()
  return one ? one.request(name, work) : work()
}
