import type { ByteOrder } from '../../vocabulary/byte-order'
import type { Parameter, ParameterRecord, ValueKind } from '../../catalog/model'
import { decodeValue } from '../../parameters'
import { parseOctets, toHex } from '../../vocabulary/hex'
import { child, children, listed, type XmlElement } from '../xml-records'
import { dataKindOf } from './data-types'
import { textOf } from './local-texts'
import type { Reading } from './reading'

/** Objects of a CoE dictionary that a master may write, as records of one value each (ETG.2000,
 *  from memory). They are sent only where somebody chose a value. */

const none: readonly ParameterRecord[] = []
const littleEndian: ByteOrder = 'little'
/** Objects that makers keep for the protocol itself: PDO mapping and assignment (ETG.1000.6). */
const isOfProtocol = (index: number) => index >= 0x1600 && index < 0x1c40
const mostBits = 8 * 512

/** A part of an object: its number, what it is called and what it may hold. */
interface Item {
  readonly subindex: number
  readonly name: string
  readonly type: string
  readonly bits: number
  readonly access: XmlElement | undefined
}

type Types = ReadonlyMap<string, XmlElement>

/** The writable objects of a device or module; read once for each dictionary. */
export function writableObjects(reading: Reading, owner: XmlElement): readonly ParameterRecord[] {
  const dictionary = child(child(owner, 'Profile'), 'Dictionary')
  const list = child(dictionary, 'Objects')
  if (!dictionary || !list) return none
  let read = reading.writable.get(list)
  if (!read) {
    const types: Types = new Map(
      listed(dictionary, 'DataTypes', 'DataType').map((type) => [textOf(type, 'Name') ?? '', type]),
    )
    read = children(list, 'Object').flatMap((object, i) => recordsOf(reading, types, object, i))
    reading.writable.set(list, read)
  }
  return read
}

function recordsOf(
  reading: Reading,
  types: Types,
  object: XmlElement,
  rank: number,
): ParameterRecord[] {
  const index = child(object, 'Index')
  const number = reading.attributes.content(index, [0, 0xffff]) ?? 0
  if (isOfProtocol(number)) return []
  const info = child(object, 'Info')
  const objectName = reading.texts.of(object, 'Name')
  const infos = children(info, 'SubItem')
  const items = itemsOf(reading, types, object)
  return items.flatMap((item, i) => {
    const { access } = item
    if (!/^(rw|wo)$/i.test(access?.text.trim() ?? '')) return []
    const own = infos.find((one) => textOf(one, 'Name') === item.name) ?? infos[i]
    const values = items.length === 1 && infos.length === 0 ? info : child(own, 'Info')
    return recordOf(reading, types, item, values, {
      index: number,
      dependsOnSlot: reading.attributes.boolean(index, 'DependOnSlot'),
      transitions: [transitionOf(access)],
      heading: `0x${number.toString(16).padStart(4, '0')} ${objectName}`,
      rank: rank * 256 + item.subindex,
      isWhole: items.length === 1 && item.subindex === 0,
      objectName,
    })
  })
}

/** What an object consists of: the parts of its type, those of an array one by one, or itself. */
function itemsOf(reading: Reading, types: Types, object: XmlElement): Item[] {
  const { attributes } = reading
  const type = textOf(object, 'Type') ?? ''
  const parts = children(types.get(type), 'SubItem')
  const access = child(child(object, 'Flags'), 'Access')
  if (parts.length === 0)
    return [
      {
        subindex: 0,
        name: reading.texts.of(object, 'Name'),
        type,
        bits: attributes.content(child(object, 'BitSize'), [0, mostBits]) ?? 0,
        access,
      },
    ]
  return parts.flatMap((part): Item[] => {
    const partType = textOf(part, 'Type') ?? ''
    const array = types.get(partType)
    const info = child(array, 'ArrayInfo')
    const own = child(child(part, 'Flags'), 'Access') ?? access
    const bits = attributes.content(child(part, 'BitSize'), [0, mostBits]) ?? 0
    const name = reading.texts.of(part, 'Name')
    if (!info) {
      const subindex = attributes.content(child(part, 'SubIdx'), [0, 255]) ?? 0
      return [{ subindex, name, type: partType, bits, access: own }]
    }
    const first = attributes.content(child(info, 'LBound'), [0, 255]) ?? 1
    const count = attributes.content(child(info, 'Elements'), [0, 255]) ?? 0
    return Array.from({ length: count }, (_, i) => ({
      subindex: first + i,
      name: `SubIndex ${String(first + i).padStart(3, '0')}`,
      type: textOf(array, 'BaseType') ?? '',
      bits: Math.floor(bits / count),
      access: own,
    }))
  })
}

/** When it may be written: usually before the data travel. */
function transitionOf(access: XmlElement | undefined): string {
  const restriction = access?.attributes['WriteRestrictions'] ?? ''
  return restriction === '' || /PreOP/i.test(restriction)
    ? 'PS'
    : /SafeOP/i.test(restriction)
      ? 'SO'
      : 'PS'
}

interface About {
  readonly index: number
  readonly dependsOnSlot: boolean
  readonly transitions: readonly string[]
  readonly heading: string
  readonly rank: number
  readonly isWhole: boolean
  readonly objectName: string
}

function recordOf(
  reading: Reading,
  types: Types,
  { subindex, name, type, bits }: Item,
  values: XmlElement | undefined,
  about: About,
): ParameterRecord[] {
  if (bits === 0) return []
  const described = types.get(type)
  const base = textOf(described, 'BaseType') ?? type
  const kind = kindOf(base, bits)
  const length = Math.ceil(bits / 8)
  const bytes = new Uint8Array(length)
  const given = octetsOf(values, 'Default')
  if (given) bytes.set(given.subarray(0, length))
  const place = {
    kind,
    byteOrder: littleEndian,
    offsetBytes: 0,
    offsetBits: 0,
    bits,
    ...(kind === 'text' && { fill: 0 as const }),
  }
  const texts = Object.fromEntries(
    children(described, 'EnumInfo').map((one) => [
      String(reading.attributes.content(child(one, 'Enum'), [-0x80000000, 0xffffffff]) ?? 0),
      reading.texts.of(one, 'Text'),
    ]),
  )
  const parameter: Parameter = {
    ...place,
    key: 'value',
    name: about.isWhole ? about.objectName : name,
    type: base,
    default: decodeValue(bytes, place),
    allowed: allowedOf(values, texts, place),
    texts,
    visible: true,
    changeable: true,
    menus: [{ path: ['Object dictionary', about.heading], rank: about.rank }],
  }
  return [
    {
      index: about.index,
      subindex,
      transitions: about.transitions,
      dependsOnSlot: about.dependsOnSlot,
      name: about.isWhole ? about.objectName : `${about.objectName}: ${name}`,
      isOptional: true,
      length,
      bytes: toHex(bytes),
      parameters: [parameter],
    },
  ]
}

function kindOf(type: string, bits: number): ValueKind {
  if (/^(VISIBLE_)?STRING/i.test(type)) return 'text'
  const kind = dataKindOf(type)
  if (kind === 'boolean') return 'boolean'
  if (kind === 'signed' || kind === 'float') return kind
  if (kind === 'other' && bits > 32) return 'octets'
  return bits > 64 ? 'octets' : 'unsigned'
}

/** Octets of `DefaultData`, `MinData` or `MaxData`, or a number of `DefaultValue` and its like. */
function octetsOf(values: XmlElement | undefined, which: 'Default' | 'Min' | 'Max') {
  const data = textOf(values, `${which}Data`)
  if (data !== null) return parseOctets(data)
  const text = textOf(values, `${which}String`)
  if (text !== null) return new TextEncoder().encode(text)
  const value = textOf(values, `${which}Value`)
  const number = value === null ? NaN : Number(value.replace(/^#x/i, '0x'))
  if (!Number.isInteger(number)) return null
  const octets = new Uint8Array(8)
  new DataView(octets.buffer).setBigInt64(0, BigInt(number), true)
  return octets
}

function allowedOf(
  values: XmlElement | undefined,
  texts: Readonly<Record<string, string>>,
  place: Pick<Parameter, 'kind' | 'byteOrder' | 'offsetBytes' | 'offsetBits' | 'bits'>,
): Parameter['allowed'] {
  const words = Object.keys(texts).map(Number)
  if (words.length > 0) return words.map((value) => [value, value])
  const ends = (['Min', 'Max'] as const).map((which) => {
    const given = octetsOf(values, which)
    if (!given) return null
    const bytes = new Uint8Array(Math.ceil(place.bits / 8))
    bytes.set(given.subarray(0, bytes.length))
    return Number(decodeValue(bytes, place))
  })
  const [min, max] = ends as [number | null, number | null]
  return min !== null && max !== null && min <= max ? [[min, max]] : []
}
