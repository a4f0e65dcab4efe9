import { promisify } from 'node:util'
import { brotliCompress, constants } from 'node:zlib'
import {
  completed,
  faultsOfRows,
  filesOfPlan,
  invert,
  mend,
  missingOwners,
  netChanges,
  planFromRows,
  rowsOfPlan,
  supplemented,
  tableNames,
  wordFault,
  type Catalog,
  type Command,
  type Plan,
  type ProjectRow,
  type RowChange,
} from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { notFound, Refused, refusedBy } from './refused'
import * as changesRepository from '../repositories/changes'
import { history, type HistoryAsked } from '../repositories/history'
import * as plansRepository from '../repositories/plans'
import * as versionsRepository from '../repositories/versions'
import { Catalogs } from './catalogs'
import { Changing, type Order, type TakingBack } from './changing'
import { PlanCache, recentSince, type PlanAt } from './plan-cache'
import { takeBack } from './taking-back'
import { toldSince, type Told } from './told'

/** At a quality that costs as little as gzip and packs rows, which are much alike, three times as
 *  well. */
const pack = (text: string) =>
  promisify(brotliCompress)(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } })

/** The plan with authority: every change is one transaction, one revision, one row of history, and
 *  leaves a valid plan. The plans kept in memory are a cache by revision and nothing more; several
 *  instances may share one database. */
export class Plans {
  private readonly cache: PlanCache
  private readonly changing: Changing
  private readonly written = new WeakMap<
    Plan,
    { readonly revision: number; readonly bytes: Promise<Uint8Array> }
  >()

  constructor(
    private readonly db: Database,
    readonly catalogs: Catalogs,
  ) {
    this.cache = new PlanCache(db)
    this.changing = new Changing(db, this.cache, catalogs)
  }

  async load(projectId: string): Promise<PlanAt> {
    return this.cache.current(this.db, projectId)
  }

  async loadWithCatalog(projectId: string): Promise<PlanAt & { catalog: Catalog }> {
    const at = await this.load(projectId)
    return {
      ...at,
      catalog: supplemented(
        await this.catalogs.load(this.db, filesOfPlan(at.plan)),
        at.plan.project.supplements,
      ),
    }
  }

  /** A plan as whoever opens it gets it: JSON, packed. Written once a revision; a large plan takes
   *  half a second. */
  async packed(projectId: string): Promise<Uint8Array> {
    const { plan, revision, epoch, damage } = await this.load(projectId)
    const known = this.written.get(plan)
    if (known?.revision === revision) return known.bytes
    const bytes = pack(
      JSON.stringify({
        epoch,
        revision,
        damage: damage.slice(0, 100).map(wordFault),
        project: plan.project,
        ...rowsOfPlan(plan),
      }),
    )
    this.written.set(plan, { revision, bytes })
    return bytes
  }

  /** Reads and writes the plans that were begun last, so that the first one to open them does not
   *  wait for it. */
  async warm(most: number): Promise<void> {
    const latest = (await plansRepository.listProjects(this.db)).slice(-most)
    for (const { id } of latest) {
      await this.loadWithCatalog(id)
      await this.packed(id)
    }
  }

  async create(project: ProjectRow): Promise<void> {
    if (!(await plansRepository.insertProject(this.db, project, 0)))
      throw new Refused('conflict', 'project.exists', `There already is a project "${project.id}".`)
  }

  /** A whole valid plan as a new project; its history begins there. */
  async import(plan: Plan, revision: number): Promise<void> {
    const rows = rowsOfPlan(plan)
    const [fault] = faultsOfRows(rows)
    if (fault) throw refusedBy({ code: 'plan.invalid', fault })
    await this.db.transaction(async (tx) => {
      if (!(await plansRepository.insertProject(tx, plan.project, revision)))
        throw new Refused(
          'conflict',
          'project.exists',
          `There already is a project "${plan.project.id}".`,
        )
      for (const table of tableNames)
        await plansRepository.putRows(tx, plan.project.id, table, rows[table])
    })
  }

  /** Carries a command out and gives everything that happened since the sender last looked, its own
   *  change included. */
  async execute(projectId: string, order: Order, command: Command): Promise<Told> {
    return this.changing.ask(projectId, { order, command })
  }

  async undo(projectId: string, order: TakingBack): Promise<Told> {
    return this.changing.ask(projectId, {
      order,
      work: async (tx, { plan }) => {
        const target = await changesRepository.lastDone(tx, projectId, order.author)
        if (!target) throw refusedBy({ code: 'undo.nothing' })
        if (order.target !== null && order.target !== target.revision)
          throw refusedBy({ code: 'undo.moved' })
        const changes = order.skip
          ? []
          : await takeBack(tx, plan, invert(completed(target.changes)), {
              projectId,
              way: 'undo',
              target: target.revision,
              withDependents: order.withDependents,
            })
        await changesRepository.setUndone(tx, projectId, target.revision, true)
        return { kind: 'undo', target: target.revision, command: target.command, changes }
      },
    })
  }

  /** Takes the undo back, with all that went with it. */
  async redo(projectId: string, order: TakingBack): Promise<Told> {
    return this.changing.ask(projectId, {
      order,
      work: async (tx, { plan }) => {
        const target = await changesRepository.firstUndone(tx, projectId, order.author)
        if (!target) throw refusedBy({ code: 'redo.nothing' })
        if (order.target !== null && order.target !== target.revision)
          throw refusedBy({ code: 'undo.moved' })
        const undo = await changesRepository.undoOf(tx, projectId, target.revision)
        const recorded = undo ? invert(completed(undo.changes)) : completed(target.changes)
        const changes = await takeBack(tx, plan, recorded, {
          projectId,
          way: 'redo',
          target: undo?.revision ?? target.revision,
          withDependents: order.withDependents,
        }).catch((error: unknown) => {
          // Who agrees names the change as it was offered.
          throw error instanceof Refused && error.extra.refusal?.code === 'undo.blocked'
            ? refusedBy({ ...error.extra.refusal, target: target.revision })
            : error
        })
        await changesRepository.setUndone(tx, projectId, target.revision, false)
        return { kind: 'redo', target: target.revision, command: target.command, changes }
      },
    })
  }

  /** Everything after a revision. */
  async changesSince(projectId: string, revision: number): Promise<Told> {
    const at = await this.cache.current(this.db, projectId)
    const entries = recentSince(at, revision)
    return entries ? { epoch: at.epoch, entries } : toldSince(this.db, projectId, revision)
  }

  async history(projectId: string, asked: HistoryAsked) {
    return history(this.db, projectId, asked)
  }

  /** Makes the plan what it was at a revision, as a new change: what came since stays in the
   *  history. */
  async backTo(projectId: string, order: TakingBack, revision: number): Promise<Told> {
    return this.changing.ask(projectId, {
      order,
      work: async (tx, { plan, revision: now }) => {
        const recorded = invert(await this.netBetween(tx, projectId, revision, now))
        if (recorded.length === 0)
          throw new Refused('conflict', 'history.same', 'The plan is already as it was then.')
        const changes = await takeBack(tx, plan, recorded, {
          projectId,
          way: 'back',
          target: revision,
          withDependents: order.withDependents,
        })
        return { kind: 'back', target: revision, command: null, changes }
      },
    })
  }

  /** Puts the rows of a damaged project in order: owners come back from the history, what has no
   *  place goes or waits. */
  async repair(projectId: string, order: Order): Promise<Told> {
    return this.changing.ask(projectId, {
      order,
      repairs: true,
      work: async (tx, { damage }) => {
        if (damage.length === 0)
          throw new Refused(
            'conflict',
            'plan.sound',
            'There is nothing to repair; the project is in order.',
          )
        const rows = await plansRepository.loadRows(tx, projectId)
        const remembered = new Map<string, never>()
        for (
          let missing = missingOwners(rows, { remembered });
          missing.length > 0;
          missing = missingOwners(rows, { remembered })
        ) {
          const found = await changesRepository.rememberedRows(tx, projectId, missing)
          if (found.size === 0) break
          for (const [key, row] of found) remembered.set(key, row as never)
        }
        const mended = mend(rows, { remembered })
        const project = (await plansRepository.findProject(tx, projectId))!.project
        return {
          kind: 'repair',
          target: null,
          command: null,
          changes: mended.changes,
          plan: planFromRows(project, mended.rows),
        }
      },
    })
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
    if (!(await versionsRepository.insertVersion(this.db, { projectId, name, revision, author })))
      throw new Refused('conflict', 'version.exists', `There already is a version "${name}".`)
  }

  async versions(projectId: string): Promise<versionsRepository.Version[]> {
    return versionsRepository.listVersions(this.db, projectId)
  }

  async forgetVersion(projectId: string, name: string): Promise<void> {
    if (!(await versionsRepository.deleteVersion(this.db, projectId, name)))
      throw notFound('version')
  }

  private async netBetween(
    db: Connection,
    projectId: string,
    from: number,
    to: number,
  ): Promise<RowChange[]> {
    const steps = (await changesRepository.changesSince(db, projectId, from)).filter(
      ({ revision }) => revision <= to,
    )
    if (from > to || steps.length !== to - from)
      throw new Refused(
        'missing',
        'history.missing',
        `The history does not reach from revision ${from} to ${to}.`,
      )
    return netChanges(steps.map(({ changes }) => completed(changes)))
  }
}
