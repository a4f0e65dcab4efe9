import { makeDevice, makeModule, makeSubmodule, noLimits } from '../../catalog/blank'
import type {
  Connection,
  DataItem,
  Device,
  Module,
  Parameter,
  ParameterRecord,
  Submodule,
} from '../../catalog/model'
import { onPort } from '../../catalog/placed'
import { encodeValue } from '../../parameters'
import { registerOfReference } from '../../protocols/modbus/requests'
import { hasSheetPart, standsOnNetworks } from '../../protocols/registry'
import { parseOctets, toHex } from '../../vocabulary'
import {
  modbusTableNames,
  modbusTables,
  wordTable,
  type ModbusTable,
} from '../../vocabulary/modbus-table'
import { inRanges, parseValueList } from '../../vocabulary/value-list'
import { layOut, nibblePlaces, rackPlaces, type SlotPlaces } from './data-places'
import { failSafeRecord } from './fail-safe'
import { sheetTypes, type DeviceSheet, type SheetData } from './schema'

type Complain = (code: string, message: string, path: (string | number)[]) => void

/** What a sheet offers, in the catalog's model; also what the form previews while somebody
 *  types. */
export function catalogOf(
  sheet: DeviceSheet,
  complain: Complain = () => undefined,
  warn: Complain = () => undefined,
) {
  const keys = new Set<string>()
  const modules = sheet.modules.map((module, i): Module => {
    if (keys.has(module.key))
      complain('id.duplicate', `The key "${module.key}" stands more than once in the sheet.`, [
        'modules',
        i,
        'key',
      ])
    keys.add(module.key)
    const submodules = safeSubmodules(
      submoduleOf(module.key, module.name, module.inputs, module.outputs),
      module,
    )
    return makeModule({
      key: module.key,
      name: module.name,
      info: module.info,
      orderNumber: module.orderNumber || null,
      category: module.category || null,
      inputBytes: submodules[0]?.inputBytes ?? 0,
      outputBytes: submodules[0]?.outputBytes ?? 0,
      submodules,
      // Own parameters of a fail-safe module stand beside its F parameters.
      parameters: module.failSafe
        ? []
        : module.parameters.map((record, r) =>
            recordOf(record, ['modules', i, 'parameters', r], complain),
          ),
      currentMa: module.currentMa,
      ...(module.placement && { placement: module.placement }),
      ...(module.terminals.length > 0 && { terminals: module.terminals }),
      ...(module.electrical && { electrical: module.electrical }),
      ...(module.interfaces.length > 0 && { interfaces: module.interfaces }),
      ...(module.changesRunning && { changesRunning: true }),
      ...(module.failSafe?.switches && { failSafeSwitches: module.failSafe.switches }),
    })
  })
  return {
    vendor: { id: null, name: sheet.maker },
    family: { main: '', product: sheet.name },
    modules,
    devices: [
      deviceOf(sheet, complain, warn),
      ...sheet.variants.map((variant) => deviceOf(variantOf(sheet, variant), ignore, ignore)),
    ],
  }
}

const ignore: Complain = () => undefined

/** The sheet as it would be for another order number. */
function variantOf(
  sheet: DeviceSheet,
  { orderNumber, name, slots, supplyMa, widthMm }: DeviceSheet['variants'][number],
): DeviceSheet {
  return {
    ...sheet,
    orderNumber,
    name: name || sheet.name,
    ...(slots !== undefined && { slots: { ...sheet.slots, count: slots } }),
    ...(supplyMa !== undefined && { supplyMa }),
    ...(widthMm !== undefined && {
      placement: {
        requires: [],
        maxBeforeExtension: null,
        fieldSupplyMa: 0,
        ...sheet.placement,
        widthMm,
      },
    }),
  }
}

/** Data of a fail-safe module with the octets of the fail-safe layer behind them, and its F
 *  parameters beside its own. */
function safeSubmodules(
  made: Submodule[],
  { key, name, failSafe, parameters }: DeviceSheet['modules'][number],
): Submodule[] {
  if (!failSafe) return made
  const { trailerOctets } = failSafe
  const trailer = (bytes: number): DataItem[] =>
    trailerOctets === 0
      ? []
      : [
          {
            name: 'Fail-safe layer',
            type: `${trailerOctets} octets`,
            holds: 'trailer',
            offsetBits: bytes * 8,
            bits: trailerOctets * 8,
            asBits: false,
            channels: [],
          },
        ]
  const [data] = made.length > 0 ? made : [makeSubmodule({ key: `${key}.data`, name })]
  return [
    {
      ...data!,
      safety: true,
      inputs: [...data!.inputs, ...trailer(data!.inputBytes)],
      outputs: [...data!.outputs, ...trailer(data!.outputBytes)],
      inputBytes: data!.inputBytes + trailerOctets,
      outputBytes: data!.outputBytes + trailerOctets,
      parameters: [
        failSafeRecord(failSafe),
        ...parameters.map((record) => recordOf(record, [], ignore)),
      ],
    },
  ]
}

/** The same register in two places, and references where addresses from 0 are asked for. */
function lookAtRegisters(sheet: DeviceSheet, complain: Complain, warn: Complain): void {
  const owners = new Map<string, string>()
  const isByReference = sheet.registerCounting === 'reference'
  for (const [i, { name, table, address: written, type }] of sheet.registers.entries()) {
    const meant = addressOf(table, written)
    const address = isByReference ? (meant ?? written) : written
    if (isByReference && (meant === null || meant < 0))
      complain(
        'register.reference',
        `"${name}" has the reference ${written}, which is none of a ${wordTable(table)}.`,
        ['registers', i, 'address'],
      )
    if (!isByReference && table !== 'coil' && meant !== null)
      warn(
        'register.reference',
        `"${name}" has the address ${address}, which looks like the reference of ${wordTable(table)} ${meant}: addresses count from 0.`,
        ['registers', i, 'address'],
      )
    const width = modbusTables[table].isBit ? 1 : Math.max(1, sheetTypes[type].bits / 16)
    const other = Array.from({ length: width }, (_, n) =>
      owners.get(`${table} ${address + n}`),
    ).find((one) => one !== undefined)
    if (other !== undefined)
      complain(
        'register.duplicate',
        `"${name}" lies on ${wordTable(table)} ${address}, where "${other}" lies too.`,
        ['registers', i, 'address'],
      )
    for (let n = 0; n < width; n++) owners.set(`${table} ${address + n}`, name)
  }
}

function deviceOf(sheet: DeviceSheet, complain: Complain, warn: Complain): Device {
  lookAtRegisters(sheet, complain, warn)
  const { slots } = sheet
  const head =
    hasSheetPart(sheet.network, 'registers') &&
    sheet.head.inputs.length + sheet.head.outputs.length === 0
      ? { ...sheet.head, ...dataOfRegisters(sheet) }
      : sheet.head
  const places = slots.everySlot ? rackPlaces(sheet) : slots.nibbles ? nibblePlaces(sheet) : null
  const made = slotsOf(sheet, places, complain)
  const own = submoduleOf('head', sheet.name, head.inputs, head.outputs, places)
  const common = makeDevice({
    key: sheet.orderNumber || sheet.name,
    name: sheet.name,
    info: sheet.info,
    orderNumber: sheet.orderNumber || null,
    limits: { ...noLimits, modules: made.length },
    slots: made,
    submodules: own,
    parameters: head.parameters.map((record, r) =>
      recordOf(record, ['head', 'parameters', r], complain),
    ),
    connections: sheet.dataSets.map((dataSet) => connectionOf(dataSet, own[0])),
    currentMa: sheet.supplyMa === null ? null : -sheet.supplyMa,
    ...(sheet.placement && { placement: sheet.placement }),
    ...(sheet.switches && { switches: sheet.switches }),
    ...(sheet.power && { power: sheet.power }),
    ...(sheet.source && { source: sheet.source }),
  })
  if (hasSheetPart(sheet.network, 'dataSets')) return { ...common, ...ethernetIpOf(sheet, own[0]) }
  if (!standsOnNetworks(sheet.network)) return belowPort(common, sheet, own[0])
  return {
    ...common,
    protocol: sheet.network,
    identity: { sheet: { vendor: sheet.maker, orderNumber: sheet.orderNumber } },
    sheet: {
      addressing: sheet.addressing,
      headerBytes: layOut(head.inputs).bytes,
      ...(sheet.networkPorts.length > 0 && {
        networkPorts: sheet.networkPorts.map(({ segment, terminates, ...port }) => ({
          ...port,
          ...(segment !== undefined && { segment }),
          ...(terminates && { terminates }),
        })),
      }),
      ...(sheet.radio.length > 0 && { radio: sheet.radio }),
      controller: sheet.controller ?? null,
      registers: registersOf(sheet),
      dataOrder: sheet.dataOrder,
      modbus: sheet.modbus,
    },
  }
}

/** A device below a port, known by its sizes; its bits count from the last octet, as an IODD has
 *  them. */
function belowPort(
  common: Omit<Device, 'protocol' | 'identity'>,
  { identity }: DeviceSheet,
  own: Submodule | undefined,
): Device {
  const [inputBytes, outputBytes] = [own?.inputBytes ?? 0, own?.outputBytes ?? 0]
  const data = own && {
    ...own,
    inputs: own.inputs.map((item) => onPort(item, inputBytes)),
    outputs: own.outputs.map((item) => onPort(item, outputBytes)),
  }
  return {
    ...common,
    limits: { ...common.limits, inputBytes, outputBytes },
    submodules: data ? [data] : [],
    protocol: 'io-link',
    identity: {
      'io-link': { vendorId: identity.vendorCode ?? 0, deviceId: identity.productCode ?? 0 },
    },
    ioLink: {
      transmissionRate: null,
      minCycleTimeUs: null,
      mSequenceCapability: null,
      hasSioMode: false,
      layouts: [],
    },
  }
}

function ethernetIpOf(sheet: DeviceSheet, own: Submodule | undefined) {
  const {
    vendorCode = 0,
    productType = 0,
    productCode = 0,
    majorRevision = 0,
    minorRevision = 0,
  } = sheet.identity
  return {
    protocol: 'ethernet-ip' as const,
    identity: {
      'ethernet-ip': { vendorCode, productType, productCode, majorRevision, minorRevision },
    },
    ethernetIp: {
      productType: '',
      maxConnections: null,
      isModular: sheet.slots.count > 0,
      ...(sheet.dataSets.length > 0 && {
        own: { inputBytes: own?.inputBytes ?? 0, outputBytes: own?.outputBytes ?? 0 },
      }),
    },
  }
}

/** The slots of the sheet with the modules that fit into each: those that may stand there and have
 *  no more data than it has room for. */
function slotsOf({ slots, modules }: DeviceSheet, places: SlotPlaces | null, complain: Complain) {
  const numbers = places
    ? [...places.at.keys()]
    : Array.from({ length: slots.count }, (_, i) => slots.first + i)
  const fits = modules.map((module, i) => {
    const ranges = parseValueList(module.slots) ?? []
    const [bitsIn, bitsOut] = [layOut(module.inputs).bits, layOut(module.outputs).bits]
    const isInRoom = (slot: number) =>
      !places ||
      (bitsIn <= (places.at.get(slot)!.in?.bits ?? 0) &&
        bitsOut <= (places.at.get(slot)!.out?.bits ?? 0))
    if (numbers.length > 0 && !numbers.some(isInRoom))
      complain('slots.room', `${module.name} has more data than a slot has room for.`, [
        'modules',
        i,
      ])
    return {
      key: module.key,
      fits: (slot: number) => (ranges.length === 0 || inRanges(ranges, slot)) && isInRoom(slot),
    }
  })
  if (slots.nibbles?.secondFirst != null && slots.nibbles.secondFirst < slots.first + slots.count)
    complain('slots.numbers', 'The B nodes begin at a number that an A node has.', [
      'slots',
      'nibbles',
      'secondFirst',
    ])
  return numbers.map((slot) => ({
    slot,
    fixed: null,
    default: null,
    allowed: fits.filter((module) => module.fits(slot)).map(({ key }) => key),
    ...(places && { at: places.at.get(slot)! }),
  }))
}

/** The address in requests of a register that is written as a reference; a coil's is its number less
 *  one (common practice). */
function addressOf(table: ModbusTable, written: number): number | null {
  return table === 'coil' ? written - 1 : registerOfReference(table, written)
}

/** What may be written is written unless the sheet says otherwise. */
export function registersOf({
  registers,
  registerCounting = 'from-0',
}: Pick<DeviceSheet, 'registers'> & Partial<Pick<DeviceSheet, 'registerCounting'>>) {
  return registers.map((register) => ({
    ...register,
    address:
      registerCounting === 'reference'
        ? (addressOf(register.table, register.address) ?? register.address)
        : register.address,
    access:
      register.access ??
      (modbusTables[register.table].writeMany === null ? ('read' as const) : ('write' as const)),
  }))
}

/** Registers as the head's data, in the order in which requests bring them. */
function dataOfRegisters(sheet: DeviceSheet): { inputs: SheetData; outputs: SheetData } {
  const ordered = registersOf(sheet).sort(
    (a, b) =>
      modbusTableNames.indexOf(a.table) - modbusTableNames.indexOf(b.table) ||
      a.address - b.address,
  )
  const item = ({ name, table, type }: (typeof ordered)[number]) => ({
    name,
    type: modbusTables[table].isBit ? ('bit' as const) : type,
    count: 1,
  })
  return {
    inputs: ordered.filter(({ access }) => access !== 'write').map(item),
    outputs: ordered.filter(({ access }) => access !== 'read').map(item),
  }
}

function submoduleOf(
  key: string,
  name: string,
  inputs: SheetData,
  outputs: SheetData,
  places: SlotPlaces | null = null,
): Submodule[] {
  if (inputs.length === 0 && outputs.length === 0 && !places) return []
  const [laidIn, laidOut] = [layOut(inputs), layOut(outputs)]
  return [
    makeSubmodule({
      key: `${key}.data`,
      name,
      inputBytes: places?.inputBytes ?? laidIn.bytes,
      outputBytes: places?.outputBytes ?? laidOut.bytes,
      inputs: [...laidIn.items, ...(places?.flags ?? [])],
      outputs: laidOut.items,
    }),
  ]
}

function recordOf(
  record: DeviceSheet['head']['parameters'][number],
  path: (string | number)[],
  complain: Complain,
): ParameterRecord {
  const bytes = new Uint8Array(record.length)
  const constant = parseOctets(record.constant)
  if (!constant || constant.length > record.length)
    complain(
      'record.constant',
      `"${record.constant}" are not at most ${record.length} octets in hex.`,
      [...path, 'constant'],
    )
  else bytes.set(constant)
  const parameters = record.parameters.flatMap(repeated).map((parameter, i) => {
    const { kind } = sheetTypes[parameter.type]
    const laid: Parameter = {
      key: parameter.key,
      name: parameter.name,
      type: parameter.type,
      kind,
      byteOrder: record.byteOrder,
      offsetBytes: parameter.byte,
      offsetBits: parameter.bit,
      bits: kind === 'float' ? 32 : (parameter.bits ?? sheetTypes[parameter.type].bits),
      default: parameter.default,
      allowed: parseValueList(parameter.allowed) ?? [],
      texts: parameter.texts,
      visible: true,
      changeable: true,
      unit: parameter.unit,
      ...(parameter.group !== '' && { menus: [{ path: [parameter.group], rank: i }] }),
    }
    if (laid.offsetBytes * 8 + laid.offsetBits + laid.bits > record.length * 8)
      complain(
        'record.length',
        `${parameter.name} ends after the record's ${record.length} octets.`,
        [...path, 'parameters', i, 'byte'],
      )
    else encodeValue(bytes, laid, laid.default)
    return laid
  })
  return { index: record.index, length: record.length, bytes: toHex(bytes), parameters }
}

/** One parameter for each signal: `{n}` in key, name and heading is its number. */
function repeated({
  repeat,
  ...parameter
}: DeviceSheet['head']['parameters'][number]['parameters'][number]) {
  if (!repeat) return [parameter]
  const { count, everyBytes, everyBits, from } = repeat
  return Array.from({ length: count }, (_, i) => {
    const numbered = (text: string) => text.replaceAll('{n}', String(from + i))
    const bits = parameter.bit + i * everyBits
    return {
      ...parameter,
      key: parameter.key.includes('{n}') ? numbered(parameter.key) : `${parameter.key}${from + i}`,
      name: numbered(parameter.name),
      group: numbered(parameter.group),
      byte: parameter.byte + i * everyBytes + (bits >> 3),
      bit: bits & 7,
    }
  })
}

/** Class 4, configuration instance, connection points out and in (CIP Vol. 1, App. C). It begins
 *  with the head's own data. */
function connectionOf(
  {
    key,
    name,
    info,
    outputInstance,
    outputBytes,
    inputInstance,
    inputBytes,
    configInstance,
    configBytes,
    runIdleHeader,
    contents,
  }: DeviceSheet['dataSets'][number],
  own: Submodule | undefined,
): Connection {
  const instance = (kind: number, number: number) =>
    number > 255 ? [kind + 1, 0, number & 0xff, number >> 8] : [kind, number]
  const path = [
    0x20,
    4,
    ...instance(0x24, configInstance),
    ...instance(0x2c, outputInstance),
    ...instance(0x2c, inputInstance),
  ]
  return {
    key,
    name,
    info,
    outputBytes,
    inputBytes,
    configBytes,
    path: toHex(Uint8Array.from(path)),
    requestedIntervalUs: null,
    requestedInputIntervalUs: null,
    hasRunIdleHeader: runIdleHeader,
    inputs: [...(own?.inputs ?? []), ...contentsOf(contents, 'in', own?.inputs ?? [])],
    outputs: [...(own?.outputs ?? []), ...contentsOf(contents, 'out', own?.outputs ?? [])],
  }
}

/** What a data set says of its octets, each part as one value, where the head's own data are not. */
function contentsOf(
  contents: DeviceSheet['dataSets'][number]['contents'],
  direction: 'in' | 'out',
  own: readonly DataItem[],
): DataItem[] {
  const end = Math.max(0, ...own.map(({ offsetBits, bits }) => offsetBits + bits))
  return contents
    .filter((one) => one.direction === direction && one.byte * 8 >= end)
    .map(({ name, byte, bytes }) => ({
      name,
      type: `${bytes} octets`,
      holds: 'other' as const,
      offsetBits: byte * 8,
      bits: bytes * 8,
      asBits: false,
      channels: [],
    }))
}
