import {
  applyChanges,
  faultsOfRows,
  mend,
  netChanges,
  planFromRows,
  type Plan,
  type PlanFault,
} from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { notFound } from './refused'
import * as changesRepository from '../repositories/changes'
import type { ChangeEntry } from '../repositories/changes'
import type { Held } from '../repositories/locking'
import * as plansRepository from '../repositories/plans'
import type { ProjectHead } from '../repositories/plans'

/** Plans in memory at once, and the last changes of each. */
const mostKept = 50
const mostRecent = 500

export interface PlanAt {
  readonly plan: Plan
  readonly revision: number
  /** Of the database that says so. */
  readonly epoch: string
  /** What is wrong with the rows as they stand; then `plan` is what can be read of them, and
   *  nothing changes it but a repair. */
  readonly damage: readonly PlanFault[]
}

/** With the last changes, one a revision and ending at it, so that who looked a moment ago is told
 *  without asking the database. */
export interface KeptPlan extends PlanAt {
  readonly recent: readonly ChangeEntry[]
}

/** Plans by revision, as this process saw them last: a cache, and nothing more. */
export class PlanCache {
  private readonly kept = new Map<string, KeptPlan>()

  constructor(private readonly db: Database) {}

  /** The plan at the database's revision: kept, caught up with, or loaded. */
  async current(db: Connection, projectId: string): Promise<KeptPlan> {
    const head = await plansRepository.findProject(db, projectId)
    if (!head) throw notFound('project')
    const kept = this.kept.get(projectId)
    const known = kept?.epoch === head.epoch && kept.revision <= head.revision ? kept : null
    if (known?.revision === head.revision) return known
    const missed = known
      ? (await changesRepository.changesSince(db, projectId, known.revision, mostRecent)).filter(
          ({ revision }) => revision <= head.revision,
        )
      : []
    // Without the project's lock rows and revision need one snapshot.
    const current =
      (known && caughtUp(known, missed, head.revision)) ?? (await this.loadAll(projectId))
    this.keep(projectId, current)
    return current
  }

  /** The same for a project that is held, of which everything new was told. */
  async whileHeld(
    tx: Connection,
    projectId: string,
    { revision, epoch, news }: Held,
  ): Promise<KeptPlan> {
    const kept = this.kept.get(projectId)
    const known = kept?.epoch === epoch && kept.revision <= revision ? kept : null
    if (known?.revision === revision) return known
    const at =
      known &&
      caughtUp(
        known,
        news.filter((entry) => entry.revision > known.revision),
        revision,
      )
    const current = at ?? (await load(tx, (await plansRepository.findProject(tx, projectId))!))
    this.keep(projectId, current)
    return current
  }

  /** The plan as this process saw it last; it may have gone on since. */
  peek(projectId: string): KeptPlan | undefined {
    return this.kept.get(projectId)
  }

  keep(projectId: string, at: KeptPlan): void {
    const known = this.kept.get(projectId)
    if (known?.epoch === at.epoch && known.revision > at.revision) return
    // Set anew, so that the plan that was used longest ago stands first and goes first.
    this.kept.delete(projectId)
    this.kept.set(projectId, at)
    const [oldest] = this.kept.keys()
    if (this.kept.size > mostKept && oldest !== undefined) this.kept.delete(oldest)
  }

  private async loadAll(projectId: string): Promise<KeptPlan> {
    return this.db.transaction(
      async (tx) => {
        const head = await plansRepository.findProject(tx, projectId)
        if (!head) throw notFound('project')
        return load(tx, head)
      },
      { isolationLevel: 'repeatable read' },
    )
  }
}

/** The plan after the next entries. */
export function follow(
  { recent, epoch, damage }: KeptPlan,
  plan: Plan,
  entries: readonly ChangeEntry[],
): KeptPlan {
  return {
    plan,
    epoch,
    damage,
    revision: entries.at(-1)!.revision,
    recent: [...recent, ...entries].slice(-mostRecent),
  }
}

/** What happened since, as far as memory reaches; null where it does not. */
export function recentSince(
  { revision, recent }: Pick<KeptPlan, 'revision' | 'recent'>,
  base: number,
): readonly ChangeEntry[] | null {
  if (base >= revision) return []
  return recent[0] && recent[0].revision <= base + 1
    ? recent.filter((entry) => entry.revision > base)
    : null
}

/** A plan with what it missed; null where that is not all of it, or after a repair, when rows are
 *  no longer what their changes say. */
function caughtUp(
  kept: KeptPlan,
  missed: readonly ChangeEntry[],
  revision: number,
): KeptPlan | null {
  if (missed.length !== revision - kept.revision || missed.some(({ kind }) => kind === 'repair'))
    return null
  return follow(
    kept,
    applyChanges(kept.plan, netChanges(missed.map(({ changes }) => changes))),
    missed,
  )
}

async function load(db: Connection, { project, revision, epoch }: ProjectHead): Promise<KeptPlan> {
  const rows = await plansRepository.loadRows(db, project.id)
  const damage = faultsOfRows(rows)
  return {
    revision,
    epoch,
    damage,
    plan: planFromRows(project, damage.length === 0 ? rows : mend(rows).rows),
    recent: [],
  }
}
