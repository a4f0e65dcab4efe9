import { defineStore } from 'pinia'
import { hub, type Listener } from '../live/hub'

/** What the server tells of the project that is open: one source of events, whoever listens. */
export const useLive = defineStore('live', () => {
  const listeners: Partial<Listener>[] = []
  const toAll: Listener = {
    revision: (revision, epoch) => listeners.forEach((one) => one.revision?.(revision, epoch)),
    presence: (presence) => listeners.forEach((one) => one.presence?.(presence)),
    job: (job) => listeners.forEach((one) => one.job?.(job)),
    heard: (isUp) => listeners.forEach((one) => one.heard?.(isUp)),
  }
  let stop: (() => void) | null = null

  /** For stores, which live as long as the page does. */
  function listen(listener: Partial<Listener>): void {
    listeners.push(listener)
  }

  function follow(project: string): void {
    stop?.()
    stop = hub.follow(project, toAll)
  }

  function leave(): void {
    stop?.()
    stop = null
  }

  return { listen, follow, leave }
})
