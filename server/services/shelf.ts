import { createHash } from 'node:crypto'
import { readDeviceFile, summarise } from '@kataxis/core'
import type { Database } from '../db/connect'
import { notFound, Refused } from '../http/refused'
import * as filesRepository from '../repositories/files'

/** The description files that projects can use; each stands there once, by the hash of its bytes. */
export class Shelf {
  constructor(private readonly db: Database) {}

  list() {
    return filesRepository.listFiles(this.db)
  }

  /** Reads and keeps a file; one that cannot be read leaves nothing behind. */
  async add(name: string, content: Uint8Array): Promise<{ sha256: string; isNew: boolean }> {
    const { file, problems } = readDeviceFile(content, name)
    if (!file) {
      const first = problems.findLast(({ severity }) => severity === 'error') ?? problems[0]
      throw new Refused(422, first?.code ?? 'file.unreadable', `${name}, line ${first?.line ?? 1}: ${first?.message ?? 'it cannot be read.'}`, { problems })
    }
    const sha256 = createHash('sha256').update(content).digest('hex')
    const isNew = await filesRepository.insertFile(this.db, { sha256, name, bytes: content.length, content, catalog: file, summary: summarise(file) })
    return { sha256, isNew }
  }

  async content(sha256: string): Promise<{ name: string; content: Uint8Array }> {
    const found = await filesRepository.loadContent(this.db, sha256)
    if (!found) throw notFound('description file')
    return found
  }

  async names(hashes: Iterable<string>) {
    return filesRepository.fileNames(this.db, [...hashes])
  }

  async remove(sha256: string): Promise<void> {
    const uses = await filesRepository.usesOf(this.db, sha256)
    if (uses.length > 0) {
      const where = uses.slice(0, 3).map(({ project, station }) => `${station} in ${project}`).join(', ')
      throw new Refused(409, 'file.used', `The file is used by ${where}${uses.length > 3 ? ` and ${uses.length - 3} more` : ''}; it cannot go while it is.`)
    }
    if (!(await filesRepository.deleteFile(this.db, sha256))) throw notFound('description file')
  }
}
