import type { Protocol } from '../catalog/model'

/** What a kind of network asks of its stations. */
export interface NetworkKind {
  readonly name: string
  /** Whose devices can hang on it. */
  readonly protocol: Protocol
  readonly hasIp: boolean
  /** Whether stations are found on the wire by a name that PROFINET's rules hold for. */
  readonly hasWireNames: boolean
  /** Whether stations feed each other: heads supply the backplane of the stations behind them. */
  readonly sharesBackplane?: boolean
  /** What tells stations apart by number: its word, the smallest and largest, and where new ones
   *  begin. A unit only tells those apart that share an IP address. */
  readonly number: {
    readonly word: string
    readonly first: number
    readonly last: number
    readonly start: number
    readonly isUnit?: boolean
  }
}

/** Ranges: PROFIBUS EN 50170 (126 means not yet set, 127 broadcast); Modbus over serial line 1.02;
 *  the others from memory. That controllers take the low PROFIBUS addresses 1 and 2 is common
 *  practice. */
export const networkKinds = {
  profinet: {
    name: 'PROFINET',
    protocol: 'profinet',
    hasIp: true,
    hasWireNames: true,
    number: { word: 'Device number', first: 1, last: 4096, start: 1 },
  },
  profibus: {
    name: 'PROFIBUS DP',
    protocol: 'profibus',
    hasIp: false,
    hasWireNames: false,
    number: { word: 'Bus address', first: 0, last: 125, start: 3 },
  },
  ethercat: {
    name: 'EtherCAT',
    protocol: 'ethercat',
    hasIp: false,
    hasWireNames: false,
    sharesBackplane: true,
    number: { word: 'Configured address', first: 1, last: 65_535, start: 1001 },
  },
  'ethernet-ip': {
    name: 'EtherNet/IP',
    protocol: 'ethernet-ip',
    hasIp: true,
    hasWireNames: false,
    number: { word: 'Number', first: 1, last: 4096, start: 1 },
  },
  'modbus-tcp': {
    name: 'Modbus TCP',
    protocol: 'modbus',
    hasIp: true,
    hasWireNames: false,
    number: { word: 'Unit', first: 0, last: 255, start: 1, isUnit: true },
  },
  'modbus-rtu': {
    name: 'Modbus RTU',
    protocol: 'modbus',
    hasIp: false,
    hasWireNames: false,
    number: { word: 'Unit', first: 1, last: 247, start: 1 },
  },
  'can-rack': {
    name: 'CAN extension rack',
    protocol: 'can-rack',
    hasIp: false,
    hasWireNames: false,
    number: { word: 'Node', first: 1, last: 127, start: 1 },
  },
  ring: {
    name: 'Fieldbus ring',
    protocol: 'ring',
    hasIp: false,
    hasWireNames: false,
    number: { word: 'Position', first: 1, last: 512, start: 1 },
  },
  local: {
    name: 'Own slots',
    protocol: 'local',
    hasIp: false,
    hasWireNames: false,
    number: { word: 'Rack', first: 0, last: 31, start: 0 },
  },
  gateway: {
    name: 'Fieldbus gateway',
    protocol: 'gateway',
    hasIp: false,
    hasWireNames: false,
    number: { word: 'Number', first: 1, last: 4096, start: 1 },
  },
} as const satisfies Record<string, NetworkKind>

export type NetworkKindName = keyof typeof networkKinds
export const networkKindNames = Object.keys(networkKinds) as [NetworkKindName, ...NetworkKindName[]]

export function kindOf(network: { readonly kind: NetworkKindName }): NetworkKind {
  return networkKinds[network.kind]
}

/** The lowest number not taken, from where the kind begins; below that only where nothing else is
 *  left. Null where all are taken. */
export function freeNumber(
  { number: { first, last, start } }: NetworkKind,
  taken: ReadonlySet<number>,
): number | null {
  for (let number = start; number <= last; number++) if (!taken.has(number)) return number
  for (let number = first; number < start; number++) if (!taken.has(number)) return number
  return null
}
