import { setTimeout } from 'node:timers/promises'
import {
  applyChanges,
  applyCommand,
  bearsOnSafety,
  faultsOfChange,
  filesOfPlan,
  catalogFor,
  type Command,
  type Plan,
  type RowChange,
} from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { passes } from '../http/problem'
import { notFound, Refused, refusedBy } from './refused'
import { refusal } from './refusals'
import * as changesRepository from '../repositories/changes'
import {
  areFewRows,
  isBy,
  mostRowsAtOnce,
  type ChangeEntry,
  type Doer,
} from '../repositories/changes'
import { lockFiles } from '../repositories/files'
import { whileHolding, type Held } from '../repositories/locking'
import type { Catalogs } from './catalogs'
import { overlap } from './overlap'
import { follow, recentSince, type KeptPlan, type PlanCache } from './plan-cache'
import { mostTold, toldSince, type Told } from './told'
import { addedFiles, filesOfCommand, filesTouched } from './touched-files'
import { Turns, type Outcome } from './turns'

/** `userId` is the sender's account, which has to be there; null: the program itself. */
export interface Order extends Doer {
  /** Made by the sender; sent twice, it is carried out once. */
  readonly commandId: string
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
  /** Undo only: it stays as it is and counts as taken back, so that older changes can be. */
  readonly skip?: boolean
  /** The change that the sender saw as the next one; null: whichever is. */
  readonly target: number | null
}

/** What a change comes to; the plan after it where that is known already. */
type Done = Pick<ChangeEntry, 'kind' | 'target' | 'command' | 'changes'> & { readonly plan?: Plan }

interface Commanded {
  readonly order: Order
  readonly command: Command
}

/** A command, or work of another kind, which may write as it goes and has a transaction of its
 *  own. */
type Asked =
  | Commanded
  | {
      readonly order: Order
      readonly repairs?: boolean
      readonly work: (tx: Connection, at: KeptPlan) => Promise<Done>
    }

/** The plan after what was made so far and is not written yet. */
interface Progress {
  readonly at: KeptPlan
  readonly made: readonly ChangeEntry[]
}

/** Commands that are written together. */
const mostTogether = 32
/** So long after another instance changed a project it is likely to do so again. */
const contendedMs = 3000
/** How long commands gather then. */
const gatherMs = 5
/** Changes of others that a command is compared with; who is further behind looks first. */
const mostCompared = 5000
/** Higher than any: nothing is known yet, and nothing is told. */
const noRevision = 2_147_483_647

/** The one way of every change: in turn with others of its project, against the newest plan, kept
 *  only if it leaves a valid one. Commands that wait for their turn are written together. Other
 *  instances meet in the database. */
export class Changing {
  private readonly turns = new Turns<Asked, Told>((projectId, waiting) =>
    this.next(projectId, waiting),
  )
  private readonly contended = new Map<string, number>()
  /** Commands that were looked at and are more than a statement takes, or to be refused: not to be
   *  looked at again and again with others. */
  private readonly apart = new WeakSet<Asked>()
  /** Files that the commands which led to a plan needed: all it names, and perhaps some that it
   *  named before. */
  private readonly files = new WeakMap<Plan, readonly string[]>()

  constructor(
    private readonly db: Database,
    private readonly cache: PlanCache,
    private readonly catalogs: Catalogs,
  ) {}

  /** Carries a command out and gives what happened since the sender last looked, its own change
   *  included. */
  execute(projectId: string, order: Order, command: Command): Promise<Told> {
    return this.ask(projectId, { order, command })
  }

  /** The same for work of another kind. */
  ask(projectId: string, asked: Asked): Promise<Told> {
    return this.turns.ask(projectId, asked)
  }

  private async next(
    projectId: string,
    waiting: () => readonly Asked[],
  ): Promise<readonly Outcome<Told>[]> {
    const commands = this.leadingCommands(waiting())
    try {
      const told = await this.atOnce(projectId, commands)
      if (told.length > 0) return told.map((result) => ({ result }))
    } catch (error) {
      if (passes(error)) return commands.map(() => ({ error }))
    }
    // Fewer and larger transactions, where each has to wait for others.
    if (this.isContended(projectId)) await setTimeout(gatherMs)
    return this.held(projectId, waiting)
  }

  /** The common case in one statement: the plan in memory is the newest, nobody is in the way, the
   *  changes are small and name no new file. Does as many commands as this is so for, perhaps none;
   *  then the long way finds out what to say. */
  private async atOnce(projectId: string, commands: readonly Commanded[]): Promise<Told[]> {
    const begun = this.isContended(projectId) ? undefined : this.cache.peek(projectId)
    if (!begun || begun.damage.length > 0) return []
    let progress: Progress = { at: begun, made: [] }
    const told: Told[] = []
    for (const asked of commands) {
      const step = await this.plainly(projectId, progress, asked)
      if (!step || !areFewRows(step.progress.made)) {
        this.apart.add(asked)
        break
      }
      progress = step.progress
      told.push(step.told)
    }
    if (
      progress.made.length === 0 ||
      !(await changesRepository.recordAtOnce(this.db, progress.made, begun.epoch))
    )
      return []
    this.cache.keep(projectId, progress.at)
    return told
  }

  /** A command that there is nothing to say to; null: there may be, and the long way says it. */
  private async plainly(
    projectId: string,
    progress: Progress,
    asked: Commanded,
  ): Promise<Step | null> {
    try {
      const step = await this.step(this.db, projectId, null, progress, asked)
      return step.progress === progress ? null : step
    } catch (error) {
      if (error instanceof Refused || error instanceof OnlyHeld) return null
      throw error
    }
  }

  /** In one transaction that holds the project: each is done or refused for itself. Where that
   *  fails as a whole, the first alone. */
  private async held(
    projectId: string,
    waiting: () => readonly Asked[],
  ): Promise<readonly Outcome<Told>[]> {
    let asked: readonly Asked[] = []
    try {
      // While others hold the project more may gather.
      const outcomes = await this.whileHolding(projectId, () => (asked = this.together(waiting())))
      return await Promise.all(
        outcomes.map((outcome, i) => this.orToldAgain(projectId, asked[i]!.order, outcome)),
      )
    } catch (error) {
      if (asked.length > 1 && !passes(error)) return this.held(projectId, () => asked.slice(0, 1))
      const failed = asked.length > 0 ? asked : this.together(waiting())
      return Promise.all(failed.map(({ order }) => this.orToldAgain(projectId, order, { error })))
    }
  }

  private async whileHolding(
    projectId: string,
    together: () => readonly Asked[],
  ): Promise<readonly Outcome<Told>[]> {
    const known = this.cache.peek(projectId)
    const { progress, outcomes } = await whileHolding(
      this.db,
      projectId,
      known?.revision ?? noRevision,
      async (tx, held) => {
        if (!held) throw notFound('project')
        const begun = await this.cache.whileHeld(tx, projectId, held)
        this.note(projectId, known, begun)
        const done = await this.steps(tx, projectId, held, { at: begun, made: [] }, together())
        if (done.progress.made.length > 0)
          await changesRepository.recordChanges(tx, done.progress.made)
        return done
      },
    )
    this.cache.keep(projectId, progress.at)
    return outcomes
  }

  /** One after the other, as long as it is not too much to be written together. */
  private async steps(
    tx: Connection,
    projectId: string,
    held: Held,
    begun: Progress,
    asked: readonly Asked[],
  ) {
    let progress = begun
    const outcomes: Outcome<Told>[] = []
    for (const one of asked) {
      try {
        const step = await this.step(tx, projectId, held, progress, one)
        if (progress.made.length > 0 && !areFewRows(step.progress.made)) {
          this.apart.add(one)
          break
        }
        progress = step.progress
        outcomes.push({ result: step.told })
      } catch (error) {
        // What may have written something is taken back as a whole.
        if (!(error instanceof Refused) || !('command' in one)) throw error
        outcomes.push({ error })
      }
    }
    return { progress, outcomes }
  }

  /** Commands at the head of what waits, not too many. */
  private leadingCommands(waiting: readonly Asked[]): Commanded[] {
    const commands: Commanded[] = []
    for (const asked of waiting.slice(0, mostTogether)) {
      if (!('command' in asked) || this.apart.has(asked) || isLarge(asked.command)) break
      commands.push(asked)
    }
    return commands
  }

  /** What shares a transaction: commands, or one thing of another kind. */
  private together(waiting: readonly Asked[]): readonly Asked[] {
    const commands = this.leadingCommands(waiting)
    return commands.length > 0 ? commands : waiting.slice(0, 1)
  }

  /** All that is looked at, in one order: the account, the database, what happened since, whether it
   *  is done already, damage, the command itself, others in the way, a valid plan, new files, what is
   *  fail-safe. `held` is null where the project is not held: the statement that writes it all asks
   *  for the account then, and what needs more than memory is left to the long way. */
  private async step(
    db: Connection,
    projectId: string,
    held: Held | null,
    progress: Progress,
    asked: Asked,
  ): Promise<Step> {
    const { at } = progress
    const { order } = asked
    const repairs = 'repairs' in asked && asked.repairs === true
    if (held && order.userId !== null && !held.accounts.includes(order.userId))
      throw refusal('session.gone')
    if (order.epoch !== undefined && order.epoch !== at.epoch) throw refusal('epoch.other')
    const since = await this.since(db, projectId, held, progress, order)
    if (isAmong(since, order)) return { progress, told: toldOf(at.epoch, since) }
    if (at.damage.length > 0 && !repairs) throw refusal('plan.damaged', at.damage[0]!)
    const done =
      'command' in asked ? await this.carriedOut(db, at, asked.command) : await asked.work(db, at)
    // What is taken back was compared with the rows themselves.
    const clash = done.kind === 'do' ? clashOf(since, order, done.changes) : null
    if (clash) throw refusedBy({ code: 'row.changed', ...clash })
    // A command was looked at as it was applied; a repair is about rows that no plan holds.
    const [fault] = done.kind === 'do' || repairs ? [] : faultsOfChange(at.plan, done.changes)
    if (fault) throw refusedBy({ code: 'plan.invalid', fault })
    const plan = done.plan ?? applyChanges(at.plan, done.changes)
    if (done.kind === 'do')
      await this.holdFiles(held && db, addedFiles(at.plan, plan, done.changes))
    if (await this.isForbidden(db, order, at.plan, plan, done.changes)) throw refusal('role.safety')
    return stepTo(projectId, progress, order, since, { ...done, plan })
  }

  /** What happened since the sender last looked: from memory as far as that reaches. */
  private async since(
    db: Connection,
    projectId: string,
    held: Held | null,
    { at, made }: Progress,
    { baseRevision }: Order,
  ): Promise<readonly ChangeEntry[]> {
    const recent = recentSince(at, baseRevision)
    if (recent) return recent
    if (!held) throw new OnlyHeld()
    const missed = at.revision - made.length - baseRevision
    if (missed > mostCompared) throw refusal('plan.old', missed)
    return [
      ...(await changesRepository.changesSince(db, projectId, baseRevision, mostCompared)),
      ...made,
    ]
  }

  private async carriedOut(tx: Connection, at: KeptPlan, command: Command): Promise<Done> {
    const applied = await this.apply(tx, at.plan, command)
    if (!applied.ok) throw refusedBy(applied.refusal)
    return { kind: 'do', target: null, command, changes: applied.changes, plan: applied.plan }
  }

  private async apply(db: Connection, plan: Plan, command: Command) {
    const files = [
      ...new Set([...(this.files.get(plan) ?? filesOfPlan(plan)), ...filesOfCommand(command)]),
    ]
    const applied = applyCommand(
      plan,
      catalogFor(plan.project, await this.catalogs.load(db, files)),
      command,
    )
    if (applied.ok) this.files.set(applied.plan, files)
    return applied
  }

  /** What was carried out before, and seen by its sender since, is refused by the rows themselves;
   *  it is only told again. */
  private async orToldAgain(
    projectId: string,
    order: Order,
    outcome: Outcome<Told>,
  ): Promise<Outcome<Told>> {
    if ('result' in outcome) return outcome
    const isDone = await changesRepository
      .isCarriedOut(this.db, projectId, order.commandId)
      .catch(() => false)
    return isDone ? { result: await toldSince(this.db, projectId, order.baseRevision) } : outcome
  }

  /** Whether a change touches what is fail-safe, and its sender may not. */
  private async isForbidden(
    db: Connection,
    { mayChangeSafety }: Order,
    before: Plan,
    after: Plan,
    changes: readonly RowChange[],
  ): Promise<boolean> {
    if (mayChangeSafety) return false
    const files = new Set(changes.flatMap((change) => filesTouched(before, after, change)))
    return bearsOnSafety(before, after, await this.catalogs.load(db, files), changes)
  }

  /** Remembers when another instance changed a project: then this one waits for its turn instead of
   *  trying its luck. */
  private note(projectId: string, known: KeptPlan | undefined, at: KeptPlan): void {
    if (known && known.epoch === at.epoch && known.revision < at.revision)
      this.contended.set(projectId, Date.now())
  }

  private isContended(projectId: string): boolean {
    return Date.now() - (this.contended.get(projectId) ?? 0) < contendedMs
  }

  /** Description files that a change newly refers to stay on the Shelf until it is done; one that
   *  has gone is told. */
  private async holdFiles(tx: Connection | null, added: readonly string[]): Promise<void> {
    if (added.length === 0) return
    if (!tx) throw new OnlyHeld()
    const held = await lockFiles(tx, added)
    const missing = added.find((file) => !held.has(file))
    if (missing === undefined) return
    this.catalogs.forget(missing)
    throw refusedBy({ code: 'file.missing', file: missing })
  }
}

/** This needs the project to be held: the long way does it. */
class OnlyHeld extends Error {}

interface Step {
  readonly progress: Progress
  readonly told: Told
}

function stepTo(
  projectId: string,
  { at, made }: Progress,
  { commandId, userId, author }: Order,
  since: readonly ChangeEntry[],
  { plan, ...done }: Required<Done>,
): Step {
  const entry = {
    ...done,
    projectId,
    revision: at.revision + 1,
    commandId,
    userId,
    author,
    at: new Date(),
    undone: false,
  }
  return {
    progress: { at: { ...follow(at, plan, [entry]), damage: [] }, made: [...made, entry] },
    told: toldOf(at.epoch, [...since, entry]),
  }
}

/** Whether a command names more than is written together with others; found without carrying it
 *  out. */
function isLarge(command: Command): boolean {
  const singles = command.type === 'batch' ? command.commands : [command]
  const named = singles.flatMap((single) =>
    Object.values(single).map((value) => (Array.isArray(value) ? value.length : 0)),
  )
  return singles.length + named.reduce((sum, count) => sum + count, 0) > mostRowsAtOnce
}

const toldOf = (epoch: string, entries: readonly ChangeEntry[]): Told => ({
  epoch,
  entries: entries.slice(-mostTold),
})

const isAmong = (entries: readonly ChangeEntry[], { commandId }: Order) =>
  entries.some((entry) => entry.commandId === commandId)

const clashOf = (since: readonly ChangeEntry[], order: Order, changes: readonly RowChange[]) =>
  overlap(
    since.filter((entry) => !isBy(entry, order)),
    changes,
  )
