import type { DerivedStation } from '../derive/derive'
import type { Id, LinkEnd, NetworkRow, PortLink } from '../plan/model'
import type { BothWays, Clocks } from '../protocols/traffic'
import type { Graph, Ways } from './graph'

/** A node of a network: its controller's interface, a station, or a station of another network
 *  through which its frames run. */
export interface NetNode {
  readonly id: Id
  readonly name: string
  /** Null for the controller's interface. */
  readonly view: DerivedStation | null
}

export interface WiredLink {
  /** Of the station it is written down at, and its port there. */
  readonly id: string
  readonly from: LinkEnd
  readonly to: LinkEnd
  readonly link: PortLink
  /** Share of the bit rate in the direction of the controller and away from it; null where that
   *  means nothing. */
  readonly towards: number | null
  readonly away: number | null
}

export interface WiredStation {
  readonly view: DerivedStation
  /** Switches on the way to the controller; null where there is no way. */
  readonly hops: number | null
  readonly frameBytes: BothWays<number | null>
  readonly updateTimeUs: BothWays<number | null>
  readonly watchdogUs: number | null
  readonly isMulticast?: boolean
  /** The number of the second controller's interface, where it has one. */
  readonly second: number | null
  /** Whether its connection outlives the ring's reconfiguration; null where no ring is on its way. */
  readonly ridesThrough: boolean | null
}

/** A line of a bus between repeaters, or from end to end. */
export interface Segment {
  readonly nodes: readonly NetNode[]
  readonly links: readonly WiredLink[]
  readonly lengthM: number
  readonly limitM: number | null
  /** All spurs together, and what they may have; null where nothing limits them. */
  readonly spursM: number
  readonly spurLimitM: number | null
  readonly nodeLimit: number | null
  /** Nodes whose terminating resistor is on. */
  readonly terminators: readonly NetNode[]
  /** On at both ends, and nowhere between. */
  readonly terminated: boolean
}

export interface Ring {
  readonly closed: boolean
  readonly nodes: readonly NetNode[]
  /** Who watches over it; null where that node is not on the ring. */
  readonly manager: NetNode | null
  readonly reconfigurationUs: number
}

/** All that follows from the links of a network. */
export interface WiredNetwork {
  readonly network: NetworkRow
  readonly bitRate: number | null
  readonly nodes: readonly NetNode[]
  readonly links: readonly WiredLink[]
  readonly stations: readonly WiredStation[]
  readonly cycleUs: number | null
  readonly framesPerCycle: number | null
  readonly packetsPerSecond: number | null
  /** Null where nodes have no clocks that run together. */
  readonly clocks: Clocks | null
  readonly segments: readonly Segment[]
  /** Null where none is planned. */
  readonly ring: Ring | null
  /** Circles of links that no ring is planned for, each by the link that closes it. */
  readonly loops: readonly WiredLink[]
  /** For what-if: nodes and links by number, and the ways while all is well. */
  readonly wire: {
    readonly graph: Graph
    /** Numbers of nodes by id; of a shared device by each of its stations. */
    readonly numbers: ReadonlyMap<Id, number>
    readonly at: readonly (readonly number[])[]
    readonly ways: Ways
    /** Ways from the interfaces of second controllers, by their numbers. */
    readonly fromSecond: ReadonlyMap<number, Ways>
    /** The link that the ring's manager keeps closed; -1: none. */
    readonly kept: number
    /** Nodes of a bus that hang on its wire, which stays whole without them. */
    readonly onWire: ReadonlySet<number>
  }
}
