import type { WireStation } from './wire'

/** A figure for each direction as seen from the controller: `in` comes from the device. */
export interface BothWays<T> {
  readonly in: T
  readonly out: T
}

/** What one station puts on the wire. */
export interface Traffic {
  /** Octets of its cyclic frames on the wire, preamble and gap included; null where it has no frame
   *  of its own. */
  readonly frameBytes: BothWays<number | null>
  /** How often they travel, µs; null where they do not travel by the clock, or nobody said how
   *  often. */
  readonly updateTimeUs: BothWays<number | null>
  /** So long without data ends the connection, µs. */
  readonly watchdogUs: number | null
  /** What it sends goes over every link of the network, unless switches filter. */
  readonly isMulticast?: boolean
}

export const noTraffic: Traffic = {
  frameBytes: { in: null, out: null },
  updateTimeUs: { in: null, out: null },
  watchdogUs: null,
}

/** What all stations of a network put on the wire together; null where there is no such thing. */
export interface Cycle {
  /** Once all data both ways, µs. */
  readonly cycleUs: number | null
  readonly framesPerCycle: number | null
  readonly packetsPerSecond: number | null
  /** Octets of all frames of a cycle on the wire where each runs over every link; else null. */
  readonly cycleBytes?: number | null
}

export const noCycle: Cycle = { cycleUs: null, framesPerCycle: null, packetsPerSecond: null }

/** Nodes whose clocks run together, in the order of the wire. */
export interface Clocks {
  /** Whose clock the others follow; null where none has one. */
  readonly reference: string | null
  readonly timed: readonly {
    readonly id: string
    readonly mode: string
    /** Null where nobody chose the cycle of the network. */
    readonly cycleUs: number | null
    readonly shiftUs: number
  }[]
}

/** A time or rate that cannot be as it is: what, how it is, and what would be right. */
export interface WireFault {
  readonly code: string
  readonly what: string
  readonly is: string
  readonly wants: string
  readonly severity: 'blocker' | 'warning'
  /** Settings that put it right: of the station, or of its network. */
  readonly fixes?: readonly {
    readonly label: string
    readonly of: 'station' | 'network'
    readonly settings: Readonly<Record<string, number | string | null>>
  }[]
}

/** What a kind of network knows of its wire. Settings are the network's; times in µs. */
export interface WireTimes {
  /** bit/s; null where nobody chose. */
  readonly bitRate: (settings: never) => number | null
  readonly traffic?: (settings: never, view: WireStation) => Traffic
  readonly cycle?: (settings: never, stations: readonly WireStation[]) => Cycle
  /** How often a cycle begins, where that is decided for the network as a whole, µs. */
  readonly everyUs?: (settings: never) => number | null
  readonly clocks?: (settings: never, stations: readonly WireStation[]) => Clocks
  /** What is wrong with the times of a station. */
  readonly faults?: (settings: never, view: WireStation, cycle: Cycle) => WireFault[]
  /** Switches that are advised at most on a station's way, and the update time that they are for;
   *  null where nothing is advised. */
  readonly mostHops?: (
    settings: never,
    view: WireStation,
  ) => { readonly hops: number; readonly updateUs: number } | null
  /** What is wrong with those of the network as a whole. */
  readonly networkFaults?: (
    settings: never,
    stations: readonly WireStation[],
    cycle: Cycle,
  ) => WireFault[]
  /** Settings by which a station's connection outlives so many µs without data. */
  readonly ridingThrough?: (settings: never, view: WireStation, us: number) => WireFault['fixes']
  /** The longest segment of a line at its bit rate, in metres; null where nobody chose one. */
  readonly segmentM?: (settings: never) => number | null
  /** Metres that all spurs of a segment may have together at its bit rate; null where nobody chose
   *  one. */
  readonly spursM?: (settings: never) => number | null
  /** Nodes of one segment, repeaters counted. */
  readonly segmentNodes?: number
}

/** Preamble with start delimiter, and the gap behind a frame (IEEE 802.3). */
export const preambleBytes = 8
export const gapBytes = 12
const fcsBytes = 4
const shortestFrameBytes = 64

/** Octets on the wire of an Ethernet frame that holds so much between its first address and its
 *  check sequence: padded to 64 with check sequence, then preamble and gap (IEEE 802.3). */
export function ethernetWireBytes(contentBytes: number): number {
  return preambleBytes + Math.max(shortestFrameBytes, contentBytes + fcsBytes) + gapBytes
}

export const fastEthernet = () => 100_000_000
