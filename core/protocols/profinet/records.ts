import { OctetWriter, reading } from '../../vocabulary/octets'
import { softwareOctets, softwareOf } from '../software-revision'
import { block } from './blocks'

/** Records that every PROFINET device hands out (IEC 61158-6-10, from memory). */
export const recordIndexes = {
  identification: 0xaff0,
  realIdentification: 0xf000,
  portData: 0x802a,
  /** In the makers' range; how a module gets its fail-safe destination address is theirs. */
  failSafeAddress: 0x7a00,
} as const

/** What a device says of itself: identification and maintenance record 0. */
export interface Maintenance {
  readonly vendorId: number
  readonly orderNumber: string
  readonly serial: string
  /** As `V1.4.2`; null: the device tells none. */
  readonly software: string | null
}

const maintenanceType = 0x0020

export function encodeMaintenance({ vendorId, orderNumber, serial, software }: Maintenance) {
  return block(
    maintenanceType,
    new OctetWriter()
      .u16(vendorId)
      .fixed(orderNumber, 20, 0x20)
      .fixed(serial, 16, 0x20)
      .u16(1)
      .bytes(softwareOctets(software))
      .u16(0)
      .u16(0)
      .u16(0)
      .u16(0x0101)
      .u16(0x000e),
  )
}

export function decodeMaintenance(record: Uint8Array): Maintenance | null {
  return reading(record, (from) => {
    if (from.u16() !== maintenanceType) return null
    from.skip(4)
    const vendorId = from.u16()
    const [orderNumber, serial] = [from.ascii(20).trimEnd(), from.ascii(16).trimEnd()]
    from.u16()
    return { vendorId, orderNumber, serial, software: softwareOf(from.bytes(4)) }
  })
}

/** A port and who stands at the other end of its cable; nobody: empty names. */
export interface PortNeighbour {
  readonly port: number
  readonly peerName: string
  readonly peerPort: string
}

const portDataType = 0x020f
const portText = (port: number) => `port-${String(port).padStart(3, '0')}`

/** PDPortDataReal of one port. */
export function encodePortData({ port, peerName, peerPort }: PortNeighbour): Uint8Array {
  const own = portText(port)
  const octets = new OctetWriter()
    .u16(0)
    .u16(0)
    .u16(0x8000 + port)
    .u8(own.length)
    .ascii(own)
    .u8(peerName === '' ? 0 : 1)
  align(octets, 6)
  if (peerName !== '') {
    octets.u8(peerPort.length).ascii(peerPort).u8(peerName.length).ascii(peerName)
    align(octets, 6)
    // Line delay unknown, its hardware address not told here.
    octets.u32(0).zeros(6)
    align(octets, 6)
  }
  // 100 Mbit/s full duplex, no multicast boundary, up, cable.
  octets.u16(0x0010).u16(0).u32(0).u32(0).u8(1, 1).u16(0).u32(0)
  return block(portDataType, octets)
}

/** Filled up to a multiple of four, counted from the block's first octet. */
function align(octets: OctetWriter, headerOctets: number): void {
  octets.zeros((4 - ((octets.length + headerOctets) % 4)) % 4)
}

export function decodePortData(record: Uint8Array): PortNeighbour | null {
  return reading(record, (from) => {
    if (from.u16() !== portDataType) return null
    from.skip(4 + 2 + 2)
    const port = from.u16() - 0x8000
    from.skip(from.u8())
    if (from.u8() === 0) return { port, peerName: '', peerPort: '' }
    from.skip((4 - (from.at % 4)) % 4)
    const peerPort = from.ascii(from.u8())
    return { port, peerPort, peerName: from.ascii(from.u8()) }
  })
}

/** Octets of a fail-safe destination address as it is written: first proposed, then confirmed; what is
 *  only proposed counts for nothing. */
export function failSafeRecord(destination: number, isConfirmed: boolean): Uint8Array {
  return new OctetWriter()
    .u16(destination)
    .u8(isConfirmed ? 1 : 0, 0)
    .done()
}

export function readFailSafeRecord(
  record: Uint8Array,
): { readonly destination: number; readonly isConfirmed: boolean } | null {
  return reading(record, (from) => ({ destination: from.u16(), isConfirmed: from.u8() === 1 }))
}
