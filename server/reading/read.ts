import { createHash } from 'node:crypto'
import {
  isZip,
  itemsOf,
  packFile,
  readDeviceFile,
  summarise,
  unpack,
  type FileSummary,
  type FormatName,
  type NamedBytes,
  type Problem,
} from '@kataxis/core'

export interface ReadingTask {
  readonly name: string
  readonly bytes: Uint8Array
  /** Of the texts; left out: the file's primary one. */
  readonly language?: string
}

/** What one description file gave; its catalog and items are JSON in UTF-8 already and go into the
 *  database as they are. */
export type Reading =
  | {
      readonly name: string
      readonly ok: true
      readonly sha256: string
      readonly content: Uint8Array
      readonly summary: FileSummary
      readonly catalog: Uint8Array
      readonly items: Uint8Array
    }
  | {
      readonly name: string
      readonly ok: false
      readonly format: FormatName | null
      readonly problems: readonly Problem[]
    }

/** Somebody who takes packages apart and reads files. */
export interface Reader {
  readonly unpack: (task: ReadingTask) => Promise<(ReadingTask | Reading)[]>
  readonly read: (task: ReadingTask) => Promise<Reading>
}

/** Reads where it is called. */
export const readHere: Reader = {
  unpack: (task) => Promise.resolve(filesOf(task)),
  read: (task) => Promise.resolve(readOne(task)),
}

/** The description files of what came, one or a ZIP of them; what cannot be unpacked is told like a
 *  file that cannot be read. */
export function filesOf({ name, bytes, language }: ReadingTask): (ReadingTask | Reading)[] {
  if (!isZip(bytes)) return [{ name, bytes, ...(language !== undefined && { language }) }]
  const unpacked = unpack(bytes)
  if ('fault' in unpacked) return [refused(name, 'zip', unpacked.fault)]
  return [
    ...unpacked.files.map((file: NamedBytes) => ({
      name: file.name,
      bytes: Uint8Array.from(file.bytes),
    })),
    ...unpacked.refused.map((file) => refused(file.name, 'zip', file.fault)),
  ]
}

export function readOne({ name, bytes, language }: ReadingTask): Reading {
  const { format, file, problems } = readDeviceFile(bytes, name, {
    ...(language !== undefined && { language }),
  })
  if (!file) return { name, ok: false, format, problems: problems.slice(0, 100) }
  const [catalog, items] = [JSON.stringify(packFile(file)), JSON.stringify(itemsOf(file))]
  // NUL and halves of surrogate pairs: JSON writes them as escapes, and no database keeps them.
  if (/(?<!\\)(?:\\\\)*\\u(?:0000|d[89a-f])/.test(catalog))
    return refused(
      name,
      'text.character',
      'a text in it holds a character that cannot be kept (NUL or half of a surrogate pair).',
    )
  const sha256 = createHash('sha256').update(bytes).digest('hex')
  const utf8 = new TextEncoder()
  return {
    name,
    ok: true,
    sha256,
    content: Uint8Array.from(bytes),
    summary: summarise(file),
    catalog: utf8.encode(catalog),
    items: utf8.encode(items),
  }
}

export function refused(name: string, code: string, message: string): Reading {
  return {
    name,
    ok: false,
    format: null,
    problems: [{ severity: 'error', code, message, line: 1, column: 1 }],
  }
}
