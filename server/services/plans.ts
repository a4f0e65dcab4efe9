import { promisify } from 'node:util'
import { brotliCompress, constants } from 'node:zlib'
import { applyChanges, applyCommand, bearsOnSafety, completed, faultsOfChange, faultsOfRows, filesOfPlan, invert, mend, missingOwners, netChanges, planFromRows, rowsOfPlan, supplemented, tableNames, wordFault, type Catalog, type Command, type Plan, type ProjectRow, type RowChange } from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { notFound, Refused, refusedBy } from '../http/refused'
import * as changesRepository from '../repositories/changes'
import type { ChangeEntry } from '../repositories/changes'
import { lockFiles } from '../repositories/files'
import { whileHolding } from '../repositories/locking'
import * as plansRepository from '../repositories/plans'
import * as versionsRepository from '../repositories/versions'
import { Catalogs } from './catalogs'
import { overlap } from './overlap'
import { entriesSince, follow, PlanCache, recentSince, type KeptPlan, type PlanAt } from './plan-cache'
import { takeBack } from './taking-back'

/** At a quality that costs as little as gzip and packs rows, which are much alike, three times as well. */
const pack = (text: string) => promisify(brotliCompress)(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } })

export interface Order {
  /** Made by the sender; sent twice, it is carried out once. */
  readonly commandId: string
  readonly author: string
  /** Of the sender's account, which has to be there; null: the program itself. */
  readonly userId: string | null
  /** Whether the sender may change what is fail-safe. */
  readonly mayChangeSafety: boolean
  /** What the sender had seen. */
  readonly baseRevision: number
  /** The database that the sender's plan comes from; left out: whichever this is. */
  readonly epoch?: string | undefined
}

/** Something taken back or brought again. */
export interface TakingBack extends Order {
  /** Also what others have built on it since. */
  readonly withDependents: boolean
  /** The change that the sender saw as the next one; null: whichever is. */
  readonly target: number | null
}

/** What happened since the sender last looked, and in which database. */
export interface Told {
  readonly epoch: string
  readonly entries: readonly ChangeEntry[]
}

/** So long after another instance changed a project it is likely to do so again. */
const contendedMs = 3000
/** Higher than any: nothing is known yet, and nothing is told. */
const noRevision = 2_147_483_647

type Done = Pick<ChangeEntry, 'kind' | 'target' | 'command' | 'changes'>

/** The plan with authority: every change is one transaction, one revision, one row of history, and leaves a valid plan. The plans
 *  kept in memory are a cache by revision and nothing more; several instances may share one database. */
export class Plans {
  private readonly cache: PlanCache
  private readonly turns = new Map<string, Promise<void>>()
  private readonly contended = new Map<string, number>()
  /** Files that the commands which led to a plan needed: all it names, and perhaps some that it named before. */
  private readonly files = new WeakMap<Plan, readonly string[]>()
  private readonly written = new WeakMap<Plan, { readonly revision: number; readonly bytes: Promise<Uint8Array> }>()

  constructor(
    private readonly db: Database,
    readonly catalogs: Catalogs,
  ) {
    this.cache = new PlanCache(db)
  }

  async load(projectId: string): Promise<PlanAt> {
    return this.cache.current(this.db, projectId)
  }

  async loadWithCatalog(projectId: string): Promise<PlanAt & { catalog: Catalog }> {
    const at = await this.load(projectId)
    return { ...at, catalog: supplemented(await this.catalogs.load(this.db, filesOfPlan(at.plan)), at.plan.project.supplements) }
  }

  /** A plan as whoever opens it gets it: JSON, packed. Written once a revision; a large plan takes half a second. */
  async packed(projectId: string): Promise<Uint8Array> {
    const { plan, revision, epoch, damage } = await this.load(projectId)
    const known = this.written.get(plan)
    if (known?.revision === revision) return known.bytes
    const bytes = pack(JSON.stringify({ epoch, revision, damage: damage.slice(0, 100).map(wordFault), project: plan.project, ...rowsOfPlan(plan) }))
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

  /** A whole valid plan as a new project; its history begins there. */
  async import(plan: Plan, revision: number): Promise<void> {
    const rows = rowsOfPlan(plan)
    const [fault] = faultsOfRows(rows)
    if (fault) throw refusedBy({ code: 'plan.invalid', fault })
    await this.db.transaction(async (tx) => {
      if (!(await plansRepository.insertProject(tx, plan.project, revision))) throw new Refused(409, 'project.exists', `There already is a project "${plan.project.id}".`)
      for (const table of tableNames) await plansRepository.putRows(tx, plan.project.id, table, rows[table])
    })
  }

  /** Carries a command out and gives everything that happened since the sender last looked, its own change included. */
  async execute(projectId: string, order: Order, command: Command): Promise<Told> {
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

  /** The common case in one statement: the plan in memory is the newest, nobody is in the way, the change is small and names no new file.
   *  Null where any of this is not so; then the long way finds out what to say. */
  private async atOnce(projectId: string, order: Order, command: Command): Promise<Told | null> {
    const at = this.isContended(projectId) ? undefined : this.cache.peek(projectId)
    const since = at && at.damage.length === 0 && (order.epoch ?? at.epoch) === at.epoch ? recentSince(at, order.baseRevision) : null
    if (!at || !since || since.some(({ commandId }) => commandId === order.commandId)) return null
    const applied = await this.apply(this.db, at.plan, command)
    if (!applied.ok || addedFiles(at.plan, applied.plan, applied.changes).length > 0) return null
    if ((await this.isForbidden(this.db, order, at.plan, applied.plan, applied.changes)) || overlap(since.filter(({ author }) => author !== order.author), applied.changes)) return null
    const { commandId, author, userId } = order
    const own = await changesRepository.recordAtOnce(this.db, { projectId, revision: at.revision + 1, commandId, author, kind: 'do', target: null, command, changes: applied.changes }, { epoch: at.epoch, userId })
    if (!own) return null
    this.cache.keep(projectId, follow(at, applied.plan, [own]))
    return { epoch: at.epoch, entries: [...since, own] }
  }

  async undo(projectId: string, order: TakingBack): Promise<Told> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { plan }) => {
      const target = await changesRepository.lastDone(tx, projectId, order.author)
      if (!target) throw refusedBy({ code: 'undo.nothing' })
      if (order.target !== null && order.target !== target.revision) throw refusedBy({ code: 'undo.moved' })
      const changes = await takeBack(tx, plan, invert(completed(target.changes)), { projectId, way: 'undo', target: target.revision, withDependents: order.withDependents })
      await changesRepository.setUndone(tx, projectId, target.revision, true)
      return { kind: 'undo', target: target.revision, command: target.command, changes }
    }))
  }

  /** Takes the undo back, with all that went with it. */
  async redo(projectId: string, order: TakingBack): Promise<Told> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { plan }) => {
      const target = await changesRepository.firstUndone(tx, projectId, order.author)
      if (!target) throw refusedBy({ code: 'redo.nothing' })
      if (order.target !== null && order.target !== target.revision) throw refusedBy({ code: 'undo.moved' })
      const undo = await changesRepository.undoOf(tx, projectId, target.revision)
      const recorded = undo ? invert(completed(undo.changes)) : completed(target.changes)
      const changes = await takeBack(tx, plan, recorded, { projectId, way: 'redo', target: undo?.revision ?? target.revision, withDependents: order.withDependents }).catch((error: unknown) => {
        // Who agrees names the change as it was offered.
        throw error instanceof Refused && error.extra.refusal?.code === 'undo.blocked' ? refusedBy({ ...error.extra.refusal, target: target.revision }) : error
      })
      await changesRepository.setUndone(tx, projectId, target.revision, false)
      return { kind: 'redo', target: target.revision, command: target.command, changes }
    }))
  }

  /** Everything after a revision; refused where the sender's plan comes from another database. */
  async changesSince(projectId: string, revision: number): Promise<Told> {
    const head = await plansRepository.findProject(this.db, projectId)
    if (!head) throw notFound('project')
    return { epoch: head.epoch, entries: await changesRepository.changesSince(this.db, projectId, revision) }
  }

  async history(projectId: string, limit: number, before: number | null) {
    return changesRepository.history(this.db, projectId, limit, before)
  }

  /** Makes the plan what it was at a revision, as a new change: what came since stays in the history. */
  async backTo(projectId: string, order: TakingBack, revision: number): Promise<Told> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { plan, revision: now }) => {
      const recorded = invert(await this.netBetween(tx, projectId, revision, now))
      if (recorded.length === 0) throw new Refused(409, 'history.same', 'The plan is already as it was then.')
      const changes = await takeBack(tx, plan, recorded, { projectId, way: 'back', target: revision, withDependents: order.withDependents })
      return { kind: 'back', target: revision, command: null, changes }
    }))
  }

  /** Puts the rows of a damaged project in order: owners come back from the history, what has no place goes or waits. */
  async repair(projectId: string, order: Order): Promise<Told> {
    return this.inTurn(projectId, () => this.change(projectId, order, async (tx, { damage }) => {
      if (damage.length === 0) throw new Refused(409, 'plan.sound', 'There is nothing to repair; the project is in order.')
      const rows = await plansRepository.loadRows(tx, projectId)
      const remembered = new Map<string, never>()
      for (let missing = missingOwners(rows, { remembered }); missing.length > 0; missing = missingOwners(rows, { remembered })) {
        const found = await changesRepository.rememberedRows(tx, projectId, missing)
        if (found.size === 0) break
        for (const [key, row] of found) remembered.set(key, row as never)
      }
      const mended = mend(rows, { remembered })
      const project = (await plansRepository.findProject(tx, projectId))!.project
      return { kind: 'repair', target: null, command: null, changes: mended.changes, plan: planFromRows(project, mended.rows) }
    }, { repairs: true }))
  }

  /** Projects whose rows make no valid plan. */
  damaged(): Promise<string[]> {
    return plansRepository.damagedProjects(this.db)
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

  /** The way of every change: alone with the project, against the newest plan, kept only if it leaves a valid one. */
  private async change(projectId: string, order: Order, work: (tx: Connection, at: KeptPlan) => Promise<Done & { plan?: Plan }>, { repairs = false } = {}): Promise<Told> {
    const known = this.cache.peek(projectId)
    const done = await whileHolding(this.db, projectId, { userId: order.userId, known: known?.revision ?? noRevision }, async (tx, held) => {
      if (!held) throw notFound('project')
      const at = await this.cache.whileHeld(tx, projectId, held)
      this.note(projectId, known, at)
      if (!held.hasAccount) throw new Refused(401, 'session.missing', 'Your account is no longer there.')
      if (order.epoch !== undefined && order.epoch !== at.epoch) throw new Refused(409, 'epoch.other', 'The database was restored from a backup since your plan was loaded; nothing was changed.')
      const since = [...(await entriesSince(tx, projectId, at, order.baseRevision))]
      if (since.some(({ commandId }) => commandId === order.commandId)) return { entries: since, at }
      if (at.damage.length > 0 && !repairs) throw new Refused(409, 'plan.damaged', `The project is damaged and can only be read: ${wordFault(at.damage[0]!)} Repair it first.`)
      const { plan = null, ...entry } = await work(tx, at)
      // What is taken back was compared with the rows themselves.
      const clash = entry.kind === 'do' ? overlap(since.filter(({ author }) => author !== order.author), entry.changes) : null
      if (clash) throw refusedBy({ code: 'row.changed', ...clash })
      // A command was looked at as it was applied; a repair is about rows that no plan holds.
      const [fault] = entry.kind === 'do' || repairs ? [] : faultsOfChange(at.plan, entry.changes)
      if (fault) throw refusedBy({ code: 'plan.invalid', fault })
      const after = plan ?? applyChanges(at.plan, entry.changes)
      if (entry.kind === 'do') await this.holdFiles(tx, addedFiles(at.plan, after, entry.changes))
      if (await this.isForbidden(tx, order, at.plan, after, entry.changes)) throw new Refused(403, 'role.safety', 'This touches a fail-safe module, its address or its parameters; only a safety engineer or an owner may.')
      const revision = at.revision + 1
      const own = await changesRepository.recordChange(tx, { ...entry, projectId, revision, commandId: order.commandId, author: order.author })
      return { entries: [...since, own], at: { ...follow(at, after, [own]), damage: [] } }
    }).catch(async (error: unknown) => {
      if (await changesRepository.isCarriedOut(this.db, projectId, order.commandId)) return null
      throw error
    })
    // What was carried out before, and seen by its sender since, is refused by the rows themselves; it is only told again.
    if (!done) return this.changesSince(projectId, order.baseRevision)
    this.cache.keep(projectId, done.at)
    return { epoch: done.at.epoch, entries: done.entries }
  }

  /** Remembers when another instance changed a project: then this one waits for its turn instead of trying its luck. */
  private note(projectId: string, known: KeptPlan | undefined, at: KeptPlan): void {
    if (known && known.epoch === at.epoch && known.revision < at.revision) this.contended.set(projectId, Date.now())
  }

  private isContended(projectId: string): boolean {
    return Date.now() - (this.contended.get(projectId) ?? 0) < contendedMs
  }

  /** Description files that a change newly refers to stay on the Shelf until it is done; one that has gone is told. */
  private async holdFiles(tx: Connection, added: readonly string[]): Promise<void> {
    if (added.length === 0) return
    const held = await lockFiles(tx, added)
    const missing = added.find((file) => !held.has(file))
    if (missing === undefined) return
    this.catalogs.forget(missing)
    throw refusedBy({ code: 'file.missing', file: missing })
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
}

/** Files that a plan refers to and did not before. */
function addedFiles(before: Plan, after: Plan, changes: readonly RowChange[]): string[] {
  if (changes.every(({ table }) => table === 'signals' || table === 'controllers' || table === 'networks')) return []
  const known = new Set(filesOfPlan(before))
  return filesOfPlan(after).filter((file) => !known.has(file))
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
