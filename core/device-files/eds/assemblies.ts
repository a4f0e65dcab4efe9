import { cipTypeOf } from '../../catalog/cip-types'
import type { DataItem, Parameter, ParameterRecord } from '../../catalog/model'
import { encodeValue, type ValuePlace } from '../../parameters'
import { portNumberIn } from '../../vocabulary/port'
import type { Problems } from '../../vocabulary/problem'
import type { Entry } from './entries'
import { parseEdsNumber } from './numbers'
import { assemblyInstance, parsePath } from '../../protocols/ethernet-ip/paths'
import { toHex } from '../../vocabulary'

/** `ParamN`, still without a place in a record. */
export type EdsParameter = { -readonly [K in keyof Parameter]: Parameter[K] }

/** One member of an assembly, laid out: bit by bit from the least significant one of its first
 *  octet. */
interface Member {
  readonly offset: number
  readonly bits: number
  readonly parameter: EdsParameter | null
  readonly literal: number | null
}

interface Laid {
  readonly members: readonly Member[]
  readonly bits: number
}

const nothing: Laid = { members: [], bits: 0 }
const deepest = 8
/** Of an assembly: 64 KiB, more than a connection can carry. */
const mostBits = 8 * 65_535

/** The assemblies of a file, members nested and laid out on demand. */
export class Assemblies {
  private readonly entries = new Map<string, Entry>()
  private readonly laid = new Map<string, Laid>()

  constructor(
    private readonly parameters: ReadonlyMap<string, EdsParameter>,
    private readonly problems: Problems,
  ) {}

  add(entry: Entry): void {
    const key = entry.name.toLowerCase()
    if (this.entries.has(key))
      this.problems.error('id.duplicate', `${entry.name} stands more than once in the file.`, entry)
    this.entries.set(key, entry)
  }

  has(name: string): boolean {
    return this.entries.has(name.toLowerCase())
  }

  /** Lays out every assembly once, so that faults in those nobody names are told too. */
  settle(): void {
    for (const [name, entry] of this.entries) {
      const stated = this.statedBytes(entry)
      if (stated === null && entry.field(2) !== '')
        this.problems.error(
          'eds.number',
          `${entry.name}: the size "${entry.field(2)}" is no number of bytes up to ${mostBits / 8}.`,
          entry.at(2),
        )
      // Only what others nest is kept: files hold thousands that nobody names.
      const bytes = Math.ceil((this.laid.get(name) ?? this.membersOf(entry, 0)).bits / 8)
      if (stated !== null && bytes > stated)
        this.problems.error(
          'eds.size',
          `${entry.name} has ${bytes} bytes of members; its size says ${stated}.`,
          entry.at(2),
        )
    }
  }

  /** Octets of an assembly: as its size says, else of its members. */
  bytes(name: string): number {
    const entry = this.entries.get(name.toLowerCase())
    return entry
      ? (this.statedBytes(entry) ?? Math.ceil(this.layOut(name.toLowerCase(), 0).bits / 8))
      : 0
  }

  items(name: string): DataItem[] {
    return this.layOut(name.toLowerCase(), 0).members.flatMap(({ offset, bits, parameter }) =>
      parameter ? [itemOf(parameter, offset, bits)] : [],
    )
  }

  /** Keys of the parameters that an assembly carries. */
  carriedBy(name: string): string[] {
    return this.layOut(name.toLowerCase(), 0).members.flatMap(({ parameter }) =>
      parameter ? [parameter.key] : [],
    )
  }

  /** The assembly as a record with its members' defaults. Little-endian (CIP Vol. 1, App. C). */
  record(name: string): ParameterRecord {
    const entry = this.entries.get(name.toLowerCase())!
    const length = this.bytes(name)
    const bytes = new Uint8Array(length)
    const parameters: Parameter[] = []
    const often = new Set<string>()
    for (const { offset, bits, parameter, literal } of this.layOut(name.toLowerCase(), 0).members) {
      const place = {
        byteOrder: 'little' as const,
        offsetBytes: offset >> 3,
        offsetBits: offset & 7,
        bits,
      }
      if (literal !== null) encodeValue(bytes, { ...place, kind: 'unsigned' }, literal)
      if (!parameter) continue
      const kind =
        bits % 8 === 0 && (offset & 7) === 0 ? parameter.kind : wholeNumber(parameter.kind)
      const laid: Parameter = {
        ...parameter,
        ...place,
        kind,
        key: often.has(parameter.key) ? `${parameter.key}@${offset}` : parameter.key,
      }
      often.add(parameter.key)
      encodeValue(bytes, laid, parameter.default)
      parameters.push(laid)
    }
    return {
      index: this.instance(entry),
      name: entry.field(0),
      length,
      bytes: toHex(bytes),
      parameters,
    }
  }

  private instance(entry: Entry): number | null {
    const path = parsePath(entry.field(1), (reference) =>
      Number(this.parameters.get(reference.toLowerCase())?.default ?? 0),
    )
    return typeof path === 'string' ? null : assemblyInstance(path)
  }

  private statedBytes(entry: Entry): number | null {
    const text = entry.field(2)
    const named = this.parameters.get(text.toLowerCase())
    if (named) return Math.min(mostBits / 8, Math.max(0, Math.trunc(Number(named.default)) || 0))
    const bytes = text === '' ? null : parseEdsNumber(text)
    return bytes !== null && Number.isInteger(bytes) && bytes >= 0 && bytes * 8 <= mostBits
      ? bytes
      : null
  }

  private layOut(name: string, depth: number): Laid {
    const known = this.laid.get(name)
    if (known) return known
    const entry = this.entries.get(name)
    if (!entry) return nothing
    // Stands for itself until it is laid out, so that assemblies that name each other end.
    this.laid.set(name, nothing)
    const laid = this.membersOf(entry, depth)
    this.laid.set(name, laid)
    return laid
  }

  private membersOf(entry: Entry, depth: number): Laid {
    const members: Member[] = []
    let offset = 0
    for (let i = 6; i < entry.fields.length; i += 2) {
      const sizeText = entry.field(i)
      const reference = entry.field(i + 1)
      const key = reference.toLowerCase()
      if (sizeText === '' && reference === '') continue
      const parameter = this.parameters.get(key) ?? null
      const nested =
        parameter || !/^assem\d+$/.test(key) ? null : this.nested(entry, i + 1, key, depth)
      const literal = parameter || nested || reference === '' ? null : parseEdsNumber(reference)
      if (reference !== '' && !parameter && !nested && literal === null) {
        this.problems.error(
          'reference.member',
          `${entry.name} names "${reference}", which does not stand in the file.`,
          entry.at(i + 1),
        )
      }
      const stated = sizeText === '' ? null : parseEdsNumber(sizeText)
      const isSize =
        stated !== null && Number.isInteger(stated) && stated >= 0 && offset + stated <= mostBits
      if (sizeText !== '' && !isSize)
        this.problems.error(
          'eds.number',
          `${entry.name}: the size "${sizeText}" is no number of bits up to ${mostBits}.`,
          entry.at(i),
        )
      const bits = isSize
        ? stated
        : Math.min(parameter?.bits ?? nested?.bits ?? 0, mostBits - offset)
      if (nested)
        for (const member of nested.members)
          members.push({ ...member, offset: offset + member.offset })
      else if (bits > 0) members.push({ offset, bits, parameter, literal })
      offset += bits
    }
    return { members, bits: offset }
  }

  private nested(entry: Entry, field: number, key: string, depth: number): Laid | null {
    if (!this.entries.has(key)) return null
    if (depth >= deepest) {
      this.problems.error(
        'eds.depth',
        `${entry.name} nests assemblies more than ${deepest} deep.`,
        entry.at(field),
      )
      return nothing
    }
    return this.layOut(key, depth + 1)
  }
}

/** The widest number or row of bits (LWORD, CIP Vol. 1, App. C); what is longer are octets. */
const widest = 64

function itemOf(
  { name, type }: Pick<Parameter, 'name' | 'type'>,
  offsetBits: number,
  bits: number,
): DataItem {
  const holds = bits > widest ? 'other' : (cipTypeOf(type)?.holds ?? 'other')
  const port =
    holds === 'other' && offsetBits % 8 === 0 && bits % 8 === 0 ? portNumberIn(name) : null
  return {
    name,
    type,
    holds,
    offsetBits,
    bits,
    asBits: holds === 'word' && bits > 1,
    channels: [],
    ...(port !== null && { port }),
  }
}

/** BYTE, WORD, DWORD, LWORD: rows of bits. */
function wholeNumber(kind: ValuePlace['kind']): ValuePlace['kind'] {
  return kind === 'signed' ? 'signed' : 'unsigned'
}
