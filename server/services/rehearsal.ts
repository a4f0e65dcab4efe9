import { randomUUID } from 'node:crypto'
import { promisify } from 'node:util'
import { brotliDecompress } from 'node:zlib'
import {
  capturedFrames,
  catalogFor,
  derive,
  differenceFault,
  drawDifferences,
  failSafeActions,
  filesOfPlan,
  may,
  planFromRows,
  toHex,
  wordMissingRight,
  writePcap,
  type Derived,
  type LoggedFrame,
  type PlanRows,
  type ProjectRow,
  type RehearsalAction,
  type RehearsalWish,
  type RoleName,
  type SiteDifference,
} from '@kataxis/core'
import { buildWorld, Performance } from '@kataxis/standins'
import type { Database } from '../db/connect'
import * as repository from '../repositories/rehearsals'
import type { RehearsalRow } from '../repositories/rehearsals'
import type { Plans } from './plans'
import { notFound } from './refused'
import { refusal } from './refusals'

/** Frames that are kept for the capture file, and those of each network that the page gets. */
const mostFrames = 50_000
const framesShown = 30
/** Rehearsals that this thread has in memory. */
const mostHeld = 4

const unpack = promisify(brotliDecompress)

/** Who does something. */
interface Acting {
  readonly fullName: string
  readonly role: RoleName
}

/** A rehearsal as this thread has it: up to which event. */
interface Held {
  readonly id: string
  readonly performance: Performance
  kindOf: (networkId: string) => string
}

/** Commissioning against the simulated plant. What counts are the events in the database: whichever
 *  instance gets the next action locks the rehearsal, catches up with what others did and goes on;
 *  when it dies in the middle, nothing was done. */
export class Rehearsal {
  private readonly held = new Map<string, Held>()

  constructor(
    private readonly db: Database,
    private readonly plans: Plans,
  ) {}

  async view(projectId: string) {
    return this.db.transaction(async (tx) => {
      const row = await repository.findRehearsal(tx, projectId, true)
      return row && this.viewOf(row, await this.caughtUp(tx, row))
    })
  }

  /** Builds a plant from the plan as it is now, with what is to be otherwise. */
  async begin(projectId: string, wish: RehearsalWish, author: string) {
    const { plan, catalog } = await this.plans.loadWithCatalog(projectId)
    const files = await this.plans.catalogs.load(this.db, filesIn(wish.differences ?? []))
    const derived = derive(plan, new Map([...files, ...catalog]))
    const seed = wish.seed ?? Math.floor(Math.random() * 2 ** 32)
    const fault = differenceFault(derived, wish.differences ?? [], fileCalled(derived))
    if (fault) throw refusal('difference.unknown', fault)
    const differences = wish.differences ?? drawDifferences(derived, wish.difficulty, seed)
    await this.db.transaction(async (tx) =>
      repository.beginRehearsal(tx, {
        projectId,
        id: randomUUID(),
        plan: await this.plans.asJson(projectId, 'rows'),
        difficulty: wish.difficulty,
        seed,
        differences,
        begunBy: author,
      }),
    )
    return (await this.view(projectId))!
  }

  /** One action, as one event. */
  async act(projectId: string, action: RehearsalAction, by: Acting) {
    if (failSafeActions.has(action.do) && !may(by.role, 'safety'))
      throw refusal('rehearsal.failSafe', wordMissingRight(by.role, 'safety'))
    return this.db.transaction(async (tx) => {
      const row = await repository.findRehearsal(tx, projectId, true)
      if (!row) throw notFound('rehearsal')
      if (row.endedAt) throw refusal('rehearsal.ended')
      const held = await this.caughtUp(tx, row)
      try {
        const at = new Date()
        held.performance.act(action, at.getTime())
        const event = { projectId, action, at, author: by.fullName }
        await repository.addEvent(tx, { ...event, number: held.performance.actions })
      } catch (error) {
        // The world may have gone further than the events say.
        this.held.delete(projectId)
        throw error
      }
      return this.viewOf(row, held)
    })
  }

  async end(projectId: string) {
    return this.db.transaction(async (tx) => {
      const row = await repository.findRehearsal(tx, projectId, true)
      if (!row) throw notFound('rehearsal')
      await repository.endRehearsal(tx, projectId)
      return this.viewOf({ ...row, endedAt: new Date() }, await this.caughtUp(tx, row))
    })
  }

  /** All frames of the rehearsal as a capture file. */
  async capture(projectId: string): Promise<Uint8Array> {
    return this.db.transaction(async (tx) => {
      const row = await repository.findRehearsal(tx, projectId, true)
      if (!row) throw notFound('rehearsal')
      const { performance, kindOf } = await this.caughtUp(tx, row)
      return writePcap(
        capturedFrames(performance.log.latest, kindOf as never, row.begunAt.getTime()),
      )
    })
  }

  /** The rehearsal with all events that there are: those that this thread has not seen are done
   *  here again. */
  private async caughtUp(
    tx: Parameters<typeof repository.findRehearsal>[0],
    row: RehearsalRow,
  ): Promise<Held> {
    const { plan, catalog } = await this.plans.loadWithCatalog(row.projectId)
    const derived = derive(plan, catalog)
    let held = this.held.get(row.projectId)
    if (held?.id !== row.id) held = await this.built(row, derived)
    // The one used last goes last.
    this.held.delete(row.projectId)
    this.held.set(row.projectId, held)
    for (const id of this.held.keys()) {
      if (this.held.size <= mostHeld) break
      this.held.delete(id)
    }
    held.performance.planned(derived)
    held.kindOf = kindsIn(derived, held.kindOf)
    const missed = await repository.eventsAfter(tx, row.projectId, held.performance.actions)
    for (const { action, at } of missed) held.performance.act(action, at.getTime())
    return held
  }

  private async built(row: RehearsalRow, derived: Derived): Promise<Held> {
    const { project, signals, ...rows } = JSON.parse(
      (await unpack(row.plan)).toString(),
    ) as PlanRows & { project: ProjectRow }
    const plan = planFromRows(project, { ...rows, signals })
    const files = [...filesOfPlan(plan), ...filesIn(row.differences)]
    const catalog = catalogFor(plan.project, await this.plans.catalogs.load(this.db, files))
    const then = derive(plan, catalog)
    const world = buildWorld(then, row.differences, fileCalled(then))
    return {
      id: row.id,
      performance: new Performance(world, derived, mostFrames),
      kindOf: kindsIn(then, () => 'local'),
    }
  }

  private viewOf(row: RehearsalRow, { performance }: Held) {
    const { state, log } = performance
    return {
      difficulty: row.difficulty,
      seed: row.seed,
      begunBy: row.begunBy,
      begunAt: row.begunAt.toISOString(),
      actions: performance.actions,
      found: state.found,
      started: state.started,
      signals: state.signals,
      findings: performance.findings,
      refused: performance.refused,
      frames: latestByNetwork(log.latest).map(({ octets, peer, ...frame }) => ({
        ...frame,
        hex: toHex(octets, octets.length, ''),
        peer: peer && { mac: peer.mac, ip: peer.ip },
      })),
      frameCount: log.count,
      ended: row.endedAt ? { score: performance.score() } : null,
    }
  }
}

/** The latest of every network, in their order. */
function latestByNetwork(frames: readonly LoggedFrame[]): LoggedFrame[] {
  const counts = new Map<string, number>()
  return frames
    .toReversed()
    .filter(({ networkId }) => {
      const count = (counts.get(networkId) ?? 0) + 1
      counts.set(networkId, count)
      return count <= framesShown
    })
    .toReversed()
}

/** Description files by their hash. */
const fileCalled =
  ({ catalog }: Derived) =>
  (word: string) =>
    catalog.has(word) ? word : null

const filesIn = (differences: readonly SiteDifference[]) =>
  differences.flatMap((one) => (one.kind === 'wrongType' ? [one.device.file] : []))

/** Kinds of networks by their id; networks that are gone since keep theirs. */
function kindsIn({ plan }: Derived, before: (id: string) => string) {
  return (id: string) => plan.networks[id]?.settings.kind ?? before(id)
}
