import { fromHex, toHex } from '../../vocabulary/hex'
import { OctetWriter, reading } from '../../vocabulary/octets'
import type { Mac } from './dcp'

const etherType = 0x88cc
const multicast = '01:80:c2:00:00:0e'
const profinetOui = [0x00, 0x0e, 0xcf]
const locally = 7

export interface Announcement {
  readonly source: Mac
  readonly chassis: string
  readonly port: string
}

/** Chassis and port of a named device. Older naming sends the name as chassis and `port-001`;
 *  newer sends `port-001.name` as port (from memory). */
export function announcedAs(
  name: string,
  mac: Mac,
  port: number,
  naming: 'older' | 'newer',
): Announcement {
  const own = `port-${String(port).padStart(3, '0')}`
  return naming === 'older' || name === ''
    ? { source: mac, chassis: name === '' ? mac : name, port: own }
    : { source: mac, chassis: mac, port: `${own}.${name}` }
}

/** An announcement to whoever stands at the other end of the cable (IEEE 802.1AB). */
export function encodeLldp({ source, chassis, port }: Announcement): Uint8Array {
  const octets = new OctetWriter().bytes(fromHex(multicast)).bytes(fromHex(source)).u16(etherType)
  const item = (type: number, value: Uint8Array) =>
    octets.u16((type << 9) | value.length).bytes(value)
  item(1, new OctetWriter().u8(locally).ascii(chassis).done())
  item(2, new OctetWriter().u8(locally).ascii(port).done())
  item(3, new OctetWriter().u16(20).done())
  // PROFINET: hardware address of the chassis.
  item(127, new OctetWriter().bytes(profinetOui).u8(5).bytes(fromHex(source)).done())
  item(0, new Uint8Array())
  return octets.upTo(60).done()
}

export function decodeLldp(bytes: Uint8Array): Announcement | null {
  return reading(bytes, (from) => {
    from.skip(6)
    const source = toHex(from.bytes(6), 6, ':')
    if (from.u16() !== etherType) return null
    let [chassis, port] = ['', '']
    for (;;) {
      const head = from.u16()
      const [type, length] = [head >> 9, head & 0x1ff]
      if (type === 0) break
      const value = from.bytes(length)
      const text = String.fromCharCode(...value.subarray(1))
      if (type === 1) chassis = text
      if (type === 2) port = text
    }
    return { source, chassis, port }
  })
}
