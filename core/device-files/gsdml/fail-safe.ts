import type { Parameter, ParameterRecord } from '../../catalog/model'
import { encodeValue } from '../../parameters'
import { failSafeFields, type FailSafeField } from '../f-fields'
import type { Problems } from '../../vocabulary/problem'
import { parseValueList, type ValueRange } from '../../vocabulary/value-list'
import { child, type XmlElement } from '../xml-records'
import { Attributes, parseWhole } from '../xml-attributes'
import { toHex } from '../../vocabulary'

/** `F_ParameterRecordDataItem` as a record of 10 octets, or 14 with an iPar CRC. */
export function readFailSafeRecord(
  record: XmlElement,
  attributes: Attributes,
  problems: Problems,
): ParameterRecord {
  const blockId = parseWhole(child(record, 'F_Block_ID')?.attributes['DefaultValue'] ?? '0') ?? 0
  const hasIParCrc = (blockId & 1) === 1 || child(record, 'F_iPar_CRC') !== undefined
  const { length, fields } = failSafeFields(hasIParCrc)
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
  { name, type, kind, byteOrder, offsetBytes, offsetBits, bits, words }: FailSafeField,
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
  { fallback, words, bits }: FailSafeField,
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
