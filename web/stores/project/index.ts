import { defineStore } from 'pinia'
import { watch } from 'vue'
import { filesOfPlan, newId } from '@kataxis/core'
import { api, ServerAway } from '../../api/client'
import { useLive } from '../live'
import { useSession } from '../session'
import { useShelf } from '../shelf'
import { Patience, pause } from '../waiting'
import { PlanCopy } from './copy'
import { Outbox } from './outbox'
import { ProjectState } from './state'
import { post, TakesBack } from './taking-back'
import { Trying } from './trying'

const takeOverMs = 4000
/** Room for the first frames of a project before everything is checked. */
const showMs = 100

/** The open project: its plan, what waits to be sent, and what can be done to it. */
export const useProject = defineStore('project', () => {
  const session = useSession()
  const shelf = useShelf()
  const live = useLive()
  const state = new ProjectState(() => shelf.catalogs)
  const outbox: Outbox = new Outbox({
    state,
    user: () => session.user,
    post,
    accept: (told) => copy.accept(told),
    refused: async ({ action }, error) => {
      back.refused(action, error)
      await copy.catchUp().catch(() => undefined)
      copy.replay()
    },
    laidAnew: () => copy.replay(),
    begunAnew: () => copy.beginAnew(),
  })
  const copy = new PlanCopy(state, outbox, shelf)
  const back = new TakesBack(state, outbox)
  const { run, whyNot, newlyWrong } = new Trying(state, outbox, session)
  const { open, close } = opening(state, outbox, copy)

  live.listen({
    revision: (at, epoch) => copy.heardOf(at, epoch),
    heard: (isUp) => {
      if (isUp) outbox.hurry()
      else outbox.link.value = 'away'
    },
  })
  watch(
    () => [state.plan.value?.stations, state.plan.value?.project.supplements],
    () => {
      const plan = state.plan.value
      if (plan) void shelf.need(filesOfPlan(plan)).catch(() => undefined)
    },
  )

  async function repair(): Promise<void> {
    const order = {
      commandId: newId(),
      baseRevision: state.revision.value,
      epoch: state.epoch,
    }
    try {
      await api.repair(state.id.value, order)
      await copy.load(state.id.value)
    } catch (error) {
      state.tell((error as Error).message)
    }
  }

  const { id, revision, plan, catalog, derived, findings, tell } = state
  const { failure, refusal, isOffline, damage, blocked } = state
  const { pending, aside, others, link, words: linkWords, retry, discard } = outbox
  const { backTo, undo, redo, skipBlocked, takeBackWithDependents } = back
  return {
    ...{ id, revision, plan, catalog, derived, findings, tell },
    ...{ failure, refusal, isOffline, damage, blocked },
    ...{ pending, aside, others, link, linkWords, retry, discard },
    ...{ backTo, undo, redo, skipBlocked, takeBackWithDependents },
    ...{ open, close, run, whyNot, newlyWrong, repair },
  }
})

function opening(state: ProjectState, outbox: Outbox, copy: PlanCopy) {
  const live = useLive()
  const session = useSession()
  let takingOver: ReturnType<typeof setInterval> | undefined

  /** Opens a project; while the server is away from what this browser kept, and tries again by
   *  itself. */
  async function open(projectId: string): Promise<void> {
    close()
    state.id.value = projectId
    // What the person may do here; without an answer the account's role holds, and the server
    // refuses what is not allowed.
    void api.access(projectId).then(
      (access) => state.isOpen(projectId) && (session.access = access),
      () => undefined,
    )
    if (!(await hasLoaded(projectId))) return
    live.follow(projectId)
    await outbox.load(true)
    copy.replay()
    setTimeout(() => (state.hasShown.value = true), showMs)
    takingOver = setInterval(
      () => void outbox.load().then(() => outbox.pending.value.length > 0 && void outbox.send()),
      takeOverMs,
    )
    void outbox.send()
  }

  async function hasLoaded(projectId: string): Promise<boolean> {
    for (const patience = new Patience(); state.isOpen(projectId);) {
      try {
        await copy.load(projectId)
        break
      } catch (error) {
        if (!state.isOpen(projectId)) return false
        if (!(error instanceof ServerAway)) {
          state.failure.value = (error as Error).message
          return false
        }
        if (!state.plan.value) await copy.startOffline(projectId, error.message)
        outbox.link.value = 'away'
        await pause(patience.next())
      }
    }
    return state.isOpen(projectId)
  }

  function close(): void {
    session.access = null
    live.leave()
    clearInterval(takingOver)
    state.clear()
    outbox.clear()
  }

  return { open, close }
}
