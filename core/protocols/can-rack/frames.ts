import { OctetWriter, reading } from '../../vocabulary/octets'

/** Frames of a CAN bus with the services of CANopen (ISO 11898-1, CiA 301; from memory). That racks
 *  speak it is taken for granted here: their sheets do not say. */

export interface CanFrame {
  /** Eleven bits. */
  readonly id: number
  /** Up to eight octets. */
  readonly data: Uint8Array
}

/** Identifier, length and data, as they are logged. */
export function encodeCan({ id, data }: CanFrame): Uint8Array {
  return new OctetWriter().u16(id).u8(data.length).bytes(data).done()
}

export function decodeCan(octets: Uint8Array): CanFrame | null {
  return reading(octets, (from) => {
    const id = from.u16()
    const length = from.u8()
    if (id > 0x7ff || length > 8) return null
    const data = from.bytes(length).slice()
    return from.left === 0 ? { id, data } : null
  })
}

/** Base of identifiers; the node is added. */
export const canIds = { manage: 0x000, toServer: 0x600, fromServer: 0x580, alive: 0x700 } as const
export const lastNode = 127
export const manageCommands = { operational: 1, stop: 2, preoperational: 128 } as const
export const nodeStates = { operational: 5, stopped: 4, preoperational: 127 } as const

/** Objects that a rack has: identity of CiA 301, the rest its maker's. */
export const canObjects = {
  name: { index: 0x1008, subindex: 0 },
  software: { index: 0x100a, subindex: 0 },
  serial: { index: 0x1018, subindex: 4 },
  inputs: { index: 0x2000, subindex: 1 },
  outputs: { index: 0x2000, subindex: 2 },
  modules: { index: 0x2100, subindex: 1 },
} as const
export interface CanObject {
  readonly index: number
  readonly subindex: number
}

export const noObject = 0x0602_0000

/** An SDO frame of eight octets: specifier, object, four octets. */
export function sdoFrame(
  specifier: number,
  { index, subindex }: CanObject,
  value: number,
): Uint8Array {
  return new OctetWriter().u8(specifier).le16(index).u8(subindex).le32(value).done()
}

/** A segment of an upload or download: toggle bit, up to seven octets, whether it is the last. */
export function segment(
  base: number,
  toggle: number,
  data: Uint8Array,
  isLast: boolean,
): Uint8Array {
  return new OctetWriter()
    .u8(base | (toggle << 4) | ((7 - data.length) << 1) | Number(isLast))
    .bytes(data)
    .upTo(8)
    .done()
}
