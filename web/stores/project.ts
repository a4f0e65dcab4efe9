import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import {
  applyChanges,
  applyCommand,
  bearsOnSafety,
  createChecker,
  derive,
  filesOfPlan,
  newId,
  planFromRows,
  stationFindings,
  supplemented,
  wordRefusal,
  type Command,
  type Derived,
  type Plan,
} from '@kataxis/core'
import {
  api,
  RefusedByServer,
  ServerAway,
  type PlanAnswer,
  type TakingBack,
  type Told,
} from '../api/client'
import { keepChange, keepPlan, storedPlan, type Action, type Pending } from '../local/work'
import { useOutbox } from './outbox'
import { useLive } from './live'
import { useSession } from './session'
import { useShelf } from './shelf'

/** Something that others have built on, with what would take it back all the same. */
interface Blocked {
  readonly sentence: string
  readonly again: Action
}

const none: readonly string[] = []
const firstRetryMs = 1500
const longestRetryMs = 15_000
const takeOverMs = 4000
/** Room for the first frames of a project before everything is checked. */
const showMs = 100

/** The open project: the plan as the server confirmed it, the unconfirmed commands laid over it,
 *  and all that follows. */
export const useProject = defineStore('project', () => {
  const session = useSession()
  const shelf = useShelf()
  const live = useLive()
  const id = ref('')
  const revision = ref(0)
  const plan = shallowRef<Plan | null>(null)
  const failure = ref('')
  /** Shown from what this browser kept, since the server does not answer. */
  const isOffline = ref(false)
  /** What is wrong with a damaged project, which can only be read. */
  const damage = shallowRef<readonly string[]>(none)
  /** The last thing that was taken back or refused, for the frame to tell. */
  const refusal = shallowRef<{ sentence: string } | null>(null)
  const blocked = shallowRef<Blocked | null>(null)
  let confirmed: Plan | null = null
  let epoch = ''
  let takingOver: ReturnType<typeof setInterval> | undefined
  let checker = createChecker()

  const outbox = useOutbox({
    id,
    revision,
    epoch: () => epoch,
    begunAnew,
    user: () => session.user,
    post,
    accept,
    refused: whenRefused,
    laidAnew: replay,
  })
  const catalog = computed(() =>
    supplemented(shelf.catalogs, plan.value?.project.supplements ?? none),
  )
  const derived = computed(() => plan.value && derive(plan.value, catalog.value))
  /** Looking at a whole large plan takes half a second; the plan is shown first. */
  const hasShown = ref(false)
  const findings = computed(() => (hasShown.value && derived.value ? checker(derived.value) : null))
  watch(
    () => [plan.value?.stations, plan.value?.project.supplements],
    () => void needCatalogs(),
  )

  /** Opens a project; while the server is away from what this browser kept, and tries again by
   *  itself. */
  async function open(projectId: string): Promise<void> {
    close()
    id.value = projectId
    const isOpen = () => id.value === projectId
    for (let waitMs = firstRetryMs; isOpen(); waitMs = Math.min(longestRetryMs, waitMs * 1.6)) {
      try {
        await load(projectId)
        break
      } catch (error) {
        if (!isOpen()) return
        if (!(error instanceof ServerAway)) return void (failure.value = (error as Error).message)
        if (!plan.value) await startOffline(projectId, error.message)
        outbox.link.value = 'away'
        await new Promise((go) => setTimeout(go, waitMs))
      }
    }
    if (!isOpen()) return
    live.follow(id.value)
    await outbox.load(true)
    replay()
    setTimeout(() => (hasShown.value = true), showMs)
    takingOver = setInterval(
      () => void outbox.load().then(() => outbox.pending.value.length > 0 && void outbox.send()),
      takeOverMs,
    )
    void outbox.send()
  }

  async function load(projectId: string): Promise<void> {
    const text = await api.plan(projectId)
    const { damage: faults, ...answer } = JSON.parse(text) as PlanAnswer
    await show(projectId, answer)
    if (id.value !== projectId) return
    damage.value = faults
    isOffline.value = false
    outbox.link.value = 'saved'
    failure.value = ''
    void keepPlan(projectId, text).catch(() => undefined)
  }

  async function show(
    projectId: string,
    { revision: at, epoch: of, project, ...rows }: Omit<PlanAnswer, 'damage'>,
  ): Promise<void> {
    const next = planFromRows(project, rows)
    await shelf.need(filesOfPlan(next))
    if (id.value !== projectId) return
    confirmed = next
    revision.value = at
    epoch = of
    replay()
  }

  /** The last plan that this browser saw, with what it heard of since. */
  async function startOffline(projectId: string, sentence: string): Promise<void> {
    const stored = await storedPlan(projectId).catch(() => null)
    if (id.value !== projectId) return
    if (!stored) return void (failure.value = `${sentence} It is tried again by itself.`)
    try {
      await show(projectId, JSON.parse(stored.text) as PlanAnswer)
      for (const entry of stored.entries) if (entry.revision === revision.value + 1) follow(entry)
      await outbox.load(true)
      isOffline.value = true
      replay()
      hasShown.value = true
    } catch {
      failure.value = `${sentence} It is tried again by itself.`
    }
  }

  function close(): void {
    live.leave()
    clearInterval(takingOver)
    id.value = ''
    confirmed = plan.value = null
    outbox.clear()
    hasShown.value = false
    isOffline.value = false
    damage.value = none
    failure.value = ''
    blocked.value = null
    checker = createChecker()
  }

  /** Does a command at once and sends it on; a refusal is told and nothing happens. */
  function run(command: Command): boolean {
    if (!plan.value) return false
    const applied = applyCommand(plan.value, catalog.value, command)
    if (!applied.ok) {
      tell(wordRefusal(applied.refusal))
      return false
    }
    const forbidden =
      whyReadOnly() ??
      session.whyNot('plan') ??
      (bearsOnSafety(plan.value, applied.plan, catalog.value, applied.changes)
        ? session.whyNot('safety')
        : null)
    if (forbidden) {
      tell(forbidden)
      return false
    }
    plan.value = applied.plan
    outbox.add({ kind: 'command', command })
    return true
  }

  const whyReadOnly = () =>
    damage.value.length > 0 ? 'The project is damaged and can only be read; repair it first.' : null

  /** Why a command would be refused; null where it would not. */
  function whyNot(command: Command): string | null {
    if (!plan.value) return null
    const applied = applyCommand(plan.value, catalog.value, command)
    return applied.ok ? null : wordRefusal(applied.refusal)
  }

  /** The first blocker that a station would newly have after a command; null where there would be
   *  none. */
  function newlyWrong(command: Command, stationId: string): string | null {
    if (!plan.value || !derived.value) return null
    const applied = applyCommand(plan.value, catalog.value, command)
    if (!applied.ok) return null
    const messages = (of: Derived) =>
      stationFindings(of, stationId)
        .filter(({ severity }) => severity === 'blocker')
        .map(({ message }) => message)
    const known = new Set(messages(derived.value))
    return (
      messages(derive(applied.plan, catalog.value)).find((message) => !known.has(message)) ?? null
    )
  }

  /** The plan as it was at a revision, as a new change; what waits unsent goes first. */
  const backTo = (target: number) => outbox.add({ kind: 'back', revision: target })
  /** Before the plan is there nobody can mean a change of it. */
  const undo = () => void (plan.value && outbox.add({ kind: 'undo' }))
  const redo = () => void (plan.value && outbox.add({ kind: 'redo' }))

  /** What others have built on goes along, after all. */
  function takeBackWithDependents(): void {
    if (blocked.value) outbox.add(blocked.value.again)
    blocked.value = null
  }

  /** What others have built on stays; the change before it is taken back instead. */
  function skipBlocked(): void {
    if (blocked.value?.again.kind !== 'undo') return
    const { withDependents: _along, ...again } = blocked.value.again
    blocked.value = null
    outbox.add({ ...again, skip: true })
    outbox.add({ kind: 'undo' })
  }

  async function repair(): Promise<void> {
    try {
      await api.repair(id.value, { commandId: newId(), baseRevision: revision.value, epoch })
      await load(id.value)
    } catch (error) {
      tell((error as Error).message)
    }
  }

  function post(
    projectId: string,
    { commandId, baseRevision, epoch: of, action }: Pending,
  ): Promise<Told> {
    const order = { commandId, baseRevision, epoch: of }
    if (action.kind === 'command') return api.command(projectId, order, action.command)
    const taking: TakingBack = {
      ...(action.withDependents && { withDependents: true }),
      ...(action.kind === 'undo' && action.skip && { skip: true }),
      ...('target' in action && action.target !== undefined && { target: action.target }),
    }
    if (action.kind === 'back')
      return api.backTo(projectId, { ...order, ...taking }, action.revision)
    return action.kind === 'undo'
      ? api.undo(projectId, { ...order, ...taking })
      : api.redo(projectId, { ...order, ...taking })
  }

  /** Takes over what the server says happened and lays the rest of the own work over it again. */
  async function accept({ epoch: of, entries }: Told): Promise<void> {
    if (of !== epoch) return begunAnew()
    try {
      for (const entry of entries) {
        if (entry.revision <= revision.value) continue
        // A gap, or rows that no longer are what their changes say: the whole plan is asked for.
        if (entry.revision !== revision.value + 1 || entry.kind === 'repair')
          return await load(id.value)
        follow(entry)
        void keepChange(id.value, entry).catch(() => undefined)
      }
    } catch {
      return load(id.value)
    }
    replay()
  }

  function follow(entry: Told['entries'][number]): void {
    confirmed = applyChanges(confirmed!, entry.changes)
    revision.value = entry.revision
  }

  /** Another database, as after a restored backup: its plan is loaded, and what was meant for the
   *  other one is kept apart. */
  async function begunAnew(): Promise<void> {
    await load(id.value)
    await outbox.putAside(
      outbox.pending.value.filter((entry) => entry.epoch !== epoch),
      'The server’s database was restored from a backup in the meantime; this was meant for the plan before.',
    )
    tell(
      'The server’s database was restored from a backup. The plan was loaded anew; what had not been sent is set aside.',
    )
  }

  async function whenRefused({ action }: Pending, error: RefusedByServer): Promise<void> {
    if (error.refusal?.code === 'undo.blocked' && action.kind !== 'command') {
      const { target } = error.refusal
      blocked.value = {
        sentence: error.message,
        again:
          action.kind === 'back'
            ? { ...action, withDependents: true }
            : { ...action, withDependents: true, target },
      }
    } else tell(error.message)
    await catchUp().catch(() => undefined)
    replay()
  }

  function replay(): void {
    if (!confirmed) return
    let current = confirmed
    for (const { action } of outbox.pending.value) {
      if (action.kind !== 'command') continue
      const applied = applyCommand(current, catalog.value, action.command)
      if (applied.ok) current = applied.plan
    }
    plan.value = current
  }

  live.listen({
    revision: (at, of) => {
      outbox.hurry()
      const isOther = (of !== null && of !== epoch) || (of !== null && at < revision.value)
      if (isOther && !outbox.isSending()) void begunAnew().catch(() => undefined)
      else if (at > revision.value && !outbox.isSending()) void catchUp().catch(() => undefined)
    },
    heard: (isUp) => {
      if (isUp) outbox.hurry()
      else outbox.link.value = 'away'
    },
  })

  async function catchUp(): Promise<void> {
    await accept(await api.changesSince(id.value, revision.value))
  }

  async function needCatalogs(): Promise<void> {
    if (!plan.value) return
    await shelf.need(filesOfPlan(plan.value)).catch(() => undefined)
  }

  function tell(sentence: string): void {
    refusal.value = { sentence }
  }

  const { pending, aside, others, link, words: linkWords, retry, discard } = outbox
  return {
    id,
    revision,
    plan,
    catalog,
    derived,
    findings,
    failure,
    refusal,
    isOffline,
    damage,
    blocked,
    pending,
    aside,
    others,
    link,
    linkWords,
    open,
    close,
    run,
    whyNot,
    newlyWrong,
    backTo,
    undo,
    redo,
    skipBlocked,
    takeBackWithDependents,
    repair,
    retry,
    discard,
    tell,
  }
})
