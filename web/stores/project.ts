import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { applyChanges, applyCommand, bearsOnSafety, createChecker, derive, filesOfPlan, newId, planFromRows, stationFindings, supplemented, wordRefusal, type Command, type Derived, type Plan } from '@kataxis/core'
import { api, RefusedByServer, ServerAway, type ChangeEntry, type Presence } from '../api/client'
import { loadPending, savePending, type Pending } from './pending'
import { usePresence } from './presence'
import { useSession } from './session'
import { useShelf } from './shelf'

export type Link = 'saved' | 'saving' | 'away'
const none: readonly string[] = []
const retryMs = 1500
/** Room for the first frames of a project before everything is checked. */
const showMs = 100

/** The open project: the plan as the server confirmed it, the unconfirmed commands laid over it, and all that follows. */
export const useProject = defineStore('project', () => {
  const session = useSession()
  const shelf = useShelf()
  const id = ref('')
  const revision = ref(0)
  const plan = shallowRef<Plan | null>(null)
  const pending = shallowRef<readonly Pending[]>([])
  const link = ref<Link>('saved')
  const failure = ref('')
  /** The last thing that was taken back or refused, for the frame to tell. */
  const refusal = shallowRef<{ sentence: string } | null>(null)
  let confirmed: Plan | null = null
  let events: EventSource | null = null
  let sending = false
  let checker = createChecker()

  const catalog = computed(() => supplemented(shelf.catalogs, plan.value?.project.supplements ?? none))
  const derived = computed(() => plan.value && derive(plan.value, catalog.value))
  /** Looking at a whole large plan takes half a second; the plan is shown first. */
  const hasShown = ref(false)
  const findings = computed(() => (hasShown.value && derived.value ? checker(derived.value) : null))
  watch(() => [plan.value?.stations, plan.value?.project.supplements], () => void needCatalogs())

  async function open(projectId: string): Promise<void> {
    close()
    id.value = projectId
    try {
      const { revision: at, project, ...rows } = await api.plan(projectId)
      confirmed = planFromRows(project, rows)
      await shelf.need(filesOfPlan(confirmed))
      revision.value = at
      pending.value = loadPending(projectId)
      replay()
      setTimeout(() => (hasShown.value = true), showMs)
      listen()
      void send()
    } catch (error) {
      failure.value = (error as Error).message
    }
  }

  function close(): void {
    events?.close()
    events = null
    confirmed = plan.value = null
    pending.value = []
    hasShown.value = false
    failure.value = ''
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
    const forbidden = session.whyNot('plan') ?? (bearsOnSafety(plan.value, applied.plan, catalog.value, applied.changes) ? session.whyNot('safety') : null)
    if (forbidden) {
      tell(forbidden)
      return false
    }
    plan.value = applied.plan
    enqueue({ kind: 'command', command })
    return true
  }

  /** Why a command would be refused; null where it would not. */
  function whyNot(command: Command): string | null {
    if (!plan.value) return null
    const applied = applyCommand(plan.value, catalog.value, command)
    return applied.ok ? null : wordRefusal(applied.refusal)
  }

  /** The first blocker that a station would newly have after a command; null where there would be none. */
  function newlyWrong(command: Command, stationId: string): string | null {
    if (!plan.value || !derived.value) return null
    const applied = applyCommand(plan.value, catalog.value, command)
    if (!applied.ok) return null
    const messages = (of: Derived) => stationFindings(of, stationId).filter(({ severity }) => severity === 'blocker').map(({ message }) => message)
    const known = new Set(messages(derived.value))
    return messages(derive(applied.plan, catalog.value)).find((message) => !known.has(message)) ?? null
  }

  /** The plan as it was at a revision, as a new change; what waits unsent goes first. */
  const backTo = (target: number) => enqueue({ kind: 'back', revision: target })
  const undo = () => enqueue({ kind: 'undo' })
  const redo = () => enqueue({ kind: 'redo' })

  function enqueue(action: Pending['action']): void {
    setPending([...pending.value, { commandId: newId(), baseRevision: revision.value, action }])
    void send()
  }

  /** Sends one after the other; while the server is away it waits and goes on by itself. */
  async function send(): Promise<void> {
    if (sending) return
    sending = true
    const projectId = id.value
    while (pending.value[0] && projectId === id.value) {
      const next = pending.value[0]
      if (link.value !== 'away') link.value = 'saving'
      try {
        const { entries } = await post(projectId, next)
        if (projectId !== id.value) break
        link.value = 'saved'
        accept(entries, pending.value.slice(1))
      } catch (error) {
        if (error instanceof RefusedByServer) {
          tell(error.message)
          link.value = 'saved'
          setPending(pending.value.filter(({ commandId }) => commandId !== next.commandId))
          await catchUp().catch(() => undefined)
          replay()
        } else if (error instanceof ServerAway) {
          link.value = 'away'
          await new Promise((done) => setTimeout(done, retryMs))
        } else {
          sending = false
          throw error
        }
      }
    }
    sending = false
  }

  function post(projectId: string, { commandId, baseRevision, action }: Pending) {
    const order = { commandId, baseRevision }
    if (action.kind === 'command') return api.command(projectId, order, action.command)
    if (action.kind === 'back') return api.backTo(projectId, order, action.revision)
    return action.kind === 'undo' ? api.undo(projectId, order) : api.redo(projectId, order)
  }

  /** Takes over what the server says happened and lays the rest of the own work over it again. */
  function accept(entries: readonly ChangeEntry[], rest: readonly Pending[]): void {
    for (const entry of entries) {
      if (entry.revision !== revision.value + 1 || !confirmed) continue
      confirmed = applyChanges(confirmed, entry.changes)
      revision.value = entry.revision
    }
    setPending(rest)
    replay()
  }

  function replay(): void {
    if (!confirmed) return
    let current = confirmed
    for (const { action } of pending.value) {
      if (action.kind !== 'command') continue
      const applied = applyCommand(current, catalog.value, action.command)
      if (applied.ok) current = applied.plan
    }
    plan.value = current
  }

  function listen(): void {
    events = api.events(id.value)
    events.onmessage = ({ data }) => {
      if (link.value === 'away' && pending.value.length === 0) link.value = 'saved'
      if (Number(data) > revision.value && !sending) void catchUp().catch(() => undefined)
    }
    events.onopen = () => void usePresence().ask()
    events.addEventListener('presence', ({ data }) => usePresence().hear(JSON.parse(data as string) as Presence))
    events.onerror = () => {
      link.value = 'away'
      // A browser gives up for good when the answer is no event stream, as while the server starts.
      if (events?.readyState === EventSource.CLOSED) setTimeout(listen, retryMs)
    }
  }

  async function catchUp(): Promise<void> {
    const { entries } = await api.changesSince(id.value, revision.value)
    accept(entries, pending.value)
  }

  async function needCatalogs(): Promise<void> {
    if (!plan.value) return
    await shelf.need(filesOfPlan(plan.value)).catch(() => undefined)
  }

  function setPending(next: readonly Pending[]): void {
    pending.value = next
    savePending(id.value, next)
  }

  function tell(sentence: string): void {
    refusal.value = { sentence }
  }

  return { id, revision, plan, catalog, derived, findings, pending, link, failure, refusal, open, close, run, whyNot, newlyWrong, backTo, undo, redo, tell }
})
