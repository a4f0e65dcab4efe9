import { createHash } from 'node:crypto'
import { isZip, itemsOf, packFile, readDeviceFile, summarise, unpack, type FileSummary, type FormatName, type Problem } from '@kataxis/core'

export interface ReadingTask {
  readonly name: string
  readonly bytes: Uint8Array
  /** Of the texts; left out: the file's primary one. */
  readonly language?: string
}

/** What one description file gave; big parts are JSON text already, which goes into the database as it is. */
export type Reading =
  | { readonly name: string; readonly ok: true; readonly sha256: string; readonly content: Uint8Array; readonly summary: FileSummary; readonly catalog: string; readonly items: string }
  | { readonly name: string; readonly ok: false; readonly format: FormatName | null; readonly problems: readonly Problem[] }

/** Reads a description file, or every one of a ZIP. Runs in a worker thread. */
export default function read({ name, bytes, language }: ReadingTask): Reading[] {
  if (!isZip(bytes)) return [readOne(name, bytes, language)]
  const unpacked = unpack(bytes)
  if ('fault' in unpacked) return [{ name, ok: false, format: null, problems: [{ severity: 'error', code: 'zip', message: unpacked.fault, line: 1, column: 1 }] }]
  return unpacked.files.map((file) => readOne(file.name, file.bytes))
}

function readOne(name: string, bytes: Uint8Array, language?: string): Reading {
  const { format, file, problems } = readDeviceFile(bytes, name, { language })
  if (!file) return { name, ok: false, format, problems: problems.slice(0, 100) }
  const sha256 = createHash('sha256').update(bytes).digest('hex')
  // A copy of its own: bytes out of a ZIP may be a window on something larger.
  return { name, ok: true, sha256, content: Uint8Array.from(bytes), summary: summarise(file), catalog: JSON.stringify(packFile(file)), items: JSON.stringify(itemsOf(file)) }
}
