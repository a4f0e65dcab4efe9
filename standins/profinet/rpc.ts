import type { RealModule } from '@kataxis/core'
import {
  blockTypes,
  connectAnswer,
  control,
  decodeConnect,
  encodeMaintenance,
  encodePortData,
  encodeRealIdentification,
  encodeRpc,
  readRecord,
  recordAnswer,
  recordIndexes,
  type Connect,
  type ExpectedModule,
  type ModuleDifference,
  failSafeRecord,
  readFailSafeRecord,
  type RecordPlace,
  type RpcCall,
} from '@kataxis/core/wire/profinet'
import type { Device } from '../device'
import type { Net } from '../net'

/** What a device keeps of the connection it is in. */
export interface Session {
  readonly connect: Connect
  readonly different: readonly ModuleDifference[]
  /** Alarms that it has not sent yet. */
  alarmsWaiting: boolean
}

/** Status of a call: error in connect, read or write, decoded by PNIO (from memory). */
const statuses = {
  connectFaulty: 0xdb81_0102,
  outOfResources: 0xdb81_0204,
  noRecord: 0xde80_b000,
  invalidParameter: 0xdf80_b800,
  invalidLength: 0xdf80_b100,
} as const
const firstPort = 0x8001

export function answerRpc(net: Net, device: Device, call: RpcCall): Uint8Array[] {
  if (call.kind !== 'request') return []
  const answer = (blocks: Uint8Array, status = 0) =>
    encodeRpc({ ...call, kind: 'response', status, blocks })
  switch (call.operation) {
    case 'connect':
      return [connected(device, call, answer)]
    case 'read':
    case 'readImplicit':
      return [readAnswer(net, device, call, answer)]
    case 'write':
      return [writeAnswer(device, call, answer)]
    case 'control':
      return controlled(device, call, answer)
    default:
      device.session = null
      return [answer(new Uint8Array())]
  }
}

type Answer = (blocks: Uint8Array, status?: number) => Uint8Array

function connected(device: Device, call: RpcCall, answer: Answer): Uint8Array {
  const connect = decodeConnect(call.blocks)
  const isMeant = connect?.relation.stationName === device.name
  const watchdogs = connect?.directions.every(({ watchdogFactor }) => watchdogFactor > 0) ?? false
  if (!connect || !isMeant || !watchdogs) return answer(new Uint8Array(), statuses.connectFaulty)
  const different = connect.expected.flatMap((one) => differenceOf(device.is.modules, one))
  device.session = { connect, different, alarmsWaiting: true } satisfies Session
  return answer(connectAnswer(connect, device.mac, different))
}

/** What stands in a slot against what is expected there; nothing where both agree. */
function differenceOf(
  real: readonly RealModule[],
  { slot, ident, submodules }: ExpectedModule,
): ModuleDifference[] {
  const there = real.find((module) => module.slot === slot)
  if (!there) return [{ slot, ident: 0, state: 'no module', submodules: [] }]
  const own = parseInt(there.ident, 16)
  if (own !== ident) return [{ slot, ident: own, state: 'wrong module', submodules: [] }]
  const parts = submodules.map(({ subslot, ident: expected }) => {
    const part = there.submodules.find((one) => one.subslot === subslot)
    const is = part ? parseInt(part.ident, 16) || 0 : 0
    const state = !part ? 'missing' : is === expected ? 'ok' : 'wrong'
    return { subslot, ident: is, state } as const
  })
  return parts.every(({ state }) => state === 'ok')
    ? []
    : [
        {
          slot,
          ident: own,
          state: 'proper module',
          submodules: parts.filter(({ state }) => state !== 'ok'),
        },
      ]
}

function readAnswer(net: Net, device: Device, call: RpcCall, answer: Answer): Uint8Array {
  const place = readRecord(call.blocks)
  if (!place) return answer(new Uint8Array(), statuses.noRecord)
  const record = recordOf(net, device, place)
  return record
    ? answer(recordAnswer('read', place.sequence, place, 0, record))
    : answer(new Uint8Array(), statuses.noRecord)
}

function recordOf(
  net: Net,
  device: Device,
  { index, slot, subslot }: RecordPlace,
): Uint8Array | null {
  switch (index) {
    case recordIndexes.realIdentification:
      return encodeRealIdentification(device.is.modules)
    case recordIndexes.identification:
      return encodeMaintenance({
        vendorId: parseInt(device.is.identity.type, 16),
        orderNumber: device.is.view.device?.orderNumber ?? device.is.identity.typeName,
        serial: device.serial.toString(16).toUpperCase(),
        software: device.firmware,
      })
    case recordIndexes.portData: {
      const port = subslot - firstPort + 1
      const other = port < 1 || port > 8 ? null : neighbourAt(net, device, port)
      return other && encodePortData({ port, ...other })
    }
    case recordIndexes.failSafeAddress: {
      const address = device.failSafe.get(`${slot}.${subslot}`)
      return address ? failSafeRecord(address.destination, true) : null
    }
    default:
      return null
  }
}

/** Who stands at the other end of a port's cable: in the order of the wire, the one before at port
 *  1, the one behind at port 2. */
function neighbourAt({ devices }: Net, device: Device, port: number) {
  const at = devices.indexOf(device)
  const other = port === 1 ? devices[at - 1] : port === 2 ? devices[at + 1] : undefined
  return !other || other.isAway || other.name === ''
    ? { peerName: '', peerPort: '' }
    : { peerName: other.name, peerPort: port === 1 ? 'port-002' : 'port-001' }
}

function writeAnswer(device: Device, call: RpcCall, answer: Answer): Uint8Array {
  const place = readRecord(call.blocks)
  if (!place) return answer(new Uint8Array(), statuses.invalidParameter)
  if (place.index === recordIndexes.failSafeAddress) {
    const own = takeFailSafe(device, place) ? 0 : statuses.invalidParameter
    return answer(recordAnswer('write', place.sequence, place, own), own)
  }
  const record = device.is.records.find(
    (one) => one.slot === place.slot && one.record.index === place.index,
  )
  const status = !record
    ? statuses.invalidParameter
    : record.record.length !== place.data.length
      ? statuses.invalidLength
      : 0
  return answer(recordAnswer('write', place.sequence, place, status), status)
}

/** A proposed address counts once the same is confirmed. */
function takeFailSafe(
  { failSafe }: Device,
  { slot, subslot, data }: RecordPlace & { readonly data: Uint8Array },
): boolean {
  const address = failSafe.get(`${slot}.${subslot}`)
  const read = readFailSafeRecord(data)
  if (!address || !read || read.destination < 1 || read.destination > 65_534) return false
  if (!read.isConfirmed) {
    address.proposed = read.destination
    return true
  }
  if (address.proposed !== read.destination) return false
  address.destination = read.destination
  address.proposed = null
  return true
}

/** The end of the parameters is answered, and the device says that it is ready. */
function controlled(device: Device, call: RpcCall, answer: Answer): Uint8Array[] {
  const session = device.session as Session | null
  if (!session) return [answer(new Uint8Array(), statuses.connectFaulty)]
  const { relation } = session.connect
  return [
    answer(control(blockTypes.parametersEndAnswer, relation, 'done')),
    encodeRpc({
      ...call,
      kind: 'request',
      to: 'controller',
      sequence: call.sequence + 1,
      blocks: control(blockTypes.applicationReady, relation, 'application ready'),
    }),
  ]
}
