import { formatIp, parseIp } from '../../addressing/ip'
import { modbusTables } from '../../vocabulary/modbus-table'
import {
  faultOf,
  startedWith,
  type FoundDevice,
  type Line,
  type Master,
  type StartFault,
  type WantedStation,
} from '../master'
import { readModuleList } from '../module-list'
import { intoData, registerPlaces, registersOf, type RegisterPlace } from './register-places'
import { gatherRequests, requestPdu, type ModbusRequest } from './requests'
import { requestsOf } from './round'
import {
  decodeSerialUnit,
  decodeTcpUnit,
  encodeSerialUnit,
  encodeTcpUnit,
  exceptionWords,
  identificationRequest,
  modbusPort,
  readIdentification,
  serialUnit,
} from './units'

/** Sends a protocol data unit and gives the answer's; null where none comes. */
type Ask = (
  line: Line,
  station: Pick<WantedStation, 'ip' | 'number'>,
  pdu: Uint8Array,
) => Uint8Array | null

const askTcp: Ask = (line, { ip, number }, pdu) => {
  const transaction = line.next() & 0xffff
  const to = { transport: 'tcp', ip, port: modbusPort } as const
  for (const octets of line.send(encodeTcpUnit({ transaction, unit: number, pdu }), to)) {
    const answer = decodeTcpUnit(octets)
    if (answer?.transaction === transaction && answer.unit === number) return answer.pdu
  }
  return null
}

const askSerial: Ask = (line, { number }, pdu) => {
  const unit = serialUnit(number)
  for (const octets of line.send(encodeSerialUnit(unit, pdu))) {
    const answer = decodeSerialUnit(octets)
    if (answer?.unit === unit) return answer.pdu
  }
  return null
}

export const modbusTcpMaster = masterOver(
  askTcp,
  ({ ip, number }) => ({ key: `${ip}/${number}`, address: ip, unit: number }),
  otherHosts,
)
export const modbusSerialMaster = masterOver(
  askSerial,
  ({ number }) => ({ key: String(number), address: String(number) }),
  (at) => {
    const planned = new Set(at.map(({ number }) => serialUnit(number)))
    const units = Array.from({ length: 247 }, (_, i) => i + 1)
    return units.filter((unit) => !planned.has(unit)).map((number) => ({ ip: '', number }))
  },
)

/** The other addresses of the subnets that stations stand in, where these are no larger than usual. */
function otherHosts(at: readonly WantedStation[]): Asked[] {
  const planned = new Set(at.map(({ ip }) => ip))
  const subnets = new Map(
    at.flatMap(({ ip, mask, number }) => {
      const [address, bits] = [parseIp(ip), parseIp(mask)]
      if (address === null || bits === null || bits < largestSwept) return []
      return [[(address & bits) >>> 0, { size: 2 ** 32 - bits, number }] as const]
    }),
  )
  return [...subnets].flatMap(([network, { size, number }]) =>
    Array.from({ length: size - 2 }, (_, i) => ({ ip: formatIp(network + i + 1), number })).filter(
      ({ ip }) => !planned.has(ip),
    ),
  )
}
/** 255.255.255.0 */
const largestSwept = 0xffff_ff00

type Asked = Pick<WantedStation, 'ip' | 'number'>

function masterOver(
  ask: Ask,
  placeOf: (asked: Asked) => Pick<FoundDevice, 'key' | 'address' | 'unit'>,
  others: (at: readonly WantedStation[]) => readonly Asked[],
): Master {
  return {
    identifiedBy: 'address',
    scan(line, at) {
      const among = (asked: readonly Asked[]) =>
        asked.flatMap((one) => {
          const found = identify(ask, line, one)
          return found ? [{ ...found, ...placeOf(one) }] : []
        })
      const found = among(at)
      // Whoever is missing may answer somewhere else.
      return found.length < at.length ? [...found, ...among(others(at))] : found
    },
    start: (line, pairs) =>
      new Map(
        pairs.map(({ station }) => {
          const faults = [
            ...startSequence(ask, line, station),
            ...requestsFor(station).flatMap((request) =>
              faultsOf(ask(line, station, requestPdu(request)), request),
            ),
          ]
          return [station.id, startedWith(faults)]
        }),
      ),
    exchange: (line, pairs, outputs) =>
      new Map(
        pairs.flatMap(({ station }) => {
          const inputs = exchangeWith(ask, line, station, outputs.get(station.id))
          return inputs ? [[station.id, inputs]] : []
        }),
      ),
  }
}

/** Maker, product, revision and serial number, and what stands in its slots. */
function identify(ask: Ask, line: Line, at: Asked): Omit<FoundDevice, 'key' | 'address'> | null {
  const objects = new Map<number, string>()
  for (const isExtended of [false, true])
    for (let next = isExtended ? 0x80 : 0, first = true; first || next !== 0; first = false) {
      const pdu = ask(line, at, identificationRequest(next, isExtended))
      if (!pdu) return null
      const read = readIdentification(pdu)
      if (!read) break
      for (const [id, text] of read.objects) objects.set(id, text)
      next = read.next
    }
  const words = (id: number) => objects.get(id) ?? ''
  return {
    mac: null,
    name: null,
    type: `${words(0)}/${words(1)}`,
    typeName: words(1),
    firmware: words(2) === '' ? null : words(2),
    serial: objects.get(0x80) ?? null,
    modules: readModuleList(
      [...objects].flatMap(([id, text]) => (id > 0x80 ? [text] : [])).join(''),
    ),
    neighbours: [],
  }
}

/** Requests of a station's cycle; where its sheet names no registers, those that carry its data. */
export function requestsFor({ view }: WantedStation): ModbusRequest[] {
  const own = requestsOf(view)
  if (own.length > 0) return own
  return gatherRequests(
    registerPlaces(view).map(({ table, address, direction }) => ({
      name: '',
      table,
      address,
      count: 1,
      access: direction === 'in' ? 'read' : 'write',
    })),
    { maxGap: 0, readsAndWrites: false },
  )
}

function startSequence(ask: Ask, line: Line, station: WantedStation): StartFault[] {
  const device = station.view.device
  if (!device || !('sheet' in device)) return []
  return device.sheet.modbus.startSequence.flatMap(({ table, address, value, note }) => {
    const answer = ask(
      line,
      station,
      Uint8Array.of(
        table === 'coil' ? 5 : 6,
        address >> 8,
        address & 0xff,
        table === 'coil' ? (value ? 0xff : 0) : value >> 8,
        table === 'coil' ? 0 : value & 0xff,
      ),
    )
    return !answer || answer[0]! >= 0x80
      ? [faultOf('start.refused', `${note || 'the start sequence'}: ${why(answer)}`)]
      : []
  })
}

const why = (answer: Uint8Array | null) =>
  answer ? (exceptionWords[answer[1]!] ?? `exception ${answer[1]}`) : 'no answer'

function faultsOf(answer: Uint8Array | null, { functionCode, start }: ModbusRequest): StartFault[] {
  return answer && answer[0] === functionCode
    ? []
    : [
        faultOf(
          answer ? 'start.refused' : 'start.silent',
          `function ${functionCode} from ${start}: ${why(answer)}`,
        ),
      ]
}

/** Reads and writes what the plan has of a station; null where an answer is missing. */
function exchangeWith(
  ask: Ask,
  line: Line,
  station: WantedStation,
  outputs: Uint8Array | undefined,
): Uint8Array | null {
  const places = registerPlaces(station.view)
  const inputs = new Uint8Array(station.view.inputBytes)
  for (const request of requestsFor(station)) {
    const inside = places.filter(
      ({ table, address }) =>
        table === request.table &&
        address >= request.start &&
        address < request.start + request.count,
    )
    const pdu = request.isWrite
      ? withValues(requestPdu(request), request, places, outputs)
      : requestPdu(request)
    const answer = ask(line, station, pdu)
    if (answer?.[0] !== request.functionCode) return null
    if (request.isWrite && !request.writes) continue
    for (const place of inside)
      if (place.direction === 'in')
        intoData(inputs, place, takenFrom(answer.subarray(2), request, place))
  }
  return inputs
}

/** The octets of a value in the data of an answer; one octet for a bit. */
function takenFrom(data: Uint8Array, { table, start }: ModbusRequest, place: RegisterPlace) {
  const at = place.address - start
  return modbusTables[table].isBit
    ? Uint8Array.of((data[at >> 3]! >> (at & 7)) & 1)
    : data.subarray(at * 2, at * 2 + Math.ceil(place.bits / 16) * 2)
}

/** A writing request with what the plan's outputs hold in place of its zeros. */
function withValues(
  pdu: Uint8Array,
  request: ModbusRequest,
  places: readonly RegisterPlace[],
  outputs: Uint8Array | undefined,
): Uint8Array {
  if (!outputs) return pdu
  const { start, count } = request.writes ?? request
  const table = request.writes ? 'holding-register' : request.table
  const from = request.functionCode < 7 ? 3 : request.writes ? 10 : 6
  for (const place of places) {
    if (place.table !== table || place.direction !== 'out') continue
    const at = place.address - start
    if (at < 0 || at >= count) continue
    const octets = registersOf(outputs, place)
    if (!modbusTables[table].isBit)
      pdu.set(octets.subarray(0, pdu.length - from - at * 2), from + at * 2)
    else if (request.functionCode === 5) pdu[from] = octets[0]! ? 0xff : 0
    else if (octets[0]!) pdu[from + (at >> 3)]! |= 1 << (at & 7)
  }
  return pdu
}
