import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  readerVersion,
  unpackFile,
  type DeviceFile,
  type PackedFile,
  type Problem,
} from '@kataxis/core'
import { api, RefusedByServer, type Arrived, type ShelfFile } from '../api/client'
import { useJobs } from './jobs'
import { keepCatalog, storedCatalog } from '../local/work'

/** One file on its way to the Shelf, or what became of it. */
export interface Arrival {
  readonly id: number
  readonly name: string
  readonly state: 'waiting' | 'sending' | 'reading' | 'cancelled' | Arrived['state']
  /** Share of it that is sent, 0 to 1. */
  readonly sent: number
  /** Files of a package that have been read, of how many. */
  readonly done?: number
  readonly total?: number
  readonly sha256: string | null
  readonly sentence: string
  readonly problems: readonly Problem[]
  /** Still there for a refused file, so that its lines can be shown. */
  readonly file: File | null
}

const atOnce = 3

/** The Shelf: its files, what is arriving, and the catalogs that were looked at. */
export const useShelf = defineStore('shelf', () => {
  const jobs = useJobs()
  const files = shallowRef<readonly ShelfFile[]>([])
  const arrivals = ref<Arrival[]>([])
  const catalogs = shallowRef<ReadonlyMap<string, DeviceFile>>(new Map())
  let nextId = 0
  let cancelling = new AbortController()

  const isArriving = computed(() =>
    arrivals.value.some(
      ({ state }) => state === 'waiting' || state === 'sending' || state === 'reading',
    ),
  )

  async function refresh(): Promise<void> {
    files.value = (await api.files()).files
  }

  /** Loads catalogs that are not here yet; one that the server does not have stays missing. */
  async function need(hashes: Iterable<string>): Promise<void> {
    const missing = [...new Set(hashes)].filter((hash) => !catalogs.value.has(hash))
    if (missing.length === 0) return
    const loaded = await Promise.all(
      missing.map((hash) => loadCatalog(hash).then((file) => file && ([hash, file] as const))),
    )
    catalogs.value = new Map([...catalogs.value, ...loaded.filter((entry) => entry !== null)])
  }

  /** Brings files in, a few at a time; each one's state is seen in `arrivals`. */
  async function add(incoming: readonly File[]): Promise<void> {
    if (!isArriving.value) cancelling = new AbortController()
    const { signal } = cancelling
    const queue = incoming.map((file): Arrival => ({
      id: nextId++,
      name: file.name,
      state: 'waiting',
      sent: 0,
      sha256: null,
      sentence: '',
      problems: [],
      file,
    }))
    arrivals.value = [...queue, ...arrivals.value]
    const work = async () => {
      for (let next = queue.shift(); next; next = queue.shift()) await bringIn(next, signal)
    }
    await Promise.all(Array.from({ length: atOnce }, work))
    await refresh()
  }

  async function bringIn(arrival: Arrival, signal: AbortSignal): Promise<void> {
    const { id, file, name } = arrival
    if (signal.aborted || !file)
      return replace(id, [
        { ...arrival, state: 'cancelled', sentence: `${name} was not brought in.`, file: null },
      ])
    try {
      change(id, { state: 'sending' })
      const onSent = (sent: number) => change(id, { sent, state: sent < 1 ? 'sending' : 'reading' })
      const arrived = /\.zip$/i.test(name)
        ? await readPackage(id, file, onSent, signal)
        : (await api.addFile(file, onSent, signal)).arrivals
      replace(
        id,
        arrived.map((one) => ({ ...one, id: nextId++, sent: 1, file: null })),
      )
    } catch (error) {
      if (signal.aborted)
        return replace(id, [
          { ...arrival, state: 'cancelled', sentence: `${name} was not brought in.`, file: null },
        ])
      replace(id, [
        {
          ...arrival,
          state: 'refused',
          sent: 1,
          sentence: (error as Error).message,
          problems: error instanceof RefusedByServer ? error.problems : [],
        },
      ])
    }
  }

  /** What a package holds is read as a job, which tells how far it is. */
  async function readPackage(
    id: number,
    file: File,
    onSent: (share: number) => void,
    signal: AbortSignal,
  ): Promise<readonly Arrived[]> {
    const { job } = await api.beginReading(file, onSent, signal)
    const stop = () => void jobs.cancel(job.id).catch(() => undefined)
    signal.addEventListener('abort', stop)
    const over = jobs.untilOver(job.id, ({ done, total }) => change(id, { done, total }))
    jobs.put(job)
    const { state, sentence } = await over
    signal.removeEventListener('abort', stop)
    if (state === 'failed') throw new Error(sentence)
    const { arrivals: arrived } = await api.jobOutcome(job.id)
    if (state === 'done') void jobs.forget(job.id).catch(() => undefined)
    return arrived
  }

  function change(id: number, set: Partial<Arrival>): void {
    arrivals.value = arrivals.value.map((arrival) =>
      arrival.id === id ? { ...arrival, ...set } : arrival,
    )
  }

  function replace(id: number, by: Arrival[]): void {
    arrivals.value = arrivals.value.flatMap((arrival) => (arrival.id === id ? by : [arrival]))
  }

  function cancel(): void {
    cancelling.abort()
  }

  function forgetArrivals(): void {
    arrivals.value = []
  }

  async function remove(sha256: string): Promise<void> {
    await api.removeFile(sha256)
    arrivals.value = arrivals.value.filter((arrival) => arrival.sha256 !== sha256)
    await refresh()
  }

  return {
    files,
    arrivals,
    isArriving,
    catalogs,
    refresh,
    need,
    add,
    cancel,
    forgetArrivals,
    remove,
  }
})

/** What a reader makes of a file never changes: what this browser has kept needs no server. Null
 *  where there is no such file. */
async function loadCatalog(hash: string): Promise<DeviceFile | null> {
  const kept = await storedCatalog(`${hash} ${readerVersion}`).catch(() => null)
  if (kept !== null) return unpackFile(JSON.parse(kept) as PackedFile)
  try {
    const text = await api.catalogText(hash)
    const file = unpackFile(JSON.parse(text) as PackedFile)
    void keepCatalog(`${hash} ${readerVersion}`, text).catch(() => undefined)
    return file
  } catch (error) {
    if (error instanceof RefusedByServer) return null
    throw error
  }
}
