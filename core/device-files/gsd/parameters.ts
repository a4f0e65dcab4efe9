import type { Parameter, ParameterRecord, ValueKind } from '../../catalog/model'
import { encodeValue } from '../../parameters'
import type { Position, Problems } from '../../vocabulary/problem'
import { checkDefault } from '../default-value'
import { parseNumber, parseOctetList, parseRanges, type Statement } from './statements'
import { toHex } from '../../vocabulary'

/** `ExtUserPrmData`: one kind of value that modules refer to. */
export interface Definition {
  readonly reference: number
  readonly name: string
  type: string
  kind: ValueKind
  bits: number
  offsetBits: number
  default: number
  allowed: [number, number][]
  textReference: number | null
  visible: boolean
  changeable: boolean
  readonly at: Position
}

const types: Readonly<Record<string, { kind: ValueKind; bits: number }>> = {
  unsigned8: { kind: 'unsigned', bits: 8 },
  unsigned16: { kind: 'unsigned', bits: 16 },
  unsigned32: { kind: 'unsigned', bits: 32 },
  signed8: { kind: 'signed', bits: 8 },
  signed16: { kind: 'signed', bits: 16 },
  signed32: { kind: 'signed', bits: 32 },
}
/** User parameter bytes of a station (EN 50170, from memory: 237 in one message, 244 with
 *  extensions). */
const mostOctets = 244
const bitType = /^(bit|bitarea)\s*\(\s*(\d)\s*(?:-\s*(\d)\s*)?\)$/i

/** The type line of an `ExtUserPrmData`, e.g. `BitArea(4-7) 1 0-3` or `Unsigned16 100 1,5,10`;
 *  false where the line is none. */
export function readType(
  definition: Definition,
  line: string,
  statement: Statement,
  problems: Problems,
): boolean {
  const match = /^([a-z]+\d*(?:\s*\([^)]*\))?)\s+(\S+)(?:\s+(.+))?$/i.exec(line.trim())
  if (!match) return false
  const type = match[1]!
  const bitMatch = bitType.exec(type)
  const plain = Object.hasOwn(types, type.toLowerCase()) ? types[type.toLowerCase()] : undefined
  if (!plain && !bitMatch) {
    problems.error(
      'gsd.type',
      `ExtUserPrmData ${definition.reference} has the type "${type}", which the format does not know.`,
      statement,
    )
    return true
  }
  const first = Number(bitMatch?.[2] ?? 0)
  const last = Number(bitMatch?.[3] ?? first)
  if (first > 7 || last > 7 || last < first)
    problems.error(
      'gsd.bits',
      `"${type}" names bits outside one octet or backwards; bits 0 to 7 are there.`,
      statement,
    )
  definition.type = type
  definition.kind = plain?.kind ?? 'unsigned'
  definition.bits = plain?.bits ?? Math.max(1, last - first + 1)
  definition.offsetBits = plain ? 0 : first
  const value = parseNumber(match[2]!)
  if (value === null)
    problems.error(
      'gsd.number',
      `The default of "${definition.name}" is "${match[2]}"; a whole number is needed.`,
      statement,
    )
  definition.default = value ?? 0
  const ranges = match[3] === undefined ? [] : parseRanges(match[3])
  if (!ranges)
    problems.error(
      'gsd.range',
      `The values of "${definition.name}" are "${match[3]}"; ranges such as 0-3 or a list such as 1,5,10 are needed.`,
      statement,
    )
  definition.allowed = ranges ?? []
  if (value !== null && ranges)
    checkDefault({ ...definition, key: definition.name }, statement, problems)
  return true
}

const none: readonly ParameterRecord[] = []

/** User parameter bytes of the device or of a module: constants, references over them. */
export class UserParameters {
  private readonly statements: Statement[] = []
  private settled: readonly ParameterRecord[] | null = null
  /** All that was added, as it was written. */
  written = ''

  get isEmpty(): boolean {
    return this.statements.length === 0
  }

  add(statement: Statement): void {
    this.statements.push(statement)
    this.written += `${statement.keyword}(${statement.argument})${statement.value}\n`
  }

  /** The record, or none where the file gives no user parameters. Numbers of 16 and 32 bits are
   *  big-endian (EN 50170, from memory). */
  settle(
    definitions: ReadonlyMap<number, Definition>,
    texts: ReadonlyMap<number, Record<string, string>>,
    problems: Problems,
  ): readonly ParameterRecord[] {
    return (this.settled ??= this.isEmpty ? none : [this.record(definitions, texts, problems)])
  }

  private record(
    definitions: ReadonlyMap<number, Definition>,
    texts: ReadonlyMap<number, Record<string, string>>,
    problems: Problems,
  ): ParameterRecord {
    const { constants, references, stated } = this.parse(problems)
    const parameters: Parameter[] = []
    const places: Position[] = []
    const often = new Set(
      references
        .map(({ reference }) => reference)
        .filter((reference, i, all) => all.indexOf(reference) !== i),
    )
    for (const { offset, reference, at } of references) {
      const definition = definitions.get(reference)
      if (!definition) {
        problems.error(
          'reference.parameter',
          `ExtUserPrmData ${reference} is named here but does not stand in the file.`,
          at,
        )
        continue
      }
      const { type, kind, bits, offsetBits, allowed, visible, changeable, name, textReference } =
        definition
      const words = textReference === null ? {} : texts.get(textReference)
      if (!words)
        problems.error(
          'reference.text',
          `PrmText ${textReference} is named by ExtUserPrmData ${reference} but does not stand in the file.`,
          definition.at,
        )
      places.push(at)
      parameters.push({
        key: often.has(reference) ? `${reference}@${offset}` : String(reference),
        name,
        type,
        kind,
        byteOrder: 'big',
        offsetBytes: offset,
        offsetBits,
        bits,
        default: definition.default,
        allowed,
        texts: words ?? {},
        visible,
        changeable,
      })
    }
    const extent = Math.max(
      0,
      ...constants.map(({ offset, octets }) => offset + octets.length),
      ...parameters.map(({ offsetBytes, bits }) => offsetBytes + Math.ceil(bits / 8)),
    )
    const length = stated ?? extent
    const bytes = new Uint8Array(length)
    for (const { offset, octets, at } of constants) {
      if (offset + octets.length > length)
        problems.error(
          'record.length',
          `These constants end at octet ${offset + octets.length}; the parameter bytes have ${length}.`,
          at,
        )
      bytes.set(octets.slice(0, Math.max(0, length - offset)), Math.min(offset, length))
    }
    for (const [i, parameter] of parameters.entries()) {
      if (parameter.offsetBytes + Math.ceil(parameter.bits / 8) > length) {
        problems.error(
          'record.length',
          `Parameter "${parameter.name}" ends after the ${length} parameter bytes.`,
          places[i]!,
        )
      }
      encodeValue(bytes, parameter, parameter.default)
    }
    return { index: null, length, bytes: toHex(bytes), parameters }
  }

  private parse(problems: Problems) {
    const constants: { offset: number; octets: number[]; at: Position }[] = []
    const references: { offset: number; reference: number; at: Position }[] = []
    let stated: number | null = null
    for (const statement of this.statements) {
      const { keyword, argument, value } = statement
      const offset = parseNumber(argument ?? '0')
      const isPlace = offset !== null && offset >= 0 && offset <= mostOctets
      if (keyword.endsWith('_len')) {
        stated = numberOf(statement, problems, 0, mostOctets)
      } else if (keyword.endsWith('_ref')) {
        const reference = parseNumber(value)
        if (!isPlace || reference === null)
          problems.error(
            'gsd.number',
            `${statement.written}(${argument ?? ''}) = ${value}: an offset up to ${mostOctets} and a reference number are needed.`,
            statement,
          )
        else references.push({ offset, reference, at: statement })
      } else {
        const octets = parseOctetList(value)
        if (!octets || !isPlace)
          problems.error(
            'gsd.octets',
            `"${value}" are no octets for offset ${argument ?? 0}; a list such as 0x00,0x1F at an offset up to ${mostOctets} is needed.`,
            statement,
          )
        else constants.push({ offset, octets, at: statement })
      }
    }
    return { constants, references, stated }
  }
}

/** The statement's value as a whole number within bounds; null with a problem where it is none. */
export function numberOf(
  statement: Statement,
  problems: Problems,
  from = 0,
  to = 0xffffffff,
): number | null {
  const value = parseNumber(statement.value)
  if (value === null)
    problems.error(
      'gsd.number',
      `${statement.written} is "${statement.value}"; a whole number is needed.`,
      statement,
    )
  else if (value < from || value > to)
    problems.error(
      'gsd.number',
      `${statement.written} is ${statement.value}; it must lie between ${from} and ${to}.`,
      statement,
    )
  else return value
  return null
}
