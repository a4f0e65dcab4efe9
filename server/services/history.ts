import {
  completed,
  invert,
  mend,
  missingOwners,
  netChanges,
  planFromRows,
  type RowChange,
} from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import * as changesRepository from '../repositories/changes'
import { history as entriesOf, type HistoryAsked } from '../repositories/history'
import * as plansRepository from '../repositories/plans'
import type { Changing, Order, TakingBack } from './changing'
import { recentSince, type PlanCache } from './plan-cache'
import { Refused, refusedBy } from './refused'
import { refusal } from './refusals'
import { takeBack } from './taking-back'
import { mostTold, toldSince, type Told } from './told'

/** Rows of all steps between two revisions that are compared; more would hold a thread for long. */
const mostRowsCompared = 500_000

/** What was done, by whom, and how it is taken back, brought again or put in order. */
export class History {
  constructor(
    private readonly db: Database,
    private readonly cache: PlanCache,
    private readonly changing: Changing,
  ) {}

  async undo(projectId: string, order: TakingBack): Promise<Told> {
    return this.changing.ask(projectId, {
      order,
      work: async (tx, { plan }) => {
        const target = await changesRepository.lastDone(tx, projectId, order)
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
        const target = await changesRepository.firstUndone(tx, projectId, order)
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

  /** What happened after a revision. */
  async changesSince(projectId: string, revision: number): Promise<Told> {
    const at = await this.cache.current(this.db, projectId)
    const entries = recentSince(at, revision)
    return entries
      ? { epoch: at.epoch, entries: entries.slice(-mostTold) }
      : toldSince(this.db, projectId, revision)
  }

  /** The newest entries, told in their first rows. */
  async entries(projectId: string, asked: HistoryAsked) {
    return entriesOf(this.db, projectId, asked)
  }

  /** Makes the plan what it was at a revision, as a new change: what came since stays in the
   *  history. */
  async backTo(projectId: string, order: TakingBack, revision: number): Promise<Told> {
    return this.changing.ask(projectId, {
      order,
      work: async (tx, { plan, revision: now }) => {
        const recorded = invert(await this.netBetween(tx, projectId, revision, now))
        if (recorded.length === 0) throw refusal('history.same')
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
        if (damage.length === 0) throw refusal('plan.sound')
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

  /** What became of each row between two revisions. */
  async difference(projectId: string, from: number, to: number): Promise<RowChange[]> {
    return this.netBetween(this.db, projectId, from, to)
  }

  private async netBetween(
    db: Connection,
    projectId: string,
    from: number,
    to: number,
  ): Promise<RowChange[]> {
    const { steps, rows } = await changesRepository.extentBetween(db, projectId, from, to)
    if (from > to || steps !== to - from) throw refusal('history.missing', { from, to })
    if (rows > mostRowsCompared)
      throw refusal('history.large', { from, to, rows, most: mostRowsCompared })
    const changes = await changesRepository.stepsBetween(db, projectId, from, to)
    return netChanges(changes.map(completed))
  }
}
