import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import type { ExportName, ExportOptions, JobView } from '@kataxis/core'
import { api } from '../api/client'
import { useLive } from './live'

/** How often a job that somebody waits for is asked for where nothing is heard of it. */
const askMs = 3000

const isOver = ({ state }: JobView) => state !== 'waiting' && state !== 'running'

/** Long work of the person who is signed in: how far it is, and what came of it. */
export const useJobs = defineStore('jobs', () => {
  const jobs = shallowRef<readonly JobView[]>([])
  const running = computed(() => jobs.value.filter((job) => !isOver(job)))
  /** Ended since the page was opened, and nobody has looked at the list since. */
  const unseen = shallowRef<ReadonlySet<string>>(new Set())
  const waiting = new Map<string, (job: JobView) => void>()

  function put(job: JobView): void {
    const known = jobs.value.find(({ id }) => id === job.id)
    // An answer may be older than what was heard since.
    if (known && isOver(known) && !isOver(job)) return
    if (known && !isOver(known) && isOver(job)) unseen.value = new Set([...unseen.value, job.id])
    jobs.value = known
      ? jobs.value.map((one) => (one.id === job.id ? job : one))
      : [job, ...jobs.value]
    waiting.get(job.id)?.(job)
  }

  async function refresh(): Promise<void> {
    const { jobs: all } = await api.jobs()
    for (const job of all.toReversed()) put(job)
    const there = new Set(all.map(({ id }) => id))
    jobs.value = jobs.value.filter(({ id }) => there.has(id))
  }
  useLive().listen({
    job: put,
    heard: (isUp) => isUp && void refresh().catch(() => undefined),
  })

  async function beginExport(
    project: string,
    format: ExportName,
    options: Partial<ExportOptions> = {},
  ): Promise<void> {
    put((await api.beginExport(project, format, options)).job)
  }

  /** Until the job has ended; tells on the way how far it is. */
  function untilOver(id: string, told: (job: JobView) => void): Promise<JobView> {
    return new Promise((resolve) => {
      const timer = setInterval(
        () =>
          void api.jobOutcome(id).then(
            ({ job }) => put(job),
            () => undefined,
          ),
        askMs,
      )
      waiting.set(id, (job) => {
        told(job)
        if (!isOver(job)) return
        clearInterval(timer)
        waiting.delete(id)
        resolve(job)
      })
    })
  }

  async function cancel(id: string): Promise<void> {
    put((await api.cancelJob(id)).job)
  }

  async function forget(id: string): Promise<void> {
    await api.forgetJob(id)
    jobs.value = jobs.value.filter((job) => job.id !== id)
  }

  const look = () => (unseen.value = new Set())

  return { jobs, running, unseen, put, refresh, beginExport, untilOver, cancel, forget, look }
})
