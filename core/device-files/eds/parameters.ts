import { cipTypes } from '../../catalog/cip-types'
import type { Parameter, ParameterRecord, ScalingPart } from '../../catalog/model'
import { encodeValue, scaledBy } from '../../parameters'
import { toHex } from '../../vocabulary/hex'
import { isEmpty } from '../../vocabulary/records'
import { checkDefault } from '../default-value'
import type { Menu, MenuEntry } from '../menus'
import type { EdsParameter } from './assemblies'
import type { Entry } from './entries'
import type { Reading } from './reading'

/** Fields of ParamN: reserved, link path size, link path, descriptor, type, size, name, units, help,
 *  min, max, default, … */
export function addParameter(reading: Reading, entry: Entry): void {
  const { parameters, problems } = reading
  const key = entry.name.toLowerCase()
  if (parameters.has(key))
    problems.error('id.duplicate', `${entry.name} stands more than once in the file.`, entry)
  const type = typeOf(reading, entry)
  const octets = octetsOf(reading, entry, type)
  const kind = type?.kind ?? 'unsigned'
  const isText = kind === 'text' || kind === 'octets'
  const parameter: EdsParameter = {
    key: entry.name,
    name: entry.field(6),
    type: entry.field(4),
    kind,
    byteOrder: 'little',
    offsetBytes: 0,
    offsetBits: 0,
    bits: 8 * (octets ?? type?.octets ?? 1),
    default: isText ? entry.field(11) : (reading.numberIn(entry, 11) ?? 0),
    allowed: isText ? [] : allowedOf(reading, entry),
    texts: {},
    visible: true,
    // Bit 4 of the descriptor: read only (CIP Vol. 1, ch. 7, from memory).
    changeable: ((reading.numberIn(entry, 3) ?? 0) & 0x10) === 0,
    unit: entry.field(7),
    info: entry.field(8),
  }
  const display = isText ? null : displayOf(reading, entry)
  if (display) parameter.display = display
  if (type?.name === 'SHORT_STRING') parameter.lengthOctets = 1
  else if (type?.name === 'STRING') parameter.lengthOctets = 2
  checkDefault(parameter, entry.at(11), problems)
  parameters.set(key, parameter)
}

type CipType = (typeof cipTypes)[number]

function typeOf(reading: Reading, entry: Entry): CipType | undefined {
  const code = reading.numberIn(entry, 4)
  const type = code === null ? undefined : cipTypes[code]
  if (code !== null && !type)
    reading.problems.error(
      'eds.type',
      `${entry.name}: "${entry.field(4)}" is no CIP data type.`,
      entry.at(4),
    )
  return type
}

function octetsOf(reading: Reading, entry: Entry, type: CipType | undefined): number | null {
  const octets = reading.numberIn(entry, 5, [0, 65_535])
  if (type?.octets && octets !== null && octets !== type.octets)
    reading.problems.warning(
      'eds.typeSize',
      `${entry.name} has ${octets} bytes; ${type.name} has ${type.octets}.`,
      entry.at(5),
    )
  return octets
}

function allowedOf(reading: Reading, entry: Entry): [number, number][] {
  const [min, max] = [reading.numberIn(entry, 9), reading.numberIn(entry, 10)]
  if (min === null || max === null) return []
  if (min <= max) return [[min, max]]
  reading.problems.error(
    'eds.range',
    `${entry.name}: the smallest value ${min} is above the largest ${max}.`,
    entry.at(9),
  )
  return []
}

/** Engineering value = (value + offset) × multiplier × base / divider, each of which may be the value
 *  of another parameter (CIP Vol. 1, ch. 7, from memory). */
function displayOf(reading: Reading, entry: Entry): Parameter['display'] | null {
  // Most parameters have no scaling at all.
  let isSaid = false
  for (let field = 12; field <= 20 && !isSaid; field++) isSaid = entry.field(field) !== ''
  if (!isSaid) return null
  const stated = {
    multiplier: reading.numberIn(entry, 12) ?? 1,
    divider: reading.numberIn(entry, 13) || 1,
    base: reading.numberIn(entry, 14) ?? 1,
    offset: reading.numberIn(entry, 15) ?? 0,
  }
  const linked: Partial<Record<ScalingPart, string>> = {}
  for (const [i, part] of scalingParts.entries()) {
    const number = reading.numberIn(entry, 16 + i)
    if (number) linked[part] = `Param${number}`
  }
  const decimals = reading.numberIn(entry, 20)
  const hasLinks = !isEmpty(linked)
  const scaling = scaledBy(stated)
  if (!hasLinks && scaling.factor === 1 && scaling.offset === 0 && !decimals) return null
  return { ...scaling, decimals, ...(hasLinks && { links: { stated, linked } }) }
}

/** In the order of their links. */
const scalingParts: readonly ScalingPart[] = ['multiplier', 'divider', 'base', 'offset']

/** Fields of EnumN: values and their texts in turn. */
export function addTexts(reading: Reading, entry: Entry): void {
  const { parameters, problems } = reading
  const key = entry.name.toLowerCase().replace('enum', 'param')
  const parameter = parameters.get(key)
  if (!parameter) {
    problems.error(
      'reference.parameter',
      `${entry.name} belongs to ${entry.name.replace(/enum/i, 'Param')}, which does not stand in the file.`,
      entry,
    )
    return
  }
  const texts: Record<string, string> = {}
  for (let i = 0; i + 1 < entry.fields.length; i += 2) {
    const value = reading.numberIn(entry, i)
    if (value !== null) texts[String(value)] = entry.field(i + 1)
  }
  parameter.texts = texts
}

/** Fields of GroupN: name, how many, numbers of parameters. */
export function menuOf(reading: Reading, entry: Entry): Menu {
  const { problems } = reading
  const entries = entry.fields
    .slice(2)
    .flatMap((target, i): MenuEntry[] =>
      target === ''
        ? []
        : [{ kind: 'parameter', target: target.replace(/^param/i, ''), at: entry.at(i + 2) }],
    )
  const stated = reading.numberIn(entry, 1)
  if (stated !== null && stated !== entries.length)
    problems.warning(
      'eds.group',
      `${entry.name} says ${stated} members and names ${entries.length}.`,
      entry.at(1),
    )
  return { id: entry.name, label: { name: entry.field(0) }, entries }
}

/** Parameters that belong to no configuration, one behind the other. */
export function inOneRecord(parameters: readonly EdsParameter[]): ParameterRecord {
  let length = 0
  for (const parameter of parameters) {
    parameter.offsetBytes = length
    length += Math.ceil(parameter.bits / 8)
  }
  const bytes = new Uint8Array(length)
  for (const parameter of parameters) encodeValue(bytes, parameter, parameter.default)
  return { index: null, length, bytes: toHex(bytes), parameters }
}
