import type { Catalog, DeviceFile } from '@kataxis/core'
import type { Connection } from '../db/connect'
import { loadCatalogs } from '../repositories/files'

const mostKept = 300

/** Parsed descriptions, kept in memory because they never change; the least recently used go
 *  first. */
export class Catalogs {
  private readonly kept = new Map<string, DeviceFile>()

  /** A file that was thrown away. */
  forget(hash: string): void {
    this.kept.delete(hash)
  }

  async load(db: Connection, hashes: Iterable<string>): Promise<Catalog> {
    const wanted = new Set(hashes)
    const missing = [...wanted].filter((hash) => !this.kept.has(hash))
    for (const { sha256, catalog } of await loadCatalogs(db, missing))
      this.kept.set(sha256, catalog)
    const found = new Map<string, DeviceFile>()
    for (const hash of wanted) {
      const file = this.kept.get(hash)
      if (!file) continue
      found.set(hash, file)
      this.kept.delete(hash)
      this.kept.set(hash, file)
    }
    for (const hash of this.kept.keys()) {
      if (this.kept.size <= mostKept) break
      this.kept.delete(hash)
    }
    return found
  }
}
