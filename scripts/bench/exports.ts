import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { derive, writeExport, type ExportName } from '@kataxis/core'
import { largePlan } from '../../demo/large-plan'
import { compareAsync, type Ratio } from './measure'

/** Exports of a plan of 128,000 channels, XML formats of 50,000, against the least that anybody could do: text of the same
 *  length put together piece by piece, one for each cell or word, and encoded; for a workbook its
 *  parts, put together the same way and packed. */

const stationCount = 500
/** Of 256 channels each. */
const xmlStations = 196
const pieces = (text: string, separator: RegExp) => text.split(separator)

function writeBare(words: readonly string[]): Uint8Array {
  let text = ''
  for (const word of words) text += word
  return new TextEncoder().encode(text)
}

function bareMarkup(bytes: Uint8Array): () => Uint8Array {
  const words = pieces(new TextDecoder().decode(bytes), /(?=<)/)
  return () => writeBare(words)
}

const bares: Readonly<Record<string, (bytes: Uint8Array) => () => Uint8Array>> = {
  csv: (bytes) => {
    const words = pieces(new TextDecoder().decode(bytes), /(?<=[,\n])/)
    return () => writeBare(words)
  },
  declarations: (bytes) => {
    const words = pieces(new TextDecoder().decode(bytes), /(?<=[ \n])/)
    return () => writeBare(words)
  },
  plcopen: bareMarkup,
  caex: bareMarkup,
  xlsx: (bytes) => {
    const parts = Object.entries(unzipSync(bytes)).map(
      ([name, content]) => [name, pieces(strFromU8(content), /(?<=>)(?=<c )/)] as const,
    )
    return () =>
      zipSync(Object.fromEntries(parts.map(([name, words]) => [name, strToU8(words.join(''))])))
  },
}

export async function measureExport(name: ExportName, pairs?: number): Promise<Ratio> {
  const large = largePlan(name === 'caex' || name === 'plcopen' ? xmlStations : stationCount)
  const input = {
    derived: derive(large.plan, large.catalog),
    revision: 1,
    blockers: 0,
    files: [],
    loadFile: () => Promise.resolve(null),
  }
  const bare = bares[name]!(await writeExport(name, input))
  return compareAsync(
    () => writeExport(name, input),
    () => Promise.resolve(bare()),
    pairs,
  )
}
