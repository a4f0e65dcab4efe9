import {
  compareFiles,
  decodeText,
  readerVersion,
  type Difference,
  type Problem,
} from '@kataxis/core'
import type { Database } from '../db/connect'
import { notFound } from './refused'
import { refusal } from './refusals'
import type { Reader, Reading } from '../reading/read'
import * as filesRepository from '../repositories/files'
import type { Catalogs } from './catalogs'

/** What became of one file that was brought in. */
export interface Arrival {
  readonly name: string
  readonly state: 'new' | 'known' | 'refused'
  readonly sha256: string | null
  readonly sentence: string
  readonly problems: readonly Problem[]
}

const mostHits = 120

/** The description files that projects can use; each stands there once, by the hash of its
 *  bytes. */
export class Shelf {
  constructor(
    private readonly db: Database,
    private readonly reader: Reader,
    private readonly catalogs: Catalogs,
  ) {}

  list() {
    return filesRepository.listFiles(this.db)
  }

  /** Reads and keeps a file or all files of a ZIP; one that cannot be read leaves nothing behind.
   *  Tells after each how far it is, and stops between two when that is wanted. */
  async add(
    name: string,
    bytes: Uint8Array,
    report: (done: number, total: number) => void = () => undefined,
    signal?: AbortSignal,
  ): Promise<Arrival[]> {
    const parts = await this.reader.unpack({ name, bytes })
    let done = 0
    return Promise.all(
      parts.map(async (part) => {
        const reading = 'ok' in part ? part : await this.reader.read(part)
        signal?.throwIfAborted()
        const arrival = await this.keep(reading)
        report(++done, parts.length)
        return arrival
      }),
    )
  }

  private async keep(reading: Reading): Promise<Arrival> {
    const { name } = reading
    if (!reading.ok) {
      const first =
        reading.problems.findLast(({ severity }) => severity === 'error') ?? reading.problems[0]
      return {
        name,
        state: 'refused',
        sha256: null,
        sentence: `${name}, line ${first?.line ?? 1}: ${first?.message ?? 'it cannot be read.'}`,
        problems: reading.problems,
      }
    }
    const { sha256 } = reading
    const isNew = await filesRepository.insertFile(this.db, { ...reading, reader: readerVersion })
    return {
      name,
      state: isNew ? 'new' : 'known',
      sha256,
      sentence: isNew
        ? `${name} is on the Shelf now.`
        : `${name} was on the Shelf already, the same to the byte.`,
      problems: [],
    }
  }

  /** Reads anew what an older reader of this program left on the Shelf. */
  async refreshOutdated(): Promise<number> {
    const outdated = await filesRepository.filesOfOlderReaders(this.db, readerVersion)
    for (const { sha256, name } of outdated) {
      const { content } = await this.content(sha256)
      const reading = await this.reader.read({ name, bytes: content })
      if (reading.ok)
        await filesRepository.replaceCatalog(this.db, { ...reading, reader: readerVersion })
    }
    return outdated.length
  }

  async search(text: string) {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8)
    if (words.length === 0) return { hits: [], isComplete: true }
    const hits = await filesRepository.searchItems(this.db, words, mostHits + 1)
    const weight = ({ orderNumber, name }: filesRepository.Hit) => {
      const order = orderNumber?.toLowerCase() ?? ''
      return order === words[0]
        ? 0
        : order.startsWith(words[0]!)
          ? 1
          : name.toLowerCase().startsWith(words[0]!)
            ? 2
            : 3
    }
    return {
      hits: hits.slice(0, mostHits).sort((a, b) => weight(a) - weight(b)),
      isComplete: hits.length <= mostHits,
    }
  }

  async packed(sha256: string): Promise<string> {
    const packed = await filesRepository.loadPacked(this.db, sha256)
    if (packed === null) throw notFound('description file')
    return packed
  }

  /** The packed catalog with its texts in another of the file's languages; read anew, never
   *  stored. */
  async inLanguage(sha256: string, language: string): Promise<Uint8Array> {
    const { name, content } = await this.content(sha256)
    const reading = await this.reader.read({ name, bytes: content, language })
    if (!reading.ok) throw notFound('description file')
    return reading.catalog
  }

  /** Lines of the file as text, from 1; what lies beyond its end is left out. */
  async lines(sha256: string, from: number, to: number): Promise<string[]> {
    const decoded = decodeText((await this.content(sha256)).content)
    return 'text' in decoded
      ? decoded.text
          .split(/\r\n?|\n/)
          .slice(from - 1, to)
          .map((line) => line.slice(0, 2000))
      : []
  }

  async compare(older: string, newer: string): Promise<Difference[]> {
    const catalog = await this.catalogs.load(this.db, [older, newer])
    const [before, after] = [catalog.get(older), catalog.get(newer)]
    if (!before || !after) throw notFound('description file')
    return compareFiles(before, after)
  }

  uses(sha256: string): Promise<filesRepository.Use[]> {
    return filesRepository.usesOf(this.db, sha256)
  }

  async content(sha256: string): Promise<{ name: string; content: Uint8Array }> {
    const found = await filesRepository.loadContent(this.db, sha256)
    if (!found) throw notFound('description file')
    return found
  }

  async names(hashes: Iterable<string>) {
    return filesRepository.fileNames(this.db, [...hashes])
  }

  /** Throws an unused file away. Whoever is just beginning to use it is waited for; who comes later
   *  finds it gone. */
  async remove(sha256: string): Promise<void> {
    await this.db.transaction(async (tx) => {
      if (!(await filesRepository.lockForRemoval(tx, sha256))) throw notFound('description file')
      const uses = await filesRepository.usesOf(tx, sha256)
      if (uses.length > 0) {
        const where = uses
          .slice(0, 3)
          .map(({ project, station }) => `${station} in ${project}`)
          .join(', ')
        throw refusal('file.used', { where, more: uses.length - 3 })
      }
      await filesRepository.deleteFile(tx, sha256)
    })
    this.catalogs.forget(sha256)
  }
}
