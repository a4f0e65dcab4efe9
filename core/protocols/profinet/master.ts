import { toHex } from '../../vocabulary/hex'
import {
  failed,
  faultOf,
  startedWith,
  type FailSafeAddress,
  type FoundDevice,
  type Line,
  type Master,
  type Pair,
  type StartFault,
  type Started,
  type WantedStation,
} from '../master'
import {
  blocksIn,
  blockTypes,
  control,
  encodeConnect,
  moduleStates,
  readDifference,
  readRecord,
  recordRequest,
  withoutRelation,
  writeStatus,
  type Connect,
  type ModuleDifference,
  type RecordPlace,
} from './blocks'
import {
  blockCode,
  blockOf,
  dcpErrors,
  decodeDcp,
  encodeDcp,
  identifyMulticast,
  type DcpBlock,
  type DcpFrame,
} from './dcp'
import { frameLayout } from './frame-places'
import { hexIdent, hexWord } from './idents'
import { decodeRealIdentification } from './real-identification'
import { channelErrors, dataStatusRun, decodeAlarm, decodeCyclic, encodeCyclic } from './real-time'
import {
  decodeMaintenance,
  decodePortData,
  failSafeRecord,
  readFailSafeRecord,
  recordIndexes,
} from './records'
import { decodeRpc, deviceObject, encodeRpc, mostAnswer, rpcPort, type RpcOperation } from './rpc'
import { timesOfStation } from './times'

/** The tool's own address on the wire. */
export const toolMac = '02:4b:41:54:00:01'
/** Ports are submodules 0x8001, 0x8002 … of the first interface. */
const firstPort = 0x8001
/** Status octet of data that are good. */
const good = 0x80

export const profinetMaster: Master = {
  identifiedBy: 'name',

  scan(line, at) {
    const { answers } = askDcp(line, identifyMulticast, 'identify', [{ kind: 'all' }])
    return answers.map((answer) => withFailSafe(line, foundDevice(line, answer), at))
  },

  blink: (line, { key }) => setDcp(line, key, { kind: 'signal' }) === null,

  assign: (line, { key }, { wireName, ip, mask }) =>
    setDcp(line, key, { kind: 'name', name: wireName }) ??
    (ip === '' ? null : setDcp(line, key, { kind: 'ip', ip, mask, gateway: '0.0.0.0' })),

  writeFailSafe(line, device, addresses) {
    for (const isConfirmed of [false, true])
      for (const address of addresses) {
        const status = writeAddress(line, device, address, isConfirmed)
        if (status !== 0)
          return `slot ${address.slot} does not take its address, ${status === null ? 'no answer' : statusWords(status)}.`
      }
    return null
  },

  reset: (line, { key }) => setDcp(line, key, { kind: 'factoryReset' }),

  start: (line, pairs) => new Map(pairs.map((pair) => [pair.station.id, startStation(line, pair)])),

  exchange(line, pairs, outputs) {
    const inputs = new Map<string, Uint8Array>()
    for (const { station, device, index: i } of pairs) {
      const data = intoFrame(station, outputs.get(station.id))
      for (const answer of line.send(
        encodeCyclic({
          destination: device.key,
          source: toolMac,
          frameId: outputFrame(i),
          data,
          cycleCounter: 0,
          dataStatus: dataStatusRun,
        }),
      )) {
        const frame = decodeCyclic(answer)
        if (frame?.source === device.key && frame.dataStatus === dataStatusRun)
          inputs.set(station.id, fromFrame(station, frame.data))
      }
    }
    return inputs
  },
}

function askDcp(
  line: Line,
  destination: string,
  service: DcpFrame['service'],
  blocks: DcpFrame['blocks'],
) {
  const xid = line.next()
  const answers = line
    .send(encodeDcp({ destination, source: toolMac, service, xid, blocks }))
    .map((answer) => decodeDcp(answer))
    .filter((answer): answer is DcpFrame => !('fault' in answer) && answer.xid === xid)
  return { answers }
}

type Settable = Extract<DcpBlock, { kind: 'name' | 'ip' | 'signal' | 'factoryReset' }>

/** Null: set, else why not. */
function setDcp(line: Line, mac: string, block: Settable): string | null {
  const [answer] = askDcp(line, mac, 'set', [block]).answers
  const result = answer && blockOf(answer, 'result')
  const { option, suboption } = blockCode(block.kind)
  if (result?.option !== option || result.suboption !== suboption) return `${mac} does not answer.`
  return result.error === 0
    ? null
    : `${mac} refuses: ${dcpErrors[result.error] ?? `error ${result.error}`}.`
}

/** A device from its answer to an identify request, and from its records where it has an address
 *  to read them at. */
function foundDevice(line: Line, answer: DcpFrame): FoundDevice {
  const id = blockOf(answer, 'deviceId') ?? { vendorId: 0, deviceId: 0 }
  const ip = blockOf(answer, 'ip')?.ip ?? '0.0.0.0'
  const read = (subslot: number, index: number) =>
    readOnly(line, ip, deviceObject(id.vendorId, id.deviceId), { slot: 0, subslot, index })
  const maintenance = decodeMaintenance(read(1, recordIndexes.identification))
  const modules = decodeRealIdentification(read(1, recordIndexes.realIdentification))
  const ports = 'fault' in modules ? [] : (modules[0]?.submodules ?? [])
  return {
    key: answer.source,
    mac: answer.source,
    name: blockOf(answer, 'name')?.name ?? '',
    address: ip === '0.0.0.0' ? null : ip,
    type: `${hexWord(id.vendorId)}:${hexWord(id.deviceId)}`,
    typeName: blockOf(answer, 'typeOfStation')?.text ?? '',
    firmware: maintenance?.software ?? null,
    serial: maintenance?.serial ?? null,
    modules: 'fault' in modules ? null : modules,
    neighbours: ports.flatMap(({ subslot }) => {
      if (subslot < firstPort || subslot > 0x80ff) return []
      const port = decodePortData(read(subslot, recordIndexes.portData))
      return port && port.peerName !== ''
        ? [{ port: port.port, name: port.peerName, peerPort: port.peerPort }]
        : []
    }),
  }
}

/** A call of a device's context management, and the blocks of its answer; null where none came. */
function call(
  line: Line,
  ip: string,
  object: string,
  operation: RpcOperation,
  blocks: Uint8Array,
): {
  readonly status: number
  readonly blocks: Uint8Array
  readonly more: readonly Uint8Array[]
} | null {
  const sequence = line.next()
  const answers = line.send(
    encodeRpc({
      kind: 'request',
      to: 'device',
      operation,
      object,
      activity: toHex(
        Uint8Array.from({ length: 16 }, (_, i) => (i < 4 ? (sequence >> (8 * i)) & 255 : 0x4b)),
        16,
        '',
      ),
      sequence,
      status: 0,
      blocks,
    }),
    { transport: 'udp', ip, port: rpcPort },
  )
  for (const [i, octets] of answers.entries()) {
    const answer = decodeRpc(octets)
    if (answer?.kind === 'response' && answer.sequence === sequence)
      return { ...answer, more: answers.slice(i + 1) }
  }
  return null
}

/** A record read without a connection; empty where it is not handed out. */
function readOnly(
  line: Line,
  ip: string,
  object: string,
  place: Omit<RecordPlace, 'relation'>,
): Uint8Array {
  const request = recordRequest('read', 1, { ...place, relation: withoutRelation }, mostAnswer - 64)
  const answer = call(line, ip, object, 'readImplicit', request)
  return answer && answer.status === 0
    ? (readRecord(answer.blocks)?.data ?? new Uint8Array())
    : new Uint8Array()
}

/** With the fail-safe addresses of the submodules that the plan has for it: by its name, else by its
 *  type. */
function withFailSafe(line: Line, device: FoundDevice, at: readonly WantedStation[]): FoundDevice {
  const wanted =
    at.find(({ wireName }) => wireName === device.name) ??
    at.find(({ identity, failSafe }) => identity.type === device.type && failSafe.length > 0)
  if (!wanted || wanted.failSafe.length === 0 || device.address === null) return device
  const failSafe = wanted.failSafe.flatMap(({ slot, subslot }) => {
    const index = recordIndexes.failSafeAddress
    const record = readOnly(line, device.address!, objectOfType(device.type), {
      slot,
      subslot,
      index,
    })
    const read = readFailSafeRecord(record)
    return read ? [{ slot, subslot, destination: read.destination }] : []
  })
  return { ...device, failSafe }
}

function objectOfType(of: string): string {
  const [vendor = 0, type = 0] = of.split(':').map((word) => parseInt(word, 16))
  return deviceObject(vendor, type)
}

/** Status of the write; null: no answer. */
function writeAddress(
  line: Line,
  { address, type }: FoundDevice,
  { slot, subslot, destination }: FailSafeAddress,
  isConfirmed: boolean,
): number | null {
  const data = failSafeRecord(destination, isConfirmed)
  const place = { relation: withoutRelation, slot, subslot, index: recordIndexes.failSafeAddress }
  const answer = call(
    line,
    address ?? '',
    objectOfType(type),
    'write',
    recordRequest('write', 1, place, data.length, data),
  )
  return answer ? answer.status || writeStatus(answer.blocks) : null
}

const inputFrame = (i: number) => 0x8000 + 2 * (i % 0x3000)
const outputFrame = (i: number) => inputFrame(i) + 1

/** The connection that a station's controller asks for. */
export function connectionOf(station: WantedStation, i: number): Connect {
  const times = timesOfStation(station.settings as unknown as { sendClockUs: number }, station.view)
  const factors = {
    sendClockFactor: Math.round((times?.sendClockUs ?? 1000) / 31.25),
    watchdogFactor: times?.watchdogFactor ?? 3,
    dataHoldFactor:
      (station.view.station.settings as { dataHoldFactor?: number }).dataHoldFactor ?? 3,
  }
  const direction = (which: 'in' | 'out') => {
    const { data, consumers, bytes } = frameLayout(station.modules, which)
    return {
      ...factors,
      direction: which,
      reference: which === 'in' ? 1 : 2,
      frameId: which === 'in' ? inputFrame(i) : outputFrame(i),
      bytes,
      reductionRatio: (which === 'in' ? times?.inputRatio : times?.outputRatio) ?? 1,
      objects: data,
      consumers,
    }
  }
  return {
    relation: {
      id: toHex(
        Uint8Array.from({ length: 16 }, (_, k) => (k < 14 ? 0x4b : i >> (8 * (15 - k)))),
        16,
        '',
      ),
      sessionKey: 1,
      controllerMac: toolMac,
      stationName: station.wireName,
    },
    directions: [direction('in'), direction('out')],
    expected: station.modules.map(({ slot, ident, submodules }) => ({
      slot,
      ident: parseInt(ident, 16),
      submodules: submodules.map((one) => ({ ...one, ident: parseInt(one.ident, 16) })),
    })),
  }
}

/** Connect, write the records, say that these were all, take the device's word that it is ready. */
function startStation(line: Line, { station, device, index: i }: Pair): Started {
  const { ip } = station
  if (ip === '') return failed('start.noAddress', 'the plan has no address for it')
  // The controller gives the address where the device has another one.
  if (device.address !== ip)
    setDcp(line, device.key, { kind: 'ip', ip, mask: station.mask, gateway: '0.0.0.0' })
  const object = objectOfType(station.identity.type)
  const connect = connectionOf(station, i)
  const answer = call(line, ip, object, 'connect', encodeConnect(connect))
  if (!answer) return failed('start.silent', `${ip} does not answer the request to connect`)
  if (answer.status !== 0)
    return failed('start.refused', `it refuses the connection, ${statusWords(answer.status)}`)
  const difference = blocksIn(answer.blocks)?.find(({ type: of }) => of === blockTypes.difference)
  const different = difference ? readDifference(difference.body) : []
  const faults: StartFault[] = different.flatMap((one) => differenceFaults(one))
  const wrong = new Set(different.map(({ slot }) => slot))
  for (const [k, { slot, key, record, bytes }] of station.records.entries()) {
    if (record.index === null || wrong.has(slot)) continue
    const place = {
      relation: connect.relation.id,
      slot,
      subslot: Number(/^\d+/.exec(key)?.[0] ?? 1),
      index: record.index,
    }
    const written = call(
      line,
      ip,
      object,
      'write',
      recordRequest('write', k + 1, place, bytes.length, bytes),
    )
    const status = written ? written.status || writeStatus(written.blocks) : -1
    if (status !== 0)
      faults.push({
        code: 'start.parameter',
        slot,
        subslot: place.subslot,
        channel: null,
        words: `record ${record.index} was not taken, ${status === -1 ? 'no answer' : statusWords(status)}`,
        error: null,
      })
  }
  const end = call(
    line,
    ip,
    object,
    'control',
    control(blockTypes.parametersEnd, connect.relation, 'parameters end'),
  )
  const ready = end?.more.map((octets) => decodeRpc(octets)).find((one) => one?.kind === 'request')
  if (!ready) faults.push(faultOf('start.notReady', 'it does not say that it is ready'))
  else
    line.send(
      encodeRpc({
        ...ready,
        kind: 'response',
        blocks: control(blockTypes.applicationReadyAnswer, connect.relation, 'done'),
      }),
      { transport: 'udp', ip, port: rpcPort },
    )
  const cycle = line.send(
    encodeCyclic({
      destination: device.key,
      source: toolMac,
      frameId: outputFrame(i),
      data: intoFrame(station, undefined),
      cycleCounter: 0,
      dataStatus: dataStatusRun,
    }),
  )
  const frame = cycle.map((octets) => decodeCyclic(octets)).find((one) => one !== null)
  if (!frame) faults.push(faultOf('start.noData', 'it sends no cyclic data'))
  else if (frame.dataStatus !== dataStatusRun)
    faults.push(faultOf('start.stopped', 'it sends data but its application is stopped'))
  for (const octets of cycle) {
    const alarm = decodeAlarm(octets)
    if (alarm)
      faults.push({
        code: 'start.diagnosis',
        slot: alarm.slot,
        subslot: alarm.subslot,
        channel: alarm.channel === 0x8000 ? null : alarm.channel,
        words: channelErrors[alarm.errorType] ?? `error ${alarm.errorType}`,
        error: alarm.errorType,
      })
  }
  return startedWith(faults)
}

function differenceFaults({ slot, ident, state, submodules }: ModuleDifference): StartFault[] {
  if (state === 'no module') return [{ ...faultOf('start.missing', 'there is no module'), slot }]
  if (state === moduleStates[1])
    return [
      { ...faultOf('start.wrong', `another module stands there, ident ${hexIdent(ident)}`), slot },
    ]
  return submodules.flatMap(({ subslot, state: own }) =>
    own === 'ok'
      ? []
      : [{ ...faultOf('start.submodule', `its submodule is ${own}`), slot, subslot }],
  )
}

const statusWords = (status: number) => `status ${hexIdent(status >>> 0)}`

/** Output data of a station, blocks one behind the other, at their places in its frame. */
function intoFrame({ modules }: WantedStation, data: Uint8Array | undefined): Uint8Array {
  const { data: places, consumers, bytes } = frameLayout(modules, 'out')
  const frame = new Uint8Array(bytes)
  let at = 0
  for (const { offset, bytes: own } of places) {
    if (data) frame.set(data.subarray(at, at + own), offset)
    at += own
    frame[offset + own] = good
  }
  for (const { offset } of consumers) frame[offset] = good
  return frame
}

/** Input data out of a frame, blocks one behind the other. */
function fromFrame({ modules }: WantedStation, frame: Uint8Array): Uint8Array {
  const places = frameLayout(modules, 'in').data
  const data = new Uint8Array(places.reduce((sum, { bytes }) => sum + bytes, 0))
  let at = 0
  for (const { offset, bytes } of places) {
    data.set(frame.subarray(offset, offset + bytes), at)
    at += bytes
  }
  return data
}
