import {
  exceptionPdu,
  exceptions,
  intoData,
  registerPlaces,
  registersOf,
  type RegisterPlace,
} from '@kataxis/core/wire/modbus'
import type { Device } from '../device'

type Table = RegisterPlace['table']
type Perform = (device: Device, pdu: Uint8Array) => Uint8Array

const word = (pdu: Uint8Array, at: number) => (pdu[at] ?? 0) * 256 + (pdu[at + 1] ?? 0)

/** What a device has of each table, by address: one octet a coil, two a register. */
function memoryOf(device: Device, table: Table): Map<number, Uint8Array> {
  const memory = new Map<number, Uint8Array>()
  for (const place of registerPlaces(device.is.view)) {
    if (place.table !== table) continue
    const octets = registersOf(place.direction === 'in' ? device.inputs : device.outputs, place)
    if (isBit(table)) memory.set(place.address, octets)
    else
      for (let i = 0; i < octets.length; i += 2)
        memory.set(place.address + i / 2, octets.subarray(i, i + 2))
  }
  const { device: described } = device.is.view
  if (described && 'sheet' in described)
    for (const step of described.sheet.modbus.startSequence)
      if (step.table === table && !memory.has(step.address))
        memory.set(step.address, new Uint8Array(isBit(table) ? 1 : 2))
  return memory
}

const isBit = (table: Table) => table === 'coil' || table === 'discrete-input'

/** Addresses that lie between listed ones are read as zeros, as far as the sheet bridges gaps. */
function hasAll(
  device: Device,
  memory: ReadonlyMap<number, unknown>,
  start: number,
  count: number,
) {
  if (!memory.has(start) || !memory.has(start + count - 1)) return false
  const { device: described } = device.is.view
  const maxGap = described && 'sheet' in described ? described.sheet.modbus.maxGap : 0
  for (let at = start, gap = 0; at < start + count; at++) {
    gap = memory.has(at) ? 0 : gap + 1
    if (gap > maxGap) return false
  }
  return true
}

const reads =
  (table: Table, most: number): Perform =>
  (device, pdu) => {
    const code = pdu[0]!
    if (pdu.length !== 5) return exceptionPdu(code, exceptions.illegalValue)
    const [start, count] = [word(pdu, 1), word(pdu, 3)]
    if (count < 1 || count > most) return exceptionPdu(code, exceptions.illegalValue)
    const memory = memoryOf(device, table)
    if (!hasAll(device, memory, start, count)) return exceptionPdu(code, exceptions.illegalAddress)
    return Uint8Array.of(code, dataBytes(table, count), ...gathered(memory, table, start, count))
  }

const dataBytes = (table: Table, count: number) => (isBit(table) ? Math.ceil(count / 8) : count * 2)

function gathered(
  memory: ReadonlyMap<number, Uint8Array>,
  table: Table,
  start: number,
  count: number,
): Uint8Array {
  const data = new Uint8Array(dataBytes(table, count))
  for (let i = 0; i < count; i++) {
    const octets = memory.get(start + i)
    if (!octets) continue
    if (!isBit(table)) data.set(octets, i * 2)
    else if (octets[0]! & 1) data[i >> 3]! |= 1 << (i & 7)
  }
  return data
}

/** Puts values into the outputs; false where an address cannot be written. */
function store(
  device: Device,
  table: Table,
  start: number,
  count: number,
  at: (i: number) => Uint8Array,
): boolean {
  const memory = memoryOf(device, table)
  for (let i = 0; i < count; i++) if (!memory.has(start + i)) return false
  for (const place of registerPlaces(device.is.view)) {
    if (place.table !== table || place.direction !== 'out') continue
    const words = isBit(table) ? 1 : Math.ceil(place.bits / 16)
    const octets = Array.from({ length: words }, (_, i) => {
      const address = place.address + i
      return address >= start && address < start + count
        ? [...at(address - start)]
        : [...(memory.get(address) ?? [])]
    }).flat()
    if (place.address < start + count && place.address + words > start)
      intoData(device.outputs, place, Uint8Array.from(octets))
  }
  return true
}

const writesOne =
  (table: Table): Perform =>
  (device, pdu) => {
    const code = pdu[0]!
    if (pdu.length !== 5) return exceptionPdu(code, exceptions.illegalValue)
    const value = word(pdu, 3)
    if (table === 'coil' && value !== 0 && value !== 0xff00)
      return exceptionPdu(code, exceptions.illegalValue)
    const octets = table === 'coil' ? Uint8Array.of(value === 0 ? 0 : 1) : pdu.slice(3, 5)
    return store(device, table, word(pdu, 1), 1, () => octets)
      ? pdu.slice()
      : exceptionPdu(code, exceptions.illegalAddress)
  }

const writesMany =
  (table: Table, most: number): Perform =>
  (device, pdu) => {
    const code = pdu[0]!
    const [start, count] = [word(pdu, 1), word(pdu, 3)]
    const bytes = dataBytes(table, count)
    if (count < 1 || count > most || pdu[5] !== bytes || pdu.length !== 6 + bytes)
      return exceptionPdu(code, exceptions.illegalValue)
    return store(device, table, start, count, valuesIn(table, pdu.subarray(6)))
      ? pdu.slice(0, 5)
      : exceptionPdu(code, exceptions.illegalAddress)
  }

const valuesIn = (table: Table, data: Uint8Array) => (i: number) =>
  isBit(table) ? Uint8Array.of((data[i >> 3]! >> (i & 7)) & 1) : data.slice(i * 2, i * 2 + 2)

/** Writes first, then reads (6.17). */
const readsAndWrites: Perform = (device, pdu) => {
  const code = pdu[0]!
  const [readStart, readCount] = [word(pdu, 1), word(pdu, 3)]
  const [start, count] = [word(pdu, 5), word(pdu, 7)]
  const isRight =
    readCount >= 1 &&
    readCount <= 125 &&
    count >= 1 &&
    count <= 121 &&
    pdu[9] === count * 2 &&
    pdu.length === 10 + count * 2
  if (!isRight) return exceptionPdu(code, exceptions.illegalValue)
  const table = 'holding-register'
  if (!store(device, table, start, count, valuesIn(table, pdu.subarray(10))))
    return exceptionPdu(code, exceptions.illegalAddress)
  const memory = memoryOf(device, table)
  return hasAll(device, memory, readStart, readCount)
    ? Uint8Array.of(code, readCount * 2, ...gathered(memory, table, readStart, readCount))
    : exceptionPdu(code, exceptions.illegalAddress)
}

/** By function code (MODBUS Application Protocol V1.1b3, ch. 6). */
export const registerFunctions: Readonly<Record<number, Perform>> = {
  1: reads('coil', 2000),
  2: reads('discrete-input', 2000),
  3: reads('holding-register', 125),
  4: reads('input-register', 125),
  5: writesOne('coil'),
  6: writesOne('holding-register'),
  15: writesMany('coil', 1968),
  16: writesMany('holding-register', 123),
  23: readsAndWrites,
}
