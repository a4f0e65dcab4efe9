import { moduleList } from '@kataxis/core'
import {
  dataManagers,
  decodeEthercat,
  decodeMapping,
  decodeSdoRequest,
  encodeEthercat,
  errorFlag,
  fromMailbox,
  identityWords,
  mailbox,
  mappingOctets,
  putBits,
  registers,
  sdoAbort,
  sdoAnswer,
  states,
  syncManagerOctets,
  takeBits,
  type Datagram,
  type Mapping,
  type Sdo,
} from '@kataxis/core/wire/ethercat'
import { isTooSlow, type Device } from '../device'
import type { StandIn } from '../net'

/** What a slave keeps besides its data. */
interface Slave {
  configured: number
  state: number
  statusCode: number
  eepromAddress: number
  mail: Uint8Array
  /** As they were written, by sync manager and mapping. */
  readonly sizes: { in: number | null; out: number | null }
  readonly mappings: { in: Mapping | null; out: Mapping | null }
}

const slaveOf = (device: Device) =>
  (device.session ??= {
    configured: 0,
    state: states.init,
    statusCode: 0,
    eepromAddress: 0,
    mail: new Uint8Array(),
    sizes: { in: null, out: null },
    mappings: { in: null, out: null },
  } satisfies Slave) as Slave

/** EtherCAT slaves: the frame passes through all that are there, in the order of the line. */
export const ethercat: StandIn = ({ devices }, octets) => {
  const datagrams = decodeEthercat(octets)
  if (!datagrams) return []
  const line = devices.filter(({ isAway }) => !isAway)
  if (line.length === 0) return []
  return [encodeEthercat(datagrams.map((one) => line.reduce(pass, one)))]
}

function pass(datagram: Datagram, device: Device): Datagram {
  const slave = slaveOf(device)
  const { command, address } = datagram
  switch (command) {
    case 'APRD':
    case 'APWR': {
      // Every slave counts up; where it was zero, that slave is meant.
      const next = { ...datagram, address: (address + 1) & 0xffff }
      return address === 0 ? { ...touched(device, slave, next) } : next
    }
    case 'BRD':
    case 'BWR':
      return { ...touched(device, slave, datagram), address: (address + 1) & 0xffff }
    case 'FPRD':
    case 'FPWR':
      return address === slave.configured ? touched(device, slave, datagram) : datagram
    default:
      return logical(device, slave, datagram)
  }
}

/** Reads or writes a slave's registers: the working counter tells that it did. */
function touched(device: Device, slave: Slave, datagram: Datagram): Datagram {
  const counted = { ...datagram, workingCounter: datagram.workingCounter + 1 }
  if (datagram.command.endsWith('WR')) {
    if (datagram.offset === registers.mailboxOut && !hasMailbox(device)) return datagram
    write(device, slave, datagram.offset, datagram.data)
    return counted
  }
  if (datagram.offset === registers.mailboxIn && slave.mail.length === 0) return datagram
  const data = new Uint8Array(datagram.data.length)
  data.set(read(device, slave, datagram.offset).subarray(0, data.length))
  if (datagram.offset === registers.mailboxIn) slave.mail = new Uint8Array()
  if (datagram.command === 'BRD')
    for (const [i, octet] of datagram.data.entries()) data[i]! |= octet
  return { ...counted, data }
}

const word = (data: Uint8Array, at = 0) => (data[at] ?? 0) + 256 * (data[at + 1] ?? 0)
const octetsOf = (value: number) =>
  Uint8Array.of(value & 255, (value >>> 8) & 255, (value >>> 16) & 255, (value >>> 24) & 255)

function read(device: Device, slave: Slave, offset: number): Uint8Array {
  switch (offset) {
    case registers.type:
      return Uint8Array.of(0x11)
    case registers.configuredAddress:
      return octetsOf(slave.configured)
    case registers.status:
      return Uint8Array.of(slave.state, 0, 0, 0, slave.statusCode & 255, slave.statusCode >> 8)
    case registers.eepromData:
      return octetsOf(memoryWord(device, slave.eepromAddress))
    case registers.mailboxIn:
      return slave.mail
    default:
      return new Uint8Array()
  }
}

function memoryWord({ is, serial, firmware }: Device, address: number): number {
  const [vendor = '0', product = '0'] = is.identity.type.split(':')
  switch (address) {
    case identityWords.vendor:
      return parseInt(vendor, 16)
    case identityWords.product:
      return parseInt(product, 16)
    case identityWords.revision:
      return Number(firmware ?? 0) || 0
    case identityWords.serial:
      return serial
    default:
      return 0
  }
}

function write(device: Device, slave: Slave, offset: number, data: Uint8Array): void {
  if (offset === registers.configuredAddress) slave.configured = word(data)
  else if (offset === registers.control) change(device, slave, word(data))
  else if (offset === registers.eepromControl) slave.eepromAddress = word(data, 2)
  else if (offset === registers.mailboxOut) slave.mail = answerMail(device, data)
  for (const direction of ['in', 'out'] as const) {
    const manager = registers.syncManagers + dataManagers[direction] * syncManagerOctets
    if (offset === manager) slave.sizes[direction] = word(data, 2)
  }
  if (offset === registers.mappings || offset === registers.mappings + mappingOctets) {
    const mapping = decodeMapping(data)
    if (mapping) slave.mappings[mapping.direction] = mapping
  }
}

const faults = {
  transition: 0x11,
  watchdog: 0x1b,
  outputs: 0x1d,
  inputs: 0x1e,
  modules: 0x70,
} as const

/** One state after the other; data sizes are checked on the way to safe operation. */
function change(device: Device, slave: Slave, wanted: number): void {
  const target = wanted & 0x0f
  const order = [states.init, states.preop, states.safeop, states.op] as readonly number[]
  const [from, to] = [order.indexOf(slave.state & 0x0f), order.indexOf(target)]
  const { view } = device.is
  const refuse = (code: number) => {
    slave.state = (slave.state & 0x0f) | errorFlag
    slave.statusCode = code
  }
  if (to === -1 || to > from + 1) return refuse(faults.transition)
  if (target === states.safeop && to > from) {
    if (slave.sizes.out !== view.outputBytes) return refuse(faults.outputs)
    if (slave.sizes.in !== view.inputBytes) return refuse(faults.inputs)
  }
  if (target === states.op && (device.isStopped || isTooSlow(device, defaultWatchdogUs)))
    return refuse(device.isStopped ? faults.transition : faults.watchdog)
  slave.state = target
  slave.statusCode = 0
}
/** Watchdog of process data as slaves have it by default (ETG.1000-4). */
const defaultWatchdogUs = 100_000

/** Slaves with process data of a kind that is described have a mailbox. */
function hasMailbox({ is }: Device): boolean {
  const { device } = is.view
  return device !== null && 'ethercat' in device && device.ethercat.mailboxProtocols.includes('CoE')
}

const abortCodes = { readOnly: 0x0601_0002, unknown: 0x0602_0000, length: 0x0607_0010 } as const

function answerMail(device: Device, octets: Uint8Array): Uint8Array {
  const coe = fromMailbox(octets)
  const request = coe && decodeSdoRequest(coe)
  if (!request) return new Uint8Array()
  return mailbox(answerSdo(device, request), 1)
}

function answerSdo(device: Device, request: Sdo): Uint8Array {
  const text = (value: string) => Uint8Array.from(value, (one) => one.charCodeAt(0) & 0x7f)
  if (request.kind === 'upload') {
    if (request.index === 0xf050) return sdoAnswer(request, text(moduleList(device.is.modules)))
    if (request.index === 0x1008) return sdoAnswer(request, text(device.is.identity.typeName))
    return sdoAbort(request, abortCodes.unknown)
  }
  if (request.index < 0x1000) return sdoAbort(request, abortCodes.unknown)
  // Identity and the lists of modules found are read only (ETG.1000-6, ETG.5001).
  return request.index === 0x1018 || request.index === 0xf050
    ? sdoAbort(request, abortCodes.readOnly)
    : sdoAnswer(request, new Uint8Array())
}

/** Process data where the slave's mappings meet the datagram: 1 for reading, 2 for writing. */
function logical(device: Device, slave: Slave, datagram: Datagram): Datagram {
  const { command, offset } = datagram
  let { workingCounter } = datagram
  const data = datagram.data.slice()
  const place = (mapping: Mapping | null, bits: number) => {
    if (!mapping) return null
    const bit = (mapping.logicalStart - offset) * 8 + mapping.startBit
    return bit < 0 || bit + bits > data.length * 8 ? null : { bit, bits }
  }
  const state = slave.state & 0x0f
  const size = (mapping: Mapping | null) =>
    mapping ? (mapping.bytes - 1) * 8 + mapping.endBit - mapping.startBit + 1 : 0
  const out = place(slave.mappings.out, size(slave.mappings.out))
  if (out && command !== 'LRD' && state === states.op) {
    device.outputs.set(takeBits(data, out).subarray(0, device.outputs.length))
    workingCounter += command === 'LRW' ? 2 : 1
  }
  const into = place(slave.mappings.in, size(slave.mappings.in))
  if (into && command !== 'LWR' && state >= states.safeop) {
    putBits(data, into, device.inputs)
    workingCounter += 1
  }
  return { ...datagram, data, workingCounter }
}
