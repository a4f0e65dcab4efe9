import { promisify } from 'node:util'
import { brotliCompress, constants } from 'node:zlib'
import {
  catalogFor,
  faultsOfRows,
  filesOfPlan,
  packSignals,
  rowsOfPlan,
  tableNames,
  wordFault,
  type Catalog,
  type Plan,
  type ProjectRow,
} from '@kataxis/core'
import type { Database } from '../db/connect'
import { refusedBy } from './refused'
import { refusal } from './refusals'
import * as plansRepository from '../repositories/plans'
import { copyAccess } from '../repositories/projects'
import type { Catalogs } from './catalogs'
import type { PlanCache, PlanAt } from './plan-cache'

/** At a quality that costs as little as gzip; rows, which are much alike, become a third of what that
 *  makes of them. */
const compress = (text: string) =>
  promisify(brotliCompress)(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } })

/** How the signals of a plan are sent. */
type PlanForm = 'rows' | 'packed'

/** Plans as they are: read, written for whoever opens them, begun, brought in. What is kept in memory
 *  is a cache by revision and nothing more; several instances may share one database. */
export class Plans {
  private readonly written = new WeakMap<
    Plan,
    { readonly revision: number; readonly as: Map<PlanForm, Promise<Uint8Array>> }
  >()

  constructor(
    private readonly db: Database,
    private readonly cache: PlanCache,
    readonly catalogs: Catalogs,
  ) {}

  async load(projectId: string): Promise<PlanAt> {
    return this.cache.current(this.db, projectId)
  }

  async loadWithCatalog(projectId: string): Promise<PlanAt & { catalog: Catalog }> {
    const at = await this.load(projectId)
    return {
      ...at,
      catalog: catalogFor(at.plan.project, await this.catalogs.load(this.db, filesOfPlan(at.plan))),
    }
  }

  /** A plan as whoever opens it gets it: compressed JSON, its signals as rows or packed. Written once
   *  a revision; a large plan takes up to half a second. */
  async asJson(projectId: string, form: PlanForm): Promise<Uint8Array> {
    const { plan, revision, epoch, damage } = await this.load(projectId)
    let known = this.written.get(plan)
    if (known?.revision !== revision) this.written.set(plan, (known = { revision, as: new Map() }))
    let bytes = known.as.get(form)
    if (!bytes) {
      const { signals, ...rows } = rowsOfPlan(plan)
      bytes = compress(
        JSON.stringify({
          epoch,
          revision,
          damage: damage.slice(0, 100).map(wordFault),
          project: plan.project,
          ...rows,
          signals: form === 'packed' ? packSignals(signals) : signals,
        }),
      )
      known.as.set(form, bytes)
    }
    return bytes
  }

  /** Reads and writes the plans that were begun last, so that the first one to open them does not
   *  wait for it. */
  async warm(most: number): Promise<void> {
    for (const id of await plansRepository.latestProjects(this.db, most)) {
      await this.loadWithCatalog(id)
      await this.asJson(id, 'packed')
    }
  }

  async create(project: ProjectRow): Promise<void> {
    if (!(await plansRepository.insertProject(this.db, project, 0)))
      throw refusal('project.exists', project.id)
  }

  /** A whole valid plan as a new project; its history begins there. `at`: when the revision was
   *  made; `like`: the project whose members may enter it. */
  async import(
    plan: Plan,
    revision: number,
    { at = null, like = null }: { readonly at?: string | null; readonly like?: string | null } = {},
  ): Promise<void> {
    const rows = rowsOfPlan(plan)
    const [fault] = faultsOfRows(rows)
    if (fault) throw refusedBy({ code: 'plan.invalid', fault })
    await this.db.transaction(async (tx) => {
      if (
        !(await plansRepository.insertProject(
          tx,
          plan.project,
          revision,
          at === null ? null : new Date(at),
        ))
      )
        throw refusal('project.exists', plan.project.id)
      if (like !== null) await copyAccess(tx, like, plan.project.id)
      for (const table of tableNames)
        await plansRepository.putRows(tx, plan.project.id, table, rows[table])
    })
  }

  /** Projects whose rows make no valid plan. */
  damaged(): Promise<string[]> {
    return plansRepository.damagedProjects(this.db)
  }
}
