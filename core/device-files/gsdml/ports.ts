import type { Medium } from '../../vocabulary/medium'
import { child, children, type XmlElement } from '../xml-records'
import type { Reading } from './reading'

/** Subslots of the ports of the first interface (IEC 61158-6-10, from memory). */
const firstPort = 0x8001
const lastPort = 0x80ff

/** What the attachment of a port is for, by its number (IANA MAU MIB, RFC 4836); all others take
 *  copper. */
const media: Readonly<Record<number, Medium>> = {
  17: 'fibre-multi-mode', // 100BASE-FX, half duplex
  18: 'fibre-multi-mode', // 100BASE-FX
  23: 'fibre-single-mode', // 1000BASE-LX, half duplex
  24: 'fibre-single-mode', // 1000BASE-LX
  25: 'fibre-multi-mode', // 1000BASE-SX, half duplex
  26: 'fibre-multi-mode', // 1000BASE-SX
  44: 'fibre-single-mode', // 100BASE-BX10
  45: 'fibre-single-mode', // 100BASE-BX10
  46: 'fibre-single-mode', // 100BASE-LX10
}
/** As files before version 2.2 name them (GSDML specification, from memory). */
const namedMedia: Readonly<Record<string, Medium>> = { '100BASEFXFD': 'fibre-multi-mode' }

/** Ports of a head's first interface in their order: built in, and subslots that take one. */
export function readPorts(reading: Reading, element: XmlElement) {
  const { attributes } = reading
  const builtIn = children(child(element, 'SystemDefinedSubmoduleList'), 'PortSubmoduleItem').map(
    (port) => ({
      subslot: attributes.number(port, 'SubslotNumber', [0, 65_535]) ?? firstPort,
      medium: mediumOf(reading, port),
    }),
  )
  const sockets = reading
    .numbersOf(attributes.list(element, 'PhysicalSubslots') ?? [], element)
    .map((subslot) => ({ subslot, medium: 'copper' as const }))
  const bySubslot = new Map([...sockets, ...builtIn].map((port) => [port.subslot, port]))
  return [...bySubslot.values()]
    .filter(({ subslot }) => subslot >= firstPort && subslot <= lastPort)
    .sort((a, b) => a.subslot - b.subslot)
}

function mediumOf({ attributes }: Reading, port: XmlElement): Medium {
  const listed = children(child(port, 'MAUTypeList'), 'MAUTypeItem').map((item) =>
    Number(item.attributes['Value']),
  )
  const [type] = listed.length > 0 ? listed : (attributes.list(port, 'MAUTypes')?.[0] ?? [])
  const named = namedMedia[port.attributes['MAUType'] ?? '']
  return (type !== undefined ? media[type] : named) ?? 'copper'
}
