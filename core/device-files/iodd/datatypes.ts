import type { ValueKind } from '../../catalog/model'
import type { DataKind } from '../../vocabulary/data-kind'
import type { Problems } from '../../vocabulary/problem'
import { parseDigits } from '../digits'
import type { Attributes } from '../xml-attributes'
import { child, type XmlElement } from '../xml-records'
import type { Texts } from '../xml-texts'

/** What a value may be, where the file says so. */
export interface Allowed {
  readonly allowed: readonly (readonly [number, number])[]
  readonly texts: Record<string, string>
}

/** One value of a datatype. `bitOffset` counts from bit 0 of the last octet (IO-Link interface
 *  specification 1.1). */
export interface Field extends Allowed {
  readonly subindex: number
  readonly bitOffset: number
  readonly bits: number
  readonly type: string
  readonly kind: ValueKind
  readonly holds: DataKind
  /** Where its name stands, unless that is in the variable itself. */
  readonly element: XmlElement | null
}

export interface Layout {
  readonly isRecord: boolean
  readonly bits: number
  readonly fields: readonly Field[]
}

const nothing: Layout = { isRecord: false, bits: 0, fields: [] }
/** A variable holds at most 232 octets (IO-Link interface specification 1.1). */
const mostBits = 8 * 232

interface Simple {
  readonly kind: ValueKind
  readonly holds: DataKind
  /** Bits inside a record or array; null: `bitLength` says it. */
  readonly bits: number | null
  readonly lengthAttribute: 'bitLength' | 'fixedLength'
}

const simpleTypes = new Map<string, Simple>([
  ['BooleanT', { kind: 'unsigned', holds: 'boolean', bits: 1, lengthAttribute: 'bitLength' }],
  ['UIntegerT', { kind: 'unsigned', holds: 'unsigned', bits: null, lengthAttribute: 'bitLength' }],
  ['IntegerT', { kind: 'signed', holds: 'signed', bits: null, lengthAttribute: 'bitLength' }],
  ['Float32T', { kind: 'float', holds: 'float', bits: 32, lengthAttribute: 'bitLength' }],
  ['StringT', { kind: 'text', holds: 'other', bits: null, lengthAttribute: 'fixedLength' }],
  ['OctetStringT', { kind: 'octets', holds: 'other', bits: null, lengthAttribute: 'fixedLength' }],
  ['TimeT', { kind: 'octets', holds: 'other', bits: 64, lengthAttribute: 'bitLength' }],
  ['TimeSpanT', { kind: 'signed', holds: 'other', bits: 64, lengthAttribute: 'bitLength' }],
])

/** The type an element names in `xsi:type`, whatever the prefix. */
export function typeOf(element: XmlElement): string {
  const written =
    element.attributes['xsi:type'] ??
    Object.entries(element.attributes).find(([name]) => /:type$/.test(name))?.[1] ??
    ''
  return written.slice(written.indexOf(':') + 1)
}

/** Reads `Datatype`, `SimpleDatatype` and references to the file's own datatypes. */
export class Datatypes {
  private readonly named = new Map<string, XmlElement>()
  /** Datatypes written alike are one element and laid out once; packed ones apart. */
  private readonly known = {
    packed: new WeakMap<XmlElement, Layout>(),
    whole: new WeakMap<XmlElement, Layout>(),
  }

  constructor(
    private readonly attributes: Attributes,
    private readonly texts: Texts,
    private readonly problems: Problems,
  ) {}

  define(element: XmlElement): void {
    const id = element.attributes['id']
    if (id === undefined)
      this.problems.error('attribute.missing', 'Datatype has no id; it is needed.', element)
    else this.named.set(id, element)
  }

  /** Layout of what a variable or process data hold; `isProcessData` values are not rounded up to
   *  octets. */
  layoutOf(owner: XmlElement, isProcessData: boolean): Layout {
    const datatype = this.find(owner, 'Datatype')
    if (!datatype) return nothing
    const known = isProcessData ? this.known.packed : this.known.whole
    let layout = known.get(datatype)
    if (!layout) known.set(datatype, (layout = this.layOut(datatype, isProcessData)))
    return layout
  }

  private layOut(datatype: XmlElement, isProcessData: boolean): Layout {
    const type = typeOf(datatype)
    if (type === 'RecordT') return this.record(datatype)
    if (type === 'ArrayT') return this.array(datatype)
    const simple = this.simple(datatype, isProcessData)
    return simple
      ? {
          isRecord: false,
          bits: simple.bits,
          fields: [{ ...simple, subindex: 0, bitOffset: 0, element: null }],
        }
      : nothing
  }

  private find(owner: XmlElement, name: 'Datatype' | 'SimpleDatatype'): XmlElement | undefined {
    const own = child(owner, name)
    if (own) return own
    const reference = child(owner, 'DatatypeRef')
    const id = reference?.attributes['datatypeId']
    if (!reference || id === undefined) {
      this.problems.error(
        'iodd.datatype',
        `${owner.name} has neither ${name} nor DatatypeRef; one is needed.`,
        owner,
      )
      return undefined
    }
    const found = this.named.get(id)
    if (!found)
      this.problems.error(
        'reference.datatype',
        `Datatype "${id}" is named here but does not stand in the file before.`,
        reference,
      )
    return found
  }

  private record(datatype: XmlElement): Layout {
    const bits = this.attributes.required(datatype, 'bitLength', [0, mostBits])
    const fields: Field[] = []
    for (const item of datatype.children) {
      if (item.name !== 'RecordItem') continue
      const simpleElement = this.find(item, 'SimpleDatatype')
      const simple = simpleElement && this.simple(simpleElement, true)
      if (!simple) continue
      const bitOffset = this.attributes.required(item, 'bitOffset', [0, mostBits])
      if (bitOffset + simple.bits > bits)
        this.problems.error(
          'data.bit',
          `RecordItem ends at bit ${bitOffset + simple.bits}; its record has ${bits} bits.`,
          item,
        )
      else
        fields.push({
          ...simple,
          subindex: this.attributes.required(item, 'subindex', [1, 255]),
          bitOffset,
          element: item,
        })
    }
    return { isRecord: true, bits, fields }
  }

  /** Subindex 1 stands in the highest bits. */
  private array(datatype: XmlElement): Layout {
    const count = this.attributes.required(datatype, 'count', [1, 255])
    const simpleElement = this.find(datatype, 'SimpleDatatype')
    const simple = simpleElement && this.simple(simpleElement, true)
    if (!simple) return nothing
    const bits = count * simple.bits
    if (bits > mostBits) {
      this.problems.error(
        'iodd.length',
        `The array has ${bits} bits; at most ${mostBits} are possible.`,
        datatype,
      )
      return nothing
    }
    return {
      isRecord: true,
      bits,
      fields: Array.from({ length: count }, (_, i) => ({
        ...simple,
        subindex: i + 1,
        bitOffset: (count - 1 - i) * simple.bits,
        element: null,
      })),
    }
  }

  private simple(
    element: XmlElement,
    isPacked: boolean,
  ): (Allowed & Pick<Field, 'type' | 'kind' | 'holds' | 'bits'>) | null {
    const type = typeOf(element)
    const known = simpleTypes.get(type)
    if (!known) {
      this.problems.error(
        'data.type',
        `${element.name} has the type "${type}", which the format does not know.`,
        element,
      )
      return null
    }
    const stated =
      known.bits ??
      this.attributes.required(element, known.lengthAttribute, [
        1,
        known.lengthAttribute === 'fixedLength' ? 232 : 64,
      ]) * (known.lengthAttribute === 'fixedLength' ? 8 : 1)
    const isLoneBoolean = type === 'BooleanT' && !isPacked
    return {
      type,
      kind: isLoneBoolean ? 'boolean' : known.kind,
      holds: known.holds,
      bits: isPacked ? stated : wholeOctets(type, stated),
      ...this.allowedOf(element, type),
    }
  }

  private allowedOf(element: XmlElement, type: string): Allowed {
    const allowed: [number, number][] = []
    const texts: Record<string, string> = {}
    if (type === 'StringT' || type === 'OctetStringT') return { allowed, texts }
    for (const value of element.children) {
      const range =
        value.name === 'SingleValue'
          ? (['value', 'value'] as const)
          : value.name === 'ValueRange'
            ? (['lowerValue', 'upperValue'] as const)
            : null
      if (!range) continue
      const [from, to] = range.map((name) => parseIoddNumber(value.attributes[name] ?? ''))
      if (from === null || to === null || from === undefined || to === undefined || to < from) {
        this.problems.error(
          'iodd.value',
          `${value.name} is "${range.map((name) => value.attributes[name] ?? '').join('" to "')}"; ${value.name === 'SingleValue' ? 'a number' : 'numbers from the lower to the upper'} are needed.`,
          value,
        )
        continue
      }
      allowed.push([from, to])
      const name = child(value, 'Name')
      if (name && value.name === 'SingleValue')
        this.texts.want(texts, String(from), name.attributes['textId'], name)
    }
    return { allowed, texts }
  }
}

/** Alone in a variable, numbers take 1, 2, 4 or 8 octets and a Boolean one (IO-Link interface
 *  specification 1.1, from memory). */
function wholeOctets(type: string, bits: number): number {
  if (type === 'BooleanT') return 8
  if (type !== 'UIntegerT' && type !== 'IntegerT') return bits
  return [8, 16, 32, 64].find((width) => bits <= width)!
}

/** Decimal, `0x…`, `true` or `false`; null where it is none. */
export function parseIoddNumber(text: string): number | null {
  const plain = parseDigits(text)
  if (plain >= 0) return plain
  if (text === 'true') return 1
  if (text === 'false') return 0
  // `Number` knows binary, octal and Infinity too, which are none here; blanks alone it takes for
  // 0.
  const value = text.trim() === '' || /^\s*.[bo]/i.test(text) ? NaN : Number(text)
  return Number.isFinite(value) ? value : null
}

/** First octet of a field in a record that is sent most significant octet first. */
export function offsetBytesOf({ bitOffset, bits }: Field, recordBits: number): number {
  const lastOctet = Math.ceil(recordBits / 8) - 1 - (bitOffset >> 3)
  return lastOctet + 1 - Math.ceil(((bitOffset & 7) + bits) / 8)
}
