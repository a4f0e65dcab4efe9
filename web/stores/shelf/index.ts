import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { readerVersion, unpackFile, type DeviceFile, type PackedFile } from '@kataxis/core'
import { api, RefusedByServer, type ShelfFile } from '../../api/client'
import { keepCatalog, storedCatalog } from '../../local/work'
import { useJobs } from '../jobs'
import { Arrivals } from './arrivals'

export type { Arrival } from './arrivals'

/** The Shelf: its files, what is arriving, and the catalogs that were looked at. */
export const useShelf = defineStore('shelf', () => {
  const incoming = new Arrivals(useJobs())
  const files = shallowRef<readonly ShelfFile[]>([])
  const catalogs = shallowRef<ReadonlyMap<string, DeviceFile>>(new Map())

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

  async function add(more: readonly File[]): Promise<void> {
    await incoming.add(more)
    await refresh()
  }

  async function remove(sha256: string): Promise<void> {
    await api.removeFile(sha256)
    incoming.forgetFile(sha256)
    await refresh()
  }

  const { list: arrivals, isArriving, cancel, forget: forgetArrivals } = incoming
  return {
    ...{ files, arrivals, isArriving, catalogs },
    ...{ refresh, need, add, cancel, forgetArrivals, remove },
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
