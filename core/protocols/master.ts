import type { RealModule, WireRecord, WireStation } from './wire'
import type { SocketAddress } from './ip/packets'

/** A wire as whoever asks sees it: what is sent, and all that comes back. Without an address it is
 *  a frame or telegram as it stands on the wire; with one, what is carried over IP. */
export interface Line {
  send(octets: Uint8Array, to?: SocketAddress): readonly Uint8Array[]
  /** A number for the next request, counted up from 1. */
  next(): number
}

/** A station as its network's controller wants it. */
export interface WantedStation {
  readonly id: string
  readonly view: WireStation
  /** What the plan keeps of its network. */
  readonly settings: { readonly kind: string }
  /** As the wire has it; empty where stations have no names there. */
  readonly wireName: string
  /** Dotted; empty on networks without IP. */
  readonly ip: string
  readonly mask: string
  readonly number: number
  readonly identity: WireIdentity
  readonly modules: readonly RealModule[]
  readonly records: readonly WireRecord[]
  /** Fail-safe destination addresses that are written to its modules. */
  readonly failSafe: readonly FailSafeAddress[]
}

/** The fail-safe destination address of a submodule; 0: it has none yet. */
export interface FailSafeAddress {
  readonly slot: number
  readonly subslot: number
  readonly destination: number
}

/** What a device says that it is. */
export interface WireIdentity {
  /** The numbers or words that tell its type from others on its wire. */
  readonly type: string
  readonly typeName: string
  /** Null where its description names none, or nobody can read it over the wire. */
  readonly firmware: string | null
}

/** A device as the wire shows it. */
export interface FoundDevice extends WireIdentity {
  /** By which it is spoken to: its MAC address, or its number on the wire. */
  readonly key: string
  readonly mac: string | null
  /** Empty: it has none yet; null: devices of this network have none. */
  readonly name: string | null
  /** Dotted, or its number on the wire; null where it has none. */
  readonly address: string | null
  /** Tells those apart that share an address; left out where none do. */
  readonly unit?: number
  readonly serial: string | null
  /** Null where the device does not say what stands in it. */
  readonly modules: readonly RealModule[] | null
  readonly neighbours: readonly FoundNeighbour[]
  /** Of its fail-safe submodules, where it tells them. */
  readonly failSafe?: readonly FailSafeAddress[]
}

export interface FoundNeighbour {
  readonly port: number
  /** Name of the device at the other end, and its port. */
  readonly name: string
  readonly peerPort: string
}

/** What is wrong with a station that was to go into operation. */
export interface StartFault {
  readonly code: string
  readonly slot: number | null
  readonly subslot: number | null
  /** Counted as the module's channels are; null: the module as a whole. */
  readonly channel: number | null
  /** What is wrong, as the protocol says it. */
  readonly words: string
  /** Number of a diagnosis that its description may have words for. */
  readonly error: number | null
}

export interface Started {
  readonly isRunning: boolean
  readonly faults: readonly StartFault[]
}

/** A station with the device that was found for it. */
export interface Pair {
  readonly station: WantedStation
  readonly device: FoundDevice
  /** Among all stations of its network, so that its connection keeps its numbers whoever else is
   *  there. */
  readonly index: number
}

export const faultOf = (code: string, words: string): StartFault => ({
  code,
  slot: null,
  subslot: null,
  channel: null,
  words,
  error: null,
})
export const failed = (code: string, words: string): Started => ({
  isRunning: false,
  faults: [faultOf(code, words)],
})
export const startedWith = (faults: readonly StartFault[]): Started => ({
  isRunning: faults.length === 0,
  faults,
})

/** What of a device tells which station it is. */
export type IdentifiedBy = 'name' | 'address' | 'position'

/** How a network is spoken to, by whoever commissions it. Everything goes over the line. */
export interface Master {
  readonly identifiedBy: IdentifiedBy
  /** Everybody on the wire. Writes nothing. `at`: the stations that are wanted there. */
  scan(line: Line, at: readonly WantedStation[]): readonly FoundDevice[]
  /** Lets a device blink; left out: devices of this network cannot. False: it did not answer. */
  blink?(line: Line, device: FoundDevice): boolean
  /** Gives a device a station's name and address; null: done, else why not. Left out: both are set
   *  at the device. */
  assign?(line: Line, device: FoundDevice, station: WantedStation): string | null
  /** Takes name and address away. */
  reset?(line: Line, device: FoundDevice): string | null
  /** Writes fail-safe destination addresses and confirms them; null: done, else why not. Left out:
   *  they are set at the modules. */
  writeFailSafe?(
    line: Line,
    device: FoundDevice,
    addresses: readonly FailSafeAddress[],
  ): string | null
  /** Sends the parameters, connects and brings data to run. */
  start(line: Line, pairs: readonly Pair[]): ReadonlyMap<string, Started>
  /** One exchange of data with stations that run: outputs go, inputs come. Data of a station are
   *  its blocks one behind the other, in slot order. Stations that did not answer are left out. */
  exchange(
    line: Line,
    pairs: readonly Pair[],
    outputs: ReadonlyMap<string, Uint8Array>,
  ): ReadonlyMap<string, Uint8Array>
}
