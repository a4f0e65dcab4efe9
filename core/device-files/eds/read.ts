import { cipTypes } from '../../catalog/cip-types'
import { makeDevice, blankFile, noLimits } from '../../catalog/blank'
import type { Connection, Device, Parameter, ParameterRecord } from '../../catalog/model'
import { encodeValue } from '../../parameters'
import { Problems } from '../../vocabulary/problem'
import { checkDefault } from '../default-value'
import type { FormatReading } from '../format'
import { placeInMenus, type Menu, type MenuEntry } from '../menus'
import { SourceText } from '../source-text'
import { inRanges, type ValueRange } from '../../vocabulary/value-list'
import { Assemblies, type EdsParameter } from './assemblies'
import { parseEdsNumber } from './numbers'
import { readEntries, type Entry } from './entries'
import { parsePath } from './paths'
import { toHex } from '../../vocabulary'

/** Reads an EDS file of an EtherNet/IP device (CIP Vol. 1, ch. 7, from memory). Sections of makers
 *  stand apart and are not interpreted; `readable` is false where the text is no EDS or ends in the
 *  middle of an entry. */
export function readEds(text: string): FormatReading {
  const problems = new Problems()
  const source = new SourceText(text)
  const facts = new Map<string, Entry>()
  const parameters = new Map<string, EdsParameter>()
  const enumerations: Entry[] = []
  const assemblies = new Assemblies(parameters, problems)
  const connections: Entry[] = []
  const groups: Entry[] = []
  let hasDevice = false

  const unfinished = readEntries(source, problems, (entry) => {
    const { section, name } = entry
    if (section === 'device') hasDevice = true
    if (section === 'params' && /^param\d+$/i.test(name)) addParameter(entry)
    else if (section === 'params' && /^enum\d+$/i.test(name)) enumerations.push(entry)
    else if (section === 'assembly' && /^assem\d+$/i.test(name)) assemblies.add(entry)
    else if (section === 'groups' && /^group\d+$/i.test(name)) groups.push(entry)
    else if (section === 'connection manager' && /^connection\d+$/i.test(name))
      connections.push(entry)
    else facts.set(`${section}/${name.toLowerCase()}`, entry)
  })
  if (unfinished) problems.error('eds.cut', unfinished.message, unfinished.at)
  if (!hasDevice && !unfinished)
    problems.error('eds.device', 'The file has no [Device] section; an EDS file must have one.', {
      line: 1,
      column: 1,
    })
  if (unfinished || !hasDevice)
    return { readable: false, file: { ...blankFile, format: 'eds', problems: problems.list } }

  for (const entry of enumerations) addTexts(entry)
  placeInMenus(groups.map(menuOf), problems, (number) => {
    const parameter = parameters.get(`param${number}`)
    return parameter ? [parameter] : null
  })
  assemblies.settle()
  const read = connections.map(readConnection)
  const device = readDevice(read)
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    readable: true,
    file: {
      ...blankFile,
      format: 'eds',
      formatVersion: textOf('file/revision'),
      vendor: { id: number('device/vendcode'), name: textOf('device/vendname') ?? '' },
      family: {
        main: textOf('device/prodtypestr') ?? '',
        product: textOf('device/prodname') ?? '',
      },
      devices: [device],
      problems: problems.list,
    },
  }

  function textOf(key: string): string | null {
    return facts.get(key)?.field(0).trim() ?? null
  }

  function number(key: string, isNeeded = false): number | null {
    const entry = facts.get(key)
    if (!entry) {
      if (isNeeded)
        problems.error('eds.missing', `[Device] has no ${key.split('/')[1]!}; it is needed.`, {
          line: 1,
          column: 1,
        })
      return null
    }
    return numberIn(entry, 0)
  }

  function numberIn(entry: Entry, field: number, range: ValueRange | null = null): number | null {
    const written = entry.field(field)
    if (written === '') return null
    const value = parseEdsNumber(written)
    if (value === null)
      problems.error(
        'eds.number',
        `${entry.name}: field ${field + 1} is "${written}"; a number is needed.`,
        entry.at(field),
      )
    if (value === null || range === null || (Number.isInteger(value) && inRanges([range], value)))
      return value
    problems.error(
      'eds.number',
      `${entry.name}: field ${field + 1} is ${written}; it must be a whole number between ${range[0]} and ${range[1]}.`,
      entry.at(field),
    )
    return null
  }

  /** Fields of ParamN: reserved, link path size, link path, descriptor, type, size, name, units,
   *  help, min, max, default, … */
  function addParameter(entry: Entry): void {
    const key = entry.name.toLowerCase()
    if (parameters.has(key))
      problems.error('id.duplicate', `${entry.name} stands more than once in the file.`, entry)
    const code = numberIn(entry, 4)
    const type = code === null ? undefined : cipTypes[code]
    if (code !== null && !type)
      problems.error(
        'eds.type',
        `${entry.name}: "${entry.field(4)}" is no CIP data type.`,
        entry.at(4),
      )
    const octets = numberIn(entry, 5, [0, 65_535])
    if (type?.octets && octets !== null && octets !== type.octets)
      problems.warning(
        'eds.typeSize',
        `${entry.name} has ${octets} bytes; ${type.name} has ${type.octets}.`,
        entry.at(5),
      )
    const kind = type?.kind ?? 'unsigned'
    const isText = kind === 'text' || kind === 'octets'
    const [min, max] = isText ? [null, null] : [numberIn(entry, 9), numberIn(entry, 10)]
    const standard = isText ? entry.field(11) : (numberIn(entry, 11) ?? 0)
    if (min !== null && max !== null && min > max)
      problems.error(
        'eds.range',
        `${entry.name}: the smallest value ${min} is above the largest ${max}.`,
        entry.at(9),
      )
    const descriptor = numberIn(entry, 3) ?? 0
    const parameter: EdsParameter = {
      key: entry.name,
      name: entry.field(6),
      type: entry.field(4),
      kind,
      byteOrder: 'little',
      offsetBytes: 0,
      offsetBits: 0,
      bits: 8 * (octets ?? type?.octets ?? 1),
      default: standard,
      allowed: min !== null && max !== null && min <= max ? [[min, max]] : [],
      texts: {},
      visible: true,
      // Bit 4 of the descriptor: read only (CIP Vol. 1, ch. 7, from memory).
      changeable: (descriptor & 0x10) === 0,
      unit: entry.field(7),
      info: entry.field(8),
    }
    const display = isText ? null : displayOf(entry)
    if (display) parameter.display = display
    if (type?.name === 'SHORT_STRING') parameter.lengthOctets = 1
    else if (type?.name === 'STRING') parameter.lengthOctets = 2
    checkDefault(parameter, entry.at(11), problems)
    parameters.set(key, parameter)
  }

  function addTexts(entry: Entry): void {
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
      const value = numberIn(entry, i)
      if (value !== null) texts[String(value)] = entry.field(i + 1)
    }
    parameter.texts = texts
  }

  /** Fields of GroupN: name, how many, numbers of parameters. */
  function menuOf(entry: Entry): Menu {
    const entries = entry.fields
      .slice(2)
      .flatMap((target, i): MenuEntry[] =>
        target === ''
          ? []
          : [{ kind: 'parameter', target: target.replace(/^param/i, ''), at: entry.at(i + 2) }],
      )
    const stated = numberIn(entry, 1)
    if (stated !== null && stated !== entries.length)
      problems.warning(
        'eds.group',
        `${entry.name} says ${stated} members and names ${entries.length}.`,
        entry.at(1),
      )
    return { id: entry.name, label: { name: entry.field(0) }, entries }
  }

  /** Engineering value = (value + offset) × multiplier × base / divider (CIP Vol. 1, ch. 7, from
   *  memory). Links to other parameters are not followed. */
  function displayOf(entry: Entry): Parameter['display'] | null {
    const [multiplier, divider, base, offset, decimals] = [12, 13, 14, 15, 20].map((field) =>
      numberIn(entry, field),
    ) as (number | null)[]
    const factor = ((multiplier ?? 1) * (base ?? 1)) / (divider || 1)
    if (factor === 1 && !offset && !decimals) return null
    return { factor, offset: (offset ?? 0) * factor, decimals: decimals ?? null }
  }

  function defaultOf(reference: string): number | null {
    const parameter = parameters.get(reference.toLowerCase())
    return parameter ? Number(parameter.default) : null
  }

  /** A size or interval: a number, or a parameter's default. */
  function amount(entry: Entry, field: number): number | null {
    const written = entry.field(field)
    const standard = defaultOf(written)
    if (standard !== null) return standard
    if (/^param\d+$/i.test(written)) {
      problems.error(
        'reference.parameter',
        `${entry.name} names ${written}, which does not stand in the file.`,
        entry.at(field),
      )
      return null
    }
    return numberIn(entry, field, [0, 0xffffffff])
  }

  /** Size and content of one part of a connection; an empty size takes its assembly's. */
  function part(entry: Entry, sizeField: number): { bytes: number; assembly: string | null } {
    const format = entry.field(sizeField + 1)
    const isAssembly = /^assem\d+$/i.test(format)
    if (isAssembly && !assemblies.has(format))
      problems.error(
        'reference.assembly',
        `${entry.name} names ${format}, which does not stand in the file.`,
        entry.at(sizeField + 1),
      )
    const stated = amount(entry, sizeField)
    return {
      bytes: stated ?? (isAssembly ? assemblies.bytes(format) : 0),
      assembly: isAssembly && assemblies.has(format) ? format : null,
    }
  }

  /** Fields of ConnectionN: transport, flags, O→T interval, size, format, T→O interval, size,
   *  format, both configurations, name, help, path. */
  function readConnection(
    entry: Entry,
  ): Connection & { readonly configurations: readonly string[] } {
    const [outputs, inputs, proxy, target] = [3, 6, 8, 10].map((field) => part(entry, field)) as [
      ReturnType<typeof part>,
      ReturnType<typeof part>,
      ReturnType<typeof part>,
      ReturnType<typeof part>,
    ]
    const path = parsePath(entry.field(14), defaultOf)
    if (typeof path === 'string')
      problems.error('eds.path', `${entry.name}: ${path}.`, entry.at(14))
    const outputInterval = amount(entry, 2)
    const inputInterval = amount(entry, 5)
    return {
      key: entry.name,
      name: entry.field(12),
      info: entry.field(13),
      outputBytes: outputs.bytes,
      inputBytes: inputs.bytes,
      configBytes: proxy.bytes + target.bytes,
      path: typeof path === 'string' ? '' : toHex(Uint8Array.from(path)),
      requestedIntervalUs: outputInterval ?? inputInterval,
      requestedInputIntervalUs: inputInterval,
      // Bits 8 to 10 of the flags: 4 = 32-bit header with run/idle (CIP Vol. 1, ch. 7, from
      // memory).
      hasRunIdleHeader: (((numberIn(entry, 1) ?? 0) >>> 8) & 7) === 4,
      inputs: inputs.assembly ? assemblies.items(inputs.assembly) : [],
      outputs: outputs.assembly ? assemblies.items(outputs.assembly) : [],
      configurations: [proxy.assembly, target.assembly].filter((name) => name !== null),
    }
  }

  function readDevice(made: readonly ReturnType<typeof readConnection>[]): Device {
    const named = [
      ...new Map(
        made.flatMap(({ configurations }) =>
          configurations.map((name) => [name.toLowerCase(), name]),
        ),
      ).values(),
    ]
    const records = named.map((name) => assemblies.record(name))
    const placed = new Set(
      records.flatMap((record) => record.parameters.map(({ key }) => key.split('@')[0])),
    )
    const others = [...parameters.values()].filter(({ key }) => !placed.has(key))
    const major = number('device/majrev', true) ?? 0
    const minor = number('device/minrev', true) ?? 0
    const slots = number('modular/defineslotsinrack')
    return makeDevice({
      key: textOf('device/catalog') || textOf('device/prodname') || 'device',
      name: textOf('device/prodname') ?? '',
      info: textOf('file/desctext') ?? '',
      orderNumber: textOf('device/catalog') || null,
      firmware: `${major}.${minor}`,
      protocol: 'ethernet-ip',
      identity: {
        'ethernet-ip': {
          vendorCode: number('device/vendcode', true) ?? 0,
          productType: number('device/prodtype', true) ?? 0,
          productCode: number('device/prodcode', true) ?? 0,
          majorRevision: major,
          minorRevision: minor,
        },
      },
      limits: { ...noLimits, modules: slots },
      slots: Array.from({ length: Math.min(256, slots ?? 0) }, (_, i) => ({
        slot: i,
        fixed: null,
        default: null,
        allowed: [],
      })),
      parameters: [...records, ...(others.length > 0 ? [inOneRecord(others)] : [])],
      connections: made.map(({ configurations: _, ...connection }) => connection),
      ethernetIp: {
        productType: textOf('device/prodtypestr') ?? '',
        maxConnections: number('capacity/maxioconnections'),
        isModular: facts.has('modular/defineslotsinrack') || facts.has('modular/width'),
      },
    })
  }
}

/** Parameters that belong to no configuration, one behind the other. */
function inOneRecord(parameters: readonly EdsParameter[]): ParameterRecord {
  let length = 0
  for (const parameter of parameters) {
    parameter.offsetBytes = length
    length += Math.ceil(parameter.bits / 8)
  }
  const bytes = new Uint8Array(length)
  for (const parameter of parameters) encodeValue(bytes, parameter, parameter.default)
  return { index: null, length, bytes: toHex(bytes), parameters }
}
