import { modbusTableNames, modbusTables, type ModbusTable } from '../../vocabulary/modbus-table'
import type { SerialLine } from '../../vocabulary/serial-line'

/** Tables by the digit that references begin with (common practice): 4 0013 is holding register
 *  12. */
const digits: Readonly<Record<ModbusTable, number>> = {
  coil: 0,
  'discrete-input': 1,
  'input-register': 3,
  'holding-register': 4,
}

/** Reference of an address from 0, with five digits where they are enough: `40013`. */
export function referenceOf(table: ModbusTable, address: number): string {
  return `${digits[table]}${String(address + 1).padStart(address < 9999 ? 4 : 5, '0')}`
}

/** The address from 0 that is meant where somebody wrote the reference as if it were one; null
 *  where it is not such a number. */
export function registerOfReference(table: ModbusTable, written: number): number | null {
  const first = digits[table] * 10_000
  return digits[table] > 0 && written > first && written <= first + 9999
    ? written - first - 1
    : null
}

/** Most that one request carries (MODBUS Application Protocol V1.1b3, 6.1 to 6.17). */
export const modbusLimits = {
  readBits: 2000,
  readRegisters: 125,
  writeBits: 1968,
  writeRegisters: 123,
  bothRead: 125,
  bothWrite: 121,
} as const

/** A value of a register map; `count` coils or registers from `address`, which counts from 0 as in
 *  the request. */
export interface MappedValue {
  readonly name: string
  readonly table: ModbusTable
  readonly address: number
  readonly count: number
  readonly access: 'read' | 'write' | 'both'
}

export interface ModbusRequest {
  readonly functionCode: number
  readonly table: ModbusTable
  readonly isWrite: boolean
  readonly start: number
  readonly count: number
  readonly names: readonly string[]
  /** Function 23 only: what the same request writes. */
  readonly writes: {
    readonly start: number
    readonly count: number
    readonly names: readonly string[]
  } | null
  /** Octets of the protocol data unit, function code included. */
  readonly requestBytes: number
  readonly responseBytes: number
}

export interface GatherOptions {
  /** Coils or registers between two values that may be read along. */
  readonly maxGap: number
  /** Whether the device reads and writes holding registers in one request (function 23). */
  readonly readsAndWrites: boolean
}

interface Stretch {
  readonly start: number
  end: number
  readonly names: string[]
}

/** Neighbouring values gathered into as few requests as the limits allow, reads first. Gaps are
 *  bridged in reading only: nobody writes what he has no value for. A value longer than one request
 *  is cut at the limit. */
export function gatherRequests(
  values: readonly MappedValue[],
  { maxGap, readsAndWrites }: GatherOptions,
): ModbusRequest[] {
  const requests: ModbusRequest[] = []
  for (const table of modbusTableNames) {
    const { isBit, read, writeMany, writeOne } = modbusTables[table]
    const own = values.filter((value) => value.table === table)
    for (const { start, end, names } of stretches(
      own.filter(({ access }) => access !== 'write'),
      isBit ? modbusLimits.readBits : modbusLimits.readRegisters,
      maxGap,
    )) {
      const count = end - start
      requests.push({
        functionCode: read,
        table,
        isWrite: false,
        start,
        count,
        names,
        writes: null,
        requestBytes: 5,
        responseBytes: 2 + dataBytes(isBit, count),
      })
    }
    if (writeMany === null) continue
    for (const { start, end, names } of stretches(
      own.filter(({ access }) => access !== 'read'),
      isBit ? modbusLimits.writeBits : modbusLimits.writeRegisters,
      0,
    )) {
      const count = end - start
      requests.push({
        functionCode: count === 1 ? writeOne : writeMany,
        table,
        isWrite: true,
        start,
        count,
        names,
        writes: null,
        requestBytes: count === 1 ? 5 : 6 + dataBytes(isBit, count),
        responseBytes: 5,
      })
    }
  }
  return readsAndWrites ? withBoth(requests) : requests
}

function dataBytes(isBit: boolean, count: number): number {
  return isBit ? Math.ceil(count / 8) : count * 2
}

/** Values one behind the other as far as one request reaches: each begins where the one before
 *  could not take it (the fewest possible, as with any covering of points by intervals of one
 *  length). */
function stretches(values: readonly MappedValue[], limit: number, maxGap: number): Stretch[] {
  const found: Stretch[] = []
  for (const { name, address, count } of [...values].sort((a, b) => a.address - b.address)) {
    const last = found.at(-1)
    const end = address + count
    if (last && end <= last.end) last.names.push(name)
    else if (last && address - last.end <= maxGap && end - last.start <= limit) {
      last.end = end
      last.names.push(name)
    } else
      for (let start = address; start < end; start += limit)
        found.push({ start, end: Math.min(end, start + limit), names: [name] })
  }
  return found
}

/** The first reading and the first writing of holding registers in one request, where both fit. */
function withBoth(requests: readonly ModbusRequest[]): ModbusRequest[] {
  const reading = requests.find(({ functionCode }) => functionCode === 3)
  const writing = requests.find(
    ({ functionCode, count }) =>
      (functionCode === 16 || functionCode === 6) && count <= modbusLimits.bothWrite,
  )
  if (!reading || !writing) return [...requests]
  const both: ModbusRequest = {
    ...reading,
    functionCode: 23,
    isWrite: true,
    writes: { start: writing.start, count: writing.count, names: writing.names },
    requestBytes: 10 + writing.count * 2,
  }
  return requests.flatMap((one) => (one === reading ? [both] : one === writing ? [] : [one]))
}

/** The request as its protocol data unit; what is written are zeros. */
export function requestPdu({
  functionCode,
  table,
  start,
  count,
  writes,
}: ModbusRequest): Uint8Array {
  const { isBit, writeMany } = modbusTables[table]
  const word = (value: number) => [value >> 8, value & 0xff]
  if (writes)
    return Uint8Array.from([
      functionCode,
      ...word(start),
      ...word(count),
      ...word(writes.start),
      ...word(writes.count),
      writes.count * 2,
      ...new Array<number>(writes.count * 2).fill(0),
    ])
  if (functionCode === 5 || functionCode === 6)
    return Uint8Array.from([functionCode, ...word(start), 0, 0])
  if (functionCode === writeMany) {
    const bytes = dataBytes(isBit, count)
    return Uint8Array.from([
      functionCode,
      ...word(start),
      ...word(count),
      bytes,
      ...new Array<number>(bytes).fill(0),
    ])
  }
  return Uint8Array.from([functionCode, ...word(start), ...word(count)])
}

/** How long a request with its answer takes on a serial line, in milliseconds: unit and check sum
 *  around each, 11 bits a character where there is a parity bit, and a silence of 3.5 characters
 *  before each, 1.75 ms above 19200 bit/s (MODBUS over serial line V1.02, 2.5.1.1). */
export function serialTimeMs(
  { requestBytes, responseBytes }: Pick<ModbusRequest, 'requestBytes' | 'responseBytes'>,
  { baud, dataBits, parity, stopBits }: SerialLine,
): number {
  const bitsEach = 1 + dataBits + Number(parity !== 'none') + stopBits
  const characterMs = (bitsEach / baud) * 1000
  const silenceMs = baud > 19_200 ? 1.75 : 3.5 * characterMs
  return (requestBytes + 3 + responseBytes + 3) * characterMs + 2 * silenceMs
}
