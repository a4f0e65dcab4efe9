import { computed, ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { newId } from '@kataxis/core'
import { FailedInServer, RefusedByServer, ServerAway, type Told } from '../api/client'
import * as local from '../local/work'
import { tabId, type Action, type Pending, type SetAside } from '../local/work'

/** What the outbox needs of the project that it sends for. */
interface Project {
  readonly id: Ref<string>
  readonly revision: Ref<number>
  readonly epoch: () => string
  readonly user: () => { id: string; fullName: string } | null
  readonly post: (projectId: string, pending: Pending) => Promise<Told>
  /** What happened, with the rest that is still to be sent laid over it. */
  readonly accept: (told: Told) => Promise<void>
  /** The server refused it; the plan is shown as it is without it. */
  readonly refused: (pending: Pending, error: RefusedByServer) => Promise<void>
  readonly laidAnew: () => void
  /** The server's database is another one than the command was meant for: loads the plan anew and
   *  sets such commands aside. */
  readonly begunAnew: () => Promise<void>
}

const firstRetryMs = 1500
const longestRetryMs = 20_000

/** Commands on their way to the server, one after the other. Each is kept in the browser's
 *  database, but sending never waits for that. What cannot be carried out by the program's own
 *  fault is set aside, and the rest goes on. */
export function useOutbox(project: Project) {
  const pending: ShallowRef<readonly Pending[]> = shallowRef([])
  const aside: ShallowRef<readonly SetAside[]> = shallowRef([])
  const others: ShallowRef<readonly { name: string; count: number }[]> = shallowRef([])
  const link = ref<'saved' | 'saving' | 'away'>('saved')
  /** Why the last attempt to keep something in this browser failed; empty where all of it is
   *  kept. */
  const notKept = ref('')
  let sending = false
  /** Whose work it is; under another name nothing of it is sent. */
  let ownerId = ''
  let wake: (() => void) | null = null

  const ownerOf = () => {
    const user = project.user()
    return (
      user && {
        owner: { project: project.id.value, user: user.id, tab: tabId },
        userName: user.fullName,
      }
    )
  }

  async function keeping(work: () => Promise<void>): Promise<void> {
    try {
      await work()
      if (pending.value.length === 0) notKept.value = ''
    } catch (error) {
      notKept.value =
        (error as Error).name === 'QuotaExceededError'
          ? 'the browser’s storage is full'
          : 'the browser keeps nothing'
    }
  }

  /** What was left unsent by windows that are gone, or by this one when it comes back to the project,
   *  and what waits for others or for a decision. */
  async function load(isBack = false): Promise<void> {
    const own = ownerOf()
    if (!own) return
    ownerId = own.owner.user
    const projectId = project.id.value
    await keeping(async () => {
      const left = await local.takeOverPending(own.owner, isBack)
      const [decided, foreign] = [
        await local.asideOf(projectId, own.owner.user),
        await local.pendingOfOthers(projectId, own.owner.user),
      ]
      if (projectId !== project.id.value) return
      aside.value = decided
      others.value = foreign
      const known = new Set(pending.value.map(({ commandId }) => commandId))
      const added = left.filter(({ commandId }) => !known.has(commandId))
      if (added.length > 0) pending.value = [...added, ...pending.value]
    })
  }

  function add(action: Action): void {
    const entry = {
      commandId: newId(),
      baseRevision: project.revision.value,
      epoch: project.epoch(),
      action,
    }
    pending.value = [...pending.value, entry]
    const own = ownerOf()
    if (own) ownerId = own.owner.user
    if (own) void keeping(() => local.keepPending(own.owner, own.userName, entry))
    void send()
  }

  function drop(commandId: string): void {
    pending.value = pending.value.filter((entry) => entry.commandId !== commandId)
    void keeping(() => local.forgetPending(commandId))
  }

  /** Sends until nothing is left; while the server is away it waits and goes on by itself. */
  async function send(): Promise<void> {
    if (sending) return
    sending = true
    const projectId = project.id.value
    let waitMs = firstRetryMs
    try {
      while (pending.value[0] && projectId === project.id.value) {
        const next = pending.value[0]
        if (project.user()?.id !== ownerId) {
          link.value = 'away'
          await pause(waitMs)
          continue
        }
        if (link.value !== 'away') link.value = 'saving'
        try {
          const told = await project.post(projectId, next)
          if (projectId !== project.id.value) break
          waitMs = firstRetryMs
          link.value = 'saved'
          drop(next.commandId)
          await project.accept(told)
        } catch (error) {
          if (error instanceof RefusedByServer && error.code === 'epoch.other') {
            await project.begunAnew().catch(() => pause(waitMs))
          } else if (error instanceof RefusedByServer && error.code === 'plan.old') {
            // Its person decides on the plan as it is now.
            link.value = 'saved'
            await putAside([next], error.message)
            await project.refused(next, error)
          } else if (error instanceof RefusedByServer) {
            link.value = 'saved'
            drop(next.commandId)
            await project.refused(next, error)
          } else if (error instanceof ServerAway) {
            link.value = 'away'
            await pause(error.retryAfterMs ?? waitMs)
            waitMs = Math.min(longestRetryMs, waitMs * 1.6)
          } else {
            // The program's own fault, there or here: sent again and again it would hold up
            // everything behind it.
            const reason =
              error instanceof FailedInServer
                ? error.message
                : `The program failed in this window: ${(error as Error).message}`
            link.value = 'saved'
            await putAside([next], reason)
          }
        }
      }
    } finally {
      sending = false
    }
    if (pending.value.length > 0) void send()
  }

  /** Waits, but not when the server is heard again. */
  function pause(ms: number): Promise<void> {
    return new Promise((go) => {
      const timer = setTimeout(go, ms * (0.8 + Math.random() * 0.4))
      wake = () => {
        clearTimeout(timer)
        go()
      }
    })
  }

  function hurry(): void {
    wake?.()
    if (link.value === 'away' && pending.value.length === 0) link.value = 'saved'
  }

  async function putAside(entries: readonly Pending[], reason: string): Promise<void> {
    const own = ownerOf()
    const ids = new Set(entries.map(({ commandId }) => commandId))
    pending.value = pending.value.filter(({ commandId }) => !ids.has(commandId))
    if (!own) return
    const kept = entries.map(({ commandId, action }) => ({
      commandId,
      project: project.id.value,
      user: own.owner.user,
      action,
      reason,
      at: new Date().toISOString(),
    }))
    aside.value = [...aside.value, ...kept]
    project.laidAnew()
    for (const entry of kept) await keeping(() => local.setAside(entry))
  }

  /** Sends something again that was set aside, as a new change. */
  function retry(entry: SetAside): void {
    discard(entry)
    add(entry.action)
    project.laidAnew()
  }

  function discard({ commandId }: SetAside): void {
    aside.value = aside.value.filter((entry) => entry.commandId !== commandId)
    void keeping(() => local.forgetAside(commandId))
  }

  function clear(): void {
    pending.value = []
    aside.value = []
    others.value = []
    wake?.()
  }

  /** What the state line says. */
  const words = computed(() => {
    const waiting = pending.value.length
    const unkept =
      waiting > 0 && notKept.value !== '' ? ` · not kept over a reload: ${notKept.value}` : ''
    if (link.value === 'away')
      return waiting > 0
        ? `Server away · ${waiting} ${unkept === '' ? 'kept here' : 'waiting'}${unkept}`
        : 'Server away'
    return waiting > 0 ? `Saving …${unkept}` : null
  })

  return {
    pending,
    aside,
    others,
    link,
    notKept,
    words,
    load,
    add,
    send,
    hurry,
    putAside,
    retry,
    discard,
    clear,
    isSending: () => sending,
  }
}
