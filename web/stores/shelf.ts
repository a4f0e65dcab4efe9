import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { DeviceFile, Problem } from '@kataxis/core'
import { api, RefusedByServer, type ShelfFile } from '../api/client'

export interface Arrival {
  readonly name: string
  readonly state: 'reading' | 'new' | 'known' | 'refused'
  readonly sha256: string | null
  readonly sentence: string
  readonly problems: readonly Problem[]
}

/** The Shelf: its files, what just arrived, and the catalogs that were looked at. */
export const useShelf = defineStore('shelf', () => {
  const files = shallowRef<readonly ShelfFile[]>([])
  const arrivals = ref<Arrival[]>([])
  const catalogs = shallowRef<ReadonlyMap<string, DeviceFile>>(new Map())

  async function refresh(): Promise<void> {
    files.value = (await api.files()).files
  }

  /** Loads catalogs that are not here yet; one that the server does not have stays missing. */
  async function need(hashes: Iterable<string>): Promise<void> {
    const missing = [...new Set(hashes)].filter((hash) => !catalogs.value.has(hash))
    if (missing.length === 0) return
    const loaded = await Promise.all(missing.map((hash) => api.catalog(hash).then((file) => [hash, file] as const, ifMissing)))
    catalogs.value = new Map([...catalogs.value, ...loaded.filter((entry) => entry !== null)])
  }

  async function add(incoming: readonly File[]): Promise<void> {
    for (const file of incoming) {
      arrivals.value.unshift({ name: file.name, state: 'reading', sha256: null, sentence: 'is being read …', problems: [] })
      const arrival = await bringIn(file)
      arrivals.value[0] = arrival
    }
    await refresh()
  }

  async function remove(sha256: string): Promise<void> {
    await api.removeFile(sha256)
    arrivals.value = arrivals.value.filter((arrival) => arrival.sha256 !== sha256)
    await refresh()
  }

  return { files, arrivals, catalogs, refresh, need, add, remove }
})

async function bringIn(file: File): Promise<Arrival> {
  try {
    const { sha256, isNew } = await api.addFile(file)
    const sentence = isNew ? 'is on the Shelf now.' : 'was on the Shelf already, the same to the byte.'
    return { name: file.name, state: isNew ? 'new' : 'known', sha256, sentence, problems: [] }
  } catch (error) {
    const problems = error instanceof RefusedByServer ? error.problems : []
    return { name: file.name, state: 'refused', sha256: null, sentence: (error as Error).message, problems }
  }
}

function ifMissing(error: unknown): null {
  if (error instanceof RefusedByServer) return null
  throw error
}
