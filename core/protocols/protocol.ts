import type { z } from 'zod'
import type { Device, Module, Protocol } from '../catalog/model'
import type { ByteOrder } from '../vocabulary/byte-order'
import type { Direction } from '../vocabulary/direction'
import type { DeviceNotation } from './device-notation'
import type { FramePart } from './frame'
import type { SocketAddress } from './ip/packets'
import type { Master, WireIdentity } from './master'
import type { WireTimes } from './traffic'
import type { PortDescription, Wiring } from './wiring'
import type {
  ConnectionLimit,
  DataSize,
  LogicalImage,
  Round,
  WireModule,
  WireRecord,
  WireStation,
} from './wire'

/** What tells stations of a network apart by number: its word, the smallest and largest, and where
 *  new ones begin. A unit only tells those apart that share an IP address. */
export interface NumberRule {
  readonly word: string
  readonly first: number
  readonly last: number
  readonly start: number
  readonly isUnit?: boolean
}

/** A kind of network as plans have it, and what it asks of its stations. */
export interface NetworkKind {
  readonly name: string
  /** What a new network is called, before its number; left out: as its kind. */
  readonly newName?: string
  readonly number: NumberRule
  readonly hasIp?: boolean
  /** Whether stations are found on the wire by a name that PROFINET's rules hold for. */
  readonly hasWireNames?: boolean
  /** The number that the controller itself has on the network, where it has one. */
  readonly ownNumber?: (settings: never) => number
  /** Whether stations feed each other: heads supply the backplane of the stations behind them. */
  readonly sharesBackplane?: boolean
  /** Whether it needs a port of the controller for itself: no other network is on its cable. */
  readonly needsOwnCable?: boolean
  /** Whether its station is the controller itself. */
  readonly isController?: boolean
  /** How its nodes are joined; left out: there is nothing to join. */
  readonly wiring?: Wiring
  /** How its stations are found and brought into operation; left out: nobody asks them. */
  readonly master?: Master
  /** What a frame, telegram or message says, in a few words; null where it is none of its own. */
  readonly wordFrame?: (octets: Uint8Array, to: SocketAddress | null) => string | null
  /** What travels on its wire, and how long that takes. */
  readonly times?: WireTimes
  /** What the plan keeps of its networks and stations beyond what all have; see `settings.ts`. */
  readonly settings: { readonly network: z.ZodRawShape; readonly station: z.ZodRawShape }
  /** How long the controller takes to ask all stations once, and how often it is to. */
  readonly round?: (settings: never, stations: readonly WireStation[]) => Round
}

type StationWith<D> = WireStation & { readonly device: D }

/** Registers that are asked for, connections to choose from, what a controller has room for. */
export type SheetPart = 'registers' | 'dataSets' | 'controller' | 'networkPorts' | 'source'

/** All that one protocol knows; nothing else in the program asks which one it is. What is left out
 *  the protocol does not have. `D` are its devices as descriptions are read. */
export interface NetworkProtocol<D = Device> {
  /** As descriptions name it. */
  readonly name: Protocol
  /** As people write it within a sentence. */
  readonly title: string
  /** Kinds of network that its devices stand on; none for devices below ports. */
  readonly kinds: Readonly<Record<string, NetworkKind>>
  /** Parts of a device sheet that only its devices have; left out: no sheet describes them. */
  readonly sheetParts?: readonly SheetPart[]
  /** In which order the octets of a number travel. */
  readonly byteOrder: ByteOrder
  /** Whether a new station gets the modules that its description proposes. */
  readonly placesProposed?: boolean
  /** Whether modules are told without their slots, so that none may stay empty before another. */
  readonly isGapless?: boolean
  /** What the maker wants a new station to be called. */
  readonly wishedName?: (device: D) => string | null
  /** Numbers that its maker and type have on the wire. */
  readonly ids?: (device: D) => { readonly vendorId: number; readonly deviceId: number }
  /** The shortest time between two exchanges of data, in µs; null where it does not say. */
  readonly leastCycleUs?: (device: D) => number | null
  /** Its ports, where the description names them; left out, or none: as usual on its network. */
  readonly ports?: (device: D) => readonly PortDescription[]
  /** Whether it can stand on a ring; null where its description does not say. */
  readonly closesRings?: (device: D) => boolean | null
  /** Bit rates of a serial line that it takes; none where it does not say. */
  readonly bitRates?: (device: D) => readonly number[]
  /** Connections that it takes at once; null where it does not say. */
  readonly sessions?: (device: D) => number | null
  /** What a controller writes in it, place by place: who else writes there is in its way. */
  readonly writes?: (device: D) => readonly string[]
  /** Whether the sizes in its description count status octets as well. */
  readonly limitsIncludeStatus?: (device: D) => boolean
  /** What one telegram or frame has room for, beside what the description says. */
  readonly sizes?: (view: WireStation) => readonly DataSize[]
  /** Most octets of a connection, by what they ask for. */
  readonly connectionLimits?: Readonly<Record<'large' | 'frame', ConnectionLimit>>
  /** Parameters that travel in one telegram, where they do. */
  readonly parameterSize?: (device: D, records: readonly WireRecord[]) => DataSize
  /** Data as they travel together; left out: blocks in slot order with nothing between. */
  readonly frame?: <M extends WireModule>(
    view: WireStation<M>,
    direction: Direction,
  ) => FramePart<M>[]
  /** What goes over the wire by the plan, as `npx kataxis telegrams` prints it. */
  readonly telegrams?: (view: StationWith<D>, records: readonly WireRecord[]) => object
  /** What a controller lays side by side for all stations of a network. */
  readonly logicalImage?: (stations: readonly WireStation[]) => LogicalImage
  /** Ways to name a channel by its place in the device. */
  readonly notations?: Readonly<Record<string, DeviceNotation>>
  /** How a station's identity gets into it, where it has no switches; left out: it is set on the
   *  device. */
  readonly setBy?: (view: StationWith<D>) => string
  /** What a device says on the wire that it is; left out: in the words of its device sheet. */
  readonly identity?: (device: D) => WireIdentity
  /** By what a module is known on the wire; left out: by its order number, or its key. */
  readonly identOf?: (module: Module) => string
  /** The same of a head in slot 0. */
  readonly headIdent?: (device: D) => string
}
