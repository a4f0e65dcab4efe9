import { blankFile } from '../../catalog/blank'
import type { DeviceFile } from '../../catalog/model'
import type { Position } from '../../vocabulary/problem'
import type { FormatReading } from '../format'
import { SourceText } from '../source-text'
import { blockAt, type BlockKind } from './blocks'
import { buildDevice, buildModules } from './build'
import { readOutside } from './outside'
import { Reading } from './reading'
import { statements, type Statement } from './statements'

/** Why a text is no GSD, or where it was cut off. */
interface Cut {
  readonly message: string
  readonly at: Position
}

/** Reads a GSD file of PROFIBUS DP, revisions 1 to 5 (IEC 61784 CPF 3 / EN 50170, from memory).
 *  What it does not interpret is passed over; `readable` is false where the text is no GSD or a
 *  block is still open at its end. */
export function readGsd(text: string): FormatReading {
  const reading = new Reading()
  const cut = collect(reading, text)
  if (cut) {
    reading.problems.error('gsd.cut', cut.message, cut.at)
    return {
      readable: false,
      file: { ...blankFile, format: 'gsd', problems: reading.problems.list },
    }
  }
  settle(reading)
  return {
    readable: reading.facts.has('ident_number') || reading.facts.has('model_name'),
    file: build(reading),
  }
}

function collect(reading: Reading, text: string): Cut | null {
  const source = new SourceText(text)
  let block: { readonly kind: BlockKind; readonly at: Statement } | null = null
  let headSeen = false
  for (const statement of statements(source, reading.problems)) {
    const { keyword } = statement
    const begun = blockAt(statement)
    if (block) {
      const { kind, at } = block
      if (keyword === kind.ends) {
        kind.end?.(reading)
        block = null
      } else if (begun)
        return {
          message: `"${at.keyword}" of line ${at.line} has no ${kind.ends} before the next block begins.`,
          at: statement,
        }
      else kind.inside(reading, statement)
    } else if (!headSeen) {
      if (keyword !== '#profibus_dp')
        return {
          message: `The file begins with "${keyword.slice(0, 40)}"; a GSD file begins with #Profibus_DP.`,
          at: statement,
        }
      headSeen = true
    } else if (begun) {
      block = { kind: begun, at: statement }
      begun.begin?.(reading, statement)
    } else readOutside(reading, statement)
  }
  if (block)
    return {
      message: `The file is cut off: "${block.at.keyword}" of line ${block.at.line} has no ${block.kind.ends}.`,
      at: source.placeAt(text.length),
    }
  return headSeen ? null : { message: 'The file has no #Profibus_DP.', at: { line: 1, column: 1 } }
}

/** Helps stand apart from what they help with; and what every file must give. */
function settle({ diagnoses, helps, facts, problems }: Reading): void {
  for (const [i, diagnosis] of diagnoses.entries())
    diagnoses[i] = { ...diagnosis, help: helps.get(diagnosis.code) ?? '' }
  for (const required of ['vendor_name', 'model_name', 'ident_number']) {
    if (!facts.has(required))
      problems.error('gsd.missing', `${required} is missing; a GSD file must give it.`, {
        line: 1,
        column: 1,
      })
  }
}

function build(reading: Reading): DeviceFile {
  const { problems } = reading
  const modules = buildModules(reading)
  const device = buildDevice(reading, modules)
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    ...blankFile,
    format: 'gsd',
    formatVersion: reading.text('gsd_revision'),
    vendor: { id: null, name: reading.text('vendor_name') ?? '' },
    family: {
      main: reading.text('slave_family') ?? '',
      product: reading.text('model_name') ?? '',
    },
    devices: [device],
    modules,
    diagnoses: reading.diagnoses,
    problems: problems.list,
  }
}
