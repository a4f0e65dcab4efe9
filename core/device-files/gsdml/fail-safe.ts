import type { Parameter, ParameterRecord } from '../../catalog/model'
import { encodeValue, type ValuePlace } from '../../parameters'
import type { Problems } from '../../vocabulary/problem'
import { parseValueList, type ValueRange } from '../../vocabulary/value-list'
import { child, type XmlElement } from '../xml-records'
import { Attributes, parseWhole } from '../xml-attributes'
import { toHex } from '../../vocabulary'

interface Field extends ValuePlace {
  readonly name: string
  readonly type: string
  /** What the record holds where the file leaves the element out. */
  readonly fallback: number
  /** The file's words for 0, 1, 2 …; numbers where it uses none. */
  readonly words: readonly string[]
}

const flag = (
  name: string,
  offsetBytes: number,
  offsetBits: number,
  bits: number,
  fallback: number,
  words: readonly string[] = [],
): Field => ({
  name,
  type: bits === 1 ? 'Bit' : 'BitArea',
  kind: 'unsigned',
  byteOrder: 'little',
  offsetBytes,
  offsetBits,
  bits,
  fallback,
  words,
})
const number = (name: string, offsetBytes: number, octets: 2 | 4, fallback: number): Field => ({
  name,
  type: `Unsigned${octets * 8}`,
  kind: 'unsigned',
  byteOrder: 'big',
  offsetBytes,
  offsetBits: 0,
  bits: octets * 8,
  fallback,
  words: [],
})

/** F parameters by PROFIsafe profile (layout and defaults from memory): flags, source, destination,
 *  watchdog; with block id 1 or 3 the iPar CRC; the parameter CRC last. Multi-octet values are
 *  big-endian. */
const common: readonly Field[] = [
  flag('F_Check_SeqNr', 0, 0, 1, 1, ['NoCheck', 'Check']),
  flag('F_Check_iPar', 0, 1, 1, 0, ['NoCheck', 'Check']),
  flag('F_SIL', 0, 2, 2, 2, ['SIL1', 'SIL2', 'SIL3', 'NoSIL']),
  flag('F_CRC_Length', 0, 4, 2, 0, ['3-Byte-CRC', '2-Byte-CRC', '4-Byte-CRC']),
  flag('F_CRC_Seed', 0, 6, 1, 0, ['CRC-Seed24/32', 'CRC-FCS32']),
  flag('F_Passivation', 1, 0, 1, 0, ['Device/Module', 'Channel']),
  flag('F_Block_ID', 1, 3, 3, 0),
  flag('F_Par_Version', 1, 6, 2, 1),
  number('F_Source_Add', 2, 2, 1),
  number('F_Dest_Add', 4, 2, 1),
  number('F_WD_Time', 6, 2, 150),
]
const iParCrc = number('F_iPar_CRC', 8, 4, 0)
const defaultParameterCrc = 53_356

/** `F_ParameterRecordDataItem` as a record of 10 octets, or 14 with an iPar CRC. */
export function readFailSafeRecord(
  record: XmlElement,
  attributes: Attributes,
  problems: Problems,
): ParameterRecord {
  const blockId = parseWhole(child(record, 'F_Block_ID')?.attributes['DefaultValue'] ?? '0') ?? 0
  const hasIParCrc = (blockId & 1) === 1 || child(record, 'F_iPar_CRC') !== undefined
  const length = hasIParCrc ? 14 : 10
  const fields = [
    ...common,
    ...(hasIParCrc ? [iParCrc] : []),
    number('F_Par_CRC', length - 2, 2, defaultParameterCrc),
  ]
  const bytes = new Uint8Array(length)
  const parameters: Parameter[] = []
  for (const field of fields) {
    const element = child(record, field.name)
    const value = element ? valueOf(element, field, problems) : field.fallback
    encodeValue(bytes, field, value)
    if (element) parameters.push(parameterOf(element, field, value, attributes, problems))
  }
  return {
    index: attributes.required(record, 'Index', [0, 65_535]),
    length,
    bytes: toHex(bytes),
    parameters,
  }
}

function parameterOf(
  element: XmlElement,
  { name, type, kind, byteOrder, offsetBytes, offsetBits, bits, words }: Field,
  value: number,
  attributes: Attributes,
  problems: Problems,
): Parameter {
  return {
    key: name,
    name,
    type,
    kind,
    byteOrder,
    offsetBytes,
    offsetBits,
    bits,
    default: value,
    allowed: allowedOf(element, words, problems),
    texts: Object.fromEntries(words.map((word, i) => [String(i), word])),
    visible: attributes.boolean(element, 'Visible', true),
    changeable: attributes.boolean(element, 'Changeable', true),
  }
}

function valueOf(
  element: XmlElement,
  { fallback, words, bits }: Field,
  problems: Problems,
): number {
  const text = element.attributes['DefaultValue']
  if (text === undefined) return fallback
  const value = numberFor(text, words)
  if (value !== null && value < 2 ** bits) return value
  problems.error(
    'failSafe.value',
    `${element.name}@DefaultValue is "${text}"; ${words.length > 0 ? `one of ${words.join(', ')}` : `a whole number below ${2 ** bits}`} is needed.`,
    element,
  )
  return fallback
}

function allowedOf(
  element: XmlElement,
  words: readonly string[],
  problems: Problems,
): ValueRange[] {
  const text = element.attributes['AllowedValues']
  if (text === undefined) return []
  const isWords = text
    .trim()
    .split(/\s+/)
    .every((word) => words.includes(word))
  const ranges = isWords
    ? text
        .trim()
        .split(/\s+/)
        .map((word): ValueRange => [words.indexOf(word), words.indexOf(word)])
    : parseValueList(text)
  if (!ranges)
    problems.error(
      'attribute.list',
      `${element.name}@AllowedValues is "${text}"; a value list is needed.`,
      element,
    )
  return ranges ?? []
}

function numberFor(text: string, words: readonly string[]): number | null {
  const index = words.indexOf(text.trim())
  if (index >= 0) return index
  const value = parseWhole(text)
  return value !== null && value >= 0 ? value : null
}
