import { promisify } from 'node:util'
import { brotliCompress, constants } from 'node:zlib'
import { applyChanges, applyCommand, bearsOnSafety, completed, conflictsWith, filesOfPlan, invert, netChanges, rowsOfPlan, supplemented, tableNames, type Catalog, type Command, type Plan, type ProjectRow, type RowChange } from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { notFound, Refused, refusedBy } from '../http/refused'
import * as changesRepository from '../repositories/changes'
import type { ChangeEntry } from '../repositories/changes'
import * as plansRepository from '../repositories/plans'
import * as versionsRepository from '../repositories/versions'
import { Catalogs } from './catalogs'
import { overlap } from './overlap'

/** At a quality that costs as little as gzip and packs rows, which are much alike, three times as well. */
const pack = (text: string) => promisify(brotliCompress)(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } })

/** Plans in memory at once. */
const mostKept = 50

export interface Order {
  /** Made by the sender; sent twice, it is carried out once. */
  readonly commandId: string
  readonly author: string
  /** Whether the sender may change what is fail-safe. */
  readonly mayChangeSafety: boolean
  /** What the sender had seen. */
  readonly baseRevision: number
}

export interface PlanAt {
  readonly plan: Plan
  readonly revision: number
}

/** With the last changes, one a revision and ending at it, so that who looked a moment ago is told without asking the database. */
interface KeptPlan extends PlanAt {
  readonly recent: readonly ChangeEntry[]
}
const mostRecent = 500

/** The plan with authority: every change is one transaction, one revision, one row of history. The plans kept in memory
 *  are a cache by revision and nothing more; several instances may share one database. */
export class Plans {
  private readonly kept = new Map<string, KeptPlan>()
  private readonly turns = new Map<string, Promise<void>>()
  /** Files that the commands which led to a plan needed: all it names, and perhaps some that it named before. */
  private readonly files = new WeakMap<Plan, readonly string[]>()
  private readonly written = new WeakMap<Plan, { readonly revision: number; readonly bytes: Promise<Uint8Array> }>()

  constructor(
    private readonly db: Database,
    readonly catalogs: Catalogs,
  ) {}

  async load(projectId: string): Promise<PlanAt> {
    return this.current(this.db, projectId, false)
  }

  async loadWithCatalog(projectId: string): Promise<PlanAt & { catalog: Catalog }> {
    const at = await this.load(projectId)
    return { ...at, catalog: supplemented(await this.catalogs.load(this.db, filesOfPlan(at.plan)), at.plan.project.supplements) }
  }

  /** A plan as whoever opens it gets it: JSON, packed. Written once a revision; a large plan takes half a second. */
  async packed(projectId: string): Promise<Uint8Array> {
    const { plan, revision } = await this.load(projectId)
    const known = this.written.get(plan)
    if (known?.revision === revision) return known.bytes
    const bytes = pack(JSON.stringify({ revision, project: plan.project, ...rowsOfPlan(plan) }))
    this.written.set(plan, { revision, bytes })
    return bytes
  }

  /** Reads and writes the plans that were begun last, so that the first one to open them does not wait for it. */
  async warm(most: number): Promise<void> {
    const latest = (await plansRepository.listProjects(this.db)).slice(-most)
    for (const { id } of latest) {
      await this.loadWithCatalog(id)
      await this.packed(id)
    }
  }

  async create(project: ProjectRow): Promise<void> {
    if (!(await plansRepository.insertProject(this.db, project, 0))) throw new Refused(409, 'project.exists', `There already is a project "${project.id}".`)
  }

  /** A whole plan as a new project; its history begins there. */
  async import(plan: Plan, revision: number): Promise<void> {
    await this.db.transaction(async (tx) => {
      if (!(await plansRepository.insertProject(tx, plan.project, revision))) throw new Refused(409, 'project.exists', `There already is a project "${plan.project.id}".`)
      const rows = rowsOfPlan(plan)
      for (const table of tableNames) await plansRepository.putRows(tx, plan.project.id, table, rows[table])
    })
  }

  /** Carries a command out and gives everything that happened since the sender last looked, its own change included. */
  async execute(projectId: string, order: Order, command: Command): Promise<ChangeEntry[]> {
    return this.inTurn(projectId, async () => (await this.atOnce(projectId, order, command)) ?? this.change(projectId, order, async (tx, { plan }) => {
      const applied = await this.apply(tx, plan, command)
      if (!applied.ok) throw refusedBy(applied.refusal)
      return { kind: 'do', target: null, command, changes: applied.changes, plan: applied.plan }
    }))
  }

  private async apply(db: Connection, plan: Plan, command: Command) {
    const files = [...new Set([...this.filesOf(plan), ...filesOfCommand(command)])]
    const applied = applyCommand(plan, supplemented(await this.catalogs.load(db, files), plan.project.supplements), command)
    if (applied.ok) this.files.set(applied.plan, files)
    return applied
  }

  /** The common case in one statement: the plan in memory is the newest, nobody is in the way, and the change is small. Null where
   *  any of this is not so; then the long way finds out what to say. */
  private async atOnce(projectId: string, order: Order, command: Command): Promise<ChangeEntry[] | null> {
    const at = this.kept.get(projectId)
    const since = at && recentSince(at, order.baseRevision)
    if (!since || since.some(({ commandId }) => commandId === order.commandId)) return null
    const applied = await this.apply(this.db, at.plan, command)
    if (!applied.ok || (await this.isForbidden(this.db, order, at.plan, applied.plan, applied.changes)) || overlap(since.filter(({ author }) => author !== order.author), applied.changes)) return null
    const own = await changesRepository.recordAtOnce(this.db, { projectId, revision: at.revision + 1, commandId: order.commandId, author: order.author, kind: 'do', target: null, command, changes: applied.changes })
    if (!own) return null
    this.keep(projectId, follow(at, applied.plan, [own]))
    return [...since, own]
  }

  /** One change of a project after the other within this process; other instances meet in the database. */
  private async inTurn<T>(projectId: string, work: () => Promise<T>): Promise<T> {
    const before = this.turns.get(projectId) ?? Promise.resolve()
    const mine = before.then(work, work)
    const settled = mine.then(() => undefined, () => undefined)
    this.turns.set(projectId, settled)
    try {
      return await mine
    } finally {
      if (this.turns.get(projectId) === settled) this.turns.delete(projectId)
    }
  }

  async undo(projectId: string, order: Order): Promise<ChangeEntry[]> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { plan }) => {
      const target = await changesRepository.lastDone(tx, projectId, order.author)
      if (!target) throw refusedBy({ code: 'undo.nothing' })
      await changesRepository.setUndone(tx, projectId, target.revision, true)
      return { kind: 'undo', target: target.revision, command: target.command, ...again(plan, invert(completed(target.changes))) }
    }))
  }

  async redo(projectId: string, order: Order): Promise<ChangeEntry[]> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { plan }) => {
      const target = await changesRepository.firstUndone(tx, projectId, order.author)
      if (!target) throw refusedBy({ code: 'redo.nothing' })
      await changesRepository.setUndone(tx, projectId, target.revision, false)
      return { kind: 'redo', target: target.revision, command: target.command, ...again(plan, completed(target.changes)) }
    }))
  }

  async changesSince(projectId: string, revision: number): Promise<ChangeEntry[]> {
    return changesRepository.changesSince(this.db, projectId, revision)
  }

  async history(projectId: string, limit: number, before: number | null) {
    return changesRepository.history(this.db, projectId, limit, before)
  }

  /** Makes the plan what it was at a revision, as a new change: what came since stays in the history. */
  async backTo(projectId: string, order: Order, revision: number): Promise<ChangeEntry[]> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { plan, revision: now }) => {
      const changes = invert(await this.netBetween(tx, projectId, revision, now))
      if (changes.length === 0) throw new Refused(409, 'history.same', 'The plan is already as it was then.')
      return { kind: 'back', target: revision, command: null, changes, plan: applyChanges(plan, changes) }
    }))
  }

  /** What became of each row between two revisions. */
  async difference(projectId: string, from: number, to: number): Promise<RowChange[]> {
    return this.netBetween(this.db, projectId, from, to)
  }

  /** Gives the plan as it is now a name. */
  async nameVersion(projectId: string, author: string, name: string): Promise<void> {
    const { revision } = await this.load(projectId)
    if (!(await versionsRepository.insertVersion(this.db, { projectId, name, revision, author }))) throw new Refused(409, 'version.exists', `There already is a version "${name}".`)
  }

  async versions(projectId: string): Promise<versionsRepository.Version[]> {
    return versionsRepository.listVersions(this.db, projectId)
  }

  async forgetVersion(projectId: string, name: string): Promise<void> {
    if (!(await versionsRepository.deleteVersion(this.db, projectId, name))) throw notFound('version')
  }

  /** Whether a change touches what is fail-safe, and its sender may not. */
  private async isForbidden(db: Connection, { mayChangeSafety }: Order, before: Plan, after: Plan, changes: readonly RowChange[]): Promise<boolean> {
    if (mayChangeSafety) return false
    const files = new Set(changes.flatMap((change) => filesTouched(before, after, change)))
    return bearsOnSafety(before, after, await this.catalogs.load(db, files), changes)
  }

  private filesOf(plan: Plan): readonly string[] {
    return this.files.get(plan) ?? filesOfPlan(plan)
  }

  private async netBetween(db: Connection, projectId: string, from: number, to: number): Promise<RowChange[]> {
    const steps = (await changesRepository.changesSince(db, projectId, from)).filter(({ revision }) => revision <= to)
    if (from > to || steps.length !== to - from) throw new Refused(404, 'history.missing', `The history does not reach from revision ${from} to ${to}.`)
    return netChanges(steps.map(({ changes }) => completed(changes)))
  }

  private async change(
    projectId: string,
    order: Order,
    work: (tx: Connection, at: PlanAt) => Promise<Pick<ChangeEntry, 'kind' | 'target' | 'command' | 'changes'> & { plan: Plan }>,
  ): Promise<ChangeEntry[]> {
    const done = await this.db.transaction(async (tx) => {
      const at = await this.current(tx, projectId, true)
      const since = [...await entriesSince(tx, projectId, at, order.baseRevision)]
      if (since.some(({ commandId }) => commandId === order.commandId)) return { entries: since, at }
      const { plan, ...entry } = await work(tx, at)
      const clash = overlap(since.filter(({ author }) => author !== order.author), entry.changes)
      if (clash) throw refusedBy({ code: 'row.changed', ...clash })
      if (await this.isForbidden(tx, order, at.plan, plan, entry.changes)) throw new Refused(403, 'role.safety', 'This touches a fail-safe module, its address or its parameters; only a safety engineer or an owner may.')
      const revision = at.revision + 1
      const own = await changesRepository.recordChange(tx, { ...entry, projectId, revision, commandId: order.commandId, author: order.author })
      return { entries: [...since, own], at: follow(at, plan, [own]) }
    }).catch(async (error: unknown) => {
      if (await changesRepository.isCarriedOut(this.db, projectId, order.commandId)) return null
      throw error
    })
    // What was carried out before, and seen by its sender since, is refused by the rows themselves; it is only told again.
    if (!done) return this.changesSince(projectId, order.baseRevision)
    this.keep(projectId, done.at)
    return done.entries
  }

  /** The plan at the database's revision: kept, caught up with, or loaded. */
  private async current(db: Connection, projectId: string, lock: boolean): Promise<KeptPlan> {
    const head = await plansRepository.findProject(db, projectId, lock)
    if (!head) throw notFound('project')
    const kept = this.kept.get(projectId)
    if (kept?.revision === head.revision) return kept
    const at = kept && kept.revision < head.revision ? await this.catchUp(db, projectId, kept, head.revision) : null
    // Under the project's lock nobody else writes; without it rows and revision need one snapshot.
    const current = at ?? (lock ? { revision: head.revision, plan: await plansRepository.loadPlan(db, head.project), recent: [] } : await this.loadAll(projectId))
    this.keep(projectId, current)
    return current
  }

  private async catchUp(db: Connection, projectId: string, kept: KeptPlan, revision: number): Promise<KeptPlan | null> {
    const missed = (await changesRepository.changesSince(db, projectId, kept.revision)).filter((entry) => entry.revision <= revision)
    if (missed.length !== revision - kept.revision) return null
    return follow(kept, missed.reduce((plan, entry) => applyChanges(plan, entry.changes), kept.plan), missed)
  }

  private async loadAll(projectId: string): Promise<KeptPlan> {
    return this.db.transaction(async (tx) => {
      const head = await plansRepository.findProject(tx, projectId)
      if (!head) throw notFound('project')
      return { revision: head.revision, plan: await plansRepository.loadPlan(tx, head.project), recent: [] }
    }, { isolationLevel: 'repeatable read' })
  }

  private keep(projectId: string, at: KeptPlan): void {
    const known = this.kept.get(projectId)
    if (known && known.revision > at.revision) return
    // Set anew, so that the plan that was used longest ago stands first and goes first.
    this.kept.delete(projectId)
    this.kept.set(projectId, at)
    const [oldest] = this.kept.keys()
    if (this.kept.size > mostKept && oldest !== undefined) this.kept.delete(oldest)
  }
}

/** The plan after the next entries. */
function follow({ recent }: KeptPlan, plan: Plan, entries: readonly ChangeEntry[]): KeptPlan {
  return { plan, revision: entries.at(-1)!.revision, recent: [...recent, ...entries].slice(-mostRecent) }
}

async function entriesSince(db: Connection, projectId: string, { revision, recent }: KeptPlan, base: number): Promise<readonly ChangeEntry[]> {
  return recentSince({ revision, recent }, base) ?? changesRepository.changesSince(db, projectId, base)
}

/** What happened since, as far as memory reaches; null where it does not. */
function recentSince({ revision, recent }: Pick<KeptPlan, 'revision' | 'recent'>, base: number): readonly ChangeEntry[] | null {
  if (base >= revision) return []
  return recent[0] && recent[0].revision <= base + 1 ? recent.filter((entry) => entry.revision > base) : null
}

/** Does recorded changes once more, if the rows still look as they were then. */
function again(plan: Plan, changes: RowChange[]): { changes: RowChange[]; plan: Plan } {
  const [conflict] = conflictsWith(plan, changes)
  if (conflict) throw refusedBy({ code: 'row.changed', what: 'the same place', by: 'A later change' })
  return { changes, plan: applyChanges(plan, changes) }
}

/** Description files of the stations that a change is about, with those below their ports. */
function filesTouched(before: Plan, after: Plan, change: RowChange): string[] {
  const ids = change.table === 'stations' ? [change.id] : change.table === 'modules' ? [change.before, change.after].flatMap((row) => (row ? [row.stationId] : [])) : []
  return ids.flatMap((id) => [before, after].flatMap((plan) => (plan.stations[id] ? filesOfPlan({ ...plan, stations: { [id]: plan.stations[id] } }) : [])))
}

function filesOfCommand(command: Command): string[] {
  const singles = command.type === 'batch' ? command.commands : [command]
  return singles.flatMap((single) => [
    ...('file' in single && single.file !== '' ? [single.file] : []),
    ...(single.type === 'setProject' ? (single.set as Partial<ProjectRow>).supplements ?? [] : []),
    ...('plugged' in single && single.plugged ? Object.values(single.plugged).flatMap(({ file }) => (file === '' ? [] : [file])) : []),
  ])
}
