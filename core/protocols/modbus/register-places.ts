import type { SheetDevice } from '../../catalog/model'
import type { ModbusTable } from '../../vocabulary/modbus-table'
import type { WireStation } from '../wire'

/** A value of a station's data and the registers or coils that it travels in. */
export interface RegisterPlace {
  readonly table: ModbusTable
  readonly address: number
  readonly direction: 'in' | 'out'
  /** Where it stands in the station's data, blocks one behind the other. */
  readonly offsetBits: number
  readonly bits: number
}

/** Registers behind the data of a device that has none of its own: inputs are input registers from
 *  0, outputs holding registers from 0 (common practice of couplers). */
const first = { in: 'input-register', out: 'holding-register' } as const

/** Where the data of a station stand in its registers: by the names of its sheet's registers, else
 *  register by register from 0. */
export function registerPlaces({ device, modules, inputBytes, outputBytes }: WireStation) {
  const registers = device && 'sheet' in device ? (device as SheetDevice).sheet.registers : []
  if (registers.length === 0)
    return (['in', 'out'] as const).flatMap((direction) => {
      const bytes = direction === 'in' ? inputBytes : outputBytes
      return Array.from({ length: Math.ceil(bytes / 2) }, (_, i): RegisterPlace => ({
        table: first[direction],
        address: i,
        direction,
        offsetBits: i * 16,
        bits: Math.min(16, bytes * 8 - i * 16),
      }))
    })
  const head = modules[0]
  return registers.flatMap(({ name, table, address }): RegisterPlace[] =>
    (head?.layout?.channels ?? []).flatMap((channel) =>
      channel.name === name && channel.part === undefined
        ? [
            {
              table,
              address,
              direction: channel.direction,
              offsetBits: channel.offsetBits,
              bits: channel.bits,
            },
          ]
        : [],
    ),
  )
}

/** Takes a value out of a station's data as the octets of its registers. */
export function registersOf(data: Uint8Array, { offsetBits, bits }: RegisterPlace): Uint8Array {
  if (bits === 1) return Uint8Array.of((data[offsetBits >> 3]! >> (offsetBits & 7)) & 1)
  const octets = new Uint8Array(Math.ceil(bits / 16) * 2)
  octets.set(data.subarray(offsetBits >> 3, (offsetBits + bits) >> 3))
  return octets
}

/** The inverse: puts what came in registers at its place. */
export function intoData(
  data: Uint8Array,
  { offsetBits, bits }: RegisterPlace,
  octets: Uint8Array,
): void {
  const at = offsetBits >> 3
  if (bits === 1) {
    const mask = 1 << (offsetBits & 7)
    data[at] = octets[0]! & 1 ? data[at]! | mask : data[at]! & ~mask
  } else data.set(octets.subarray(0, Math.min(bits >> 3, data.length - at)), at)
}
