import type { ByteOrder } from '../vocabulary/byte-order'
import type { SwitchBank } from '../vocabulary/switch-bank'
import type { Problem } from '../vocabulary/problem'
import type { RawFormat } from '../vocabulary/raw-format'

import type { DataItem } from './data-item'
import type {
  ProfinetTraits,
  ProfibusTraits,
  EthercatTraits,
  Pdo,
  EthernetIpTraits,
  IoLinkTraits,
  SheetTraits,
  ControllerTraits,
} from './traits'

export type * from './data-item'
export type * from './traits'

/** The one model every description format is read into. Keys are unique within their file. */

export type FormatName = 'gsdml' | 'gsd' | 'esi' | 'eds' | 'iodd' | 'sheet'
export type Protocol =
  'profinet' | 'profibus' | 'ethercat' | 'ethernet-ip' | 'io-link' | SheetProtocol

export interface DeviceFile {
  readonly format: FormatName
  readonly formatVersion: string | null
  readonly vendor: { readonly id: number | null; readonly name: string }
  readonly family: { readonly main: string; readonly product: string }
  /** Languages the file has texts in, its primary one first; empty where the format knows none. */
  readonly languages: readonly string[]
  readonly devices: readonly Device[]
  readonly modules: readonly Module[]
  /** Submodules that can be plugged into subslots of a device or module. */
  readonly submodules: readonly Submodule[]
  /** What the device may report, in the file's words. */
  readonly diagnoses: readonly Diagnosis[]
  /** What a device sheet adds to what other files describe. */
  readonly supplements?: readonly Supplement[]
  readonly problems: readonly Problem[]
}

/** What a device sheet knows of something that another file describes, found by maker and order
 *  number. */
export interface Supplement {
  readonly orderNumber: string
  /** The name of a module that has no order number. */
  readonly module?: string
  readonly currentMa?: number
  readonly switches?: SwitchBank
  /** Of a module among others, and what a head asks of its row. */
  readonly placement?: ModulePlacement
  readonly headPlacement?: HeadPlacement
  readonly power?: PowerNeed
  readonly terminals?: readonly Terminal[]
  readonly electrical?: Electrical
}

/** What a device takes of its supply. Voltages are those at its terminals. */
export interface PowerNeed {
  readonly currentMa: number
  /** While it starts; left out: no more than that. */
  readonly inrushMa?: number | undefined
  readonly minVolts: number
  readonly maxVolts: number
  /** Whether it takes a second supply beside the first. */
  readonly second: boolean
}

/** What a supply gives. */
export interface PowerSource {
  readonly volts: number
  readonly currentMa: number
  /** For a moment, while what hangs on it starts; left out: no more than that. */
  readonly peakMa?: number | undefined
}

/** What the channels of a module are electrically, where somebody says it. */
export interface Electrical {
  /** Switching sensors that its inputs take: sourcing, sinking, or either. */
  readonly takes?: 'pnp' | 'npn' | 'both'
  /** Delay of its inputs, ms, where no parameter sets it. */
  readonly delayMs?: number
  /** What one output gives at most, lasting and while something starts, mA. */
  readonly loadMa?: number
  readonly inrushMa?: number
  /** Whether its inputs feed a transmitter. */
  readonly feeds?: boolean
  readonly hart?: boolean
  readonly intrinsicallySafe?: boolean
  /** What an intrinsically safe channel can give at most: V, mA, mW, nF, mH. */
  readonly entity?: {
    readonly u0?: number
    readonly i0?: number
    readonly p0?: number
    readonly c0?: number
    readonly l0?: number
  }
  /** The range its analog channels have and no parameter changes, in everybody's words: `4…20
   *  mA`. */
  readonly range?: string
  /** How it counts: the name of a common raw format, or one of its own. */
  readonly counts?: string | RawFormat
}

/** One terminal of a module; `channel` as its description calls it, empty for supplies and the
 *  like. */
export interface Terminal {
  readonly terminal: string
  readonly function: string
  readonly channel: string
}

/** A head module with one firmware: what a station is built on. Besides what all have in common
 *  it keeps what only its protocol knows. */
export type Device = CommonDevice & ProtocolDevice

interface CommonDevice {
  readonly key: string
  readonly name: string
  readonly info: string
  readonly orderNumber: string | null
  readonly firmware: string | null
  readonly hardware: string | null
  readonly limits: DeviceLimits
  readonly slots: readonly Slot[]
  readonly subslots: readonly Subslot[]
  readonly submodules: readonly Submodule[]
  readonly parameters: readonly ParameterRecord[]
  readonly connections: readonly Connection[]
  /** EtherCAT: objects of its dictionary that may be written, a record a value. */
  readonly dictionary?: readonly ParameterRecord[]
  /** Taken from the backplane; negative supplies. */
  readonly currentMa: number | null
  /** What its maker asks of the row of modules behind it; device sheets only. */
  readonly placement?: HeadPlacement
  /** Its address switches; device sheets only. */
  readonly switches?: SwitchBank
  /** What its electronics take of their supply, and what it supplies where it is one itself; device
   *  sheets only. */
  readonly power?: PowerNeed
  readonly source?: PowerSource
  /** An old revision that new plans should not choose. */
  readonly hidden: boolean
  readonly variants: readonly Variant[]
}

type ProtocolDevice =
  | {
      readonly protocol: 'profinet'
      readonly identity: { readonly profinet: ProfinetIdentity }
      readonly profinet: ProfinetTraits
    }
  | {
      readonly protocol: 'profibus'
      readonly identity: { readonly profibus: { readonly identNumber: number } }
      readonly profibus: ProfibusTraits
    }
  | {
      readonly protocol: 'ethercat'
      readonly identity: { readonly ethercat: EthercatIdentity }
      readonly ethercat: EthercatTraits
    }
  | {
      readonly protocol: 'ethernet-ip'
      readonly identity: { readonly 'ethernet-ip': EthernetIpIdentity }
      readonly ethernetIp: EthernetIpTraits
    }
  | {
      readonly protocol: 'io-link'
      readonly identity: {
        readonly 'io-link': { readonly vendorId: number; readonly deviceId: number }
      }
      readonly ioLink: IoLinkTraits
    }
  | {
      readonly protocol: SheetProtocol
      readonly identity: {
        readonly sheet: { readonly vendor: string; readonly orderNumber: string }
      }
      readonly sheet: SheetTraits
    }

/** Networks whose devices have no open description file, as `core/protocols/` lists them. */
export type SheetProtocol = string & {}

/** A device that only a device sheet describes. */
export type SheetDevice = Extract<Device, { readonly sheet: SheetTraits }>

export interface ProfinetIdentity {
  readonly vendorId: number
  readonly deviceId: number
  readonly moduleIdent: number
}

export interface EthercatIdentity {
  readonly vendorId: number
  readonly productCode: number
  readonly revision: number
}

export interface EthernetIpIdentity {
  readonly vendorCode: number
  readonly productType: number
  readonly productCode: number
  readonly majorRevision: number
  readonly minorRevision: number
}

export interface DeviceLimits {
  readonly inputBytes: number | null
  readonly outputBytes: number | null
  readonly dataBytes: number | null
  readonly modules: number | null
  readonly parameterBytes: number | null
}

/** Another order number of the same device. */
export interface Variant {
  readonly productId: string
  readonly name: string
}

/** An application connection of an EtherNet/IP device; sizes without sequence count and 32-bit
 *  header. */
export interface Connection {
  readonly key: string
  readonly name: string
  readonly info: string
  readonly outputBytes: number
  readonly inputBytes: number
  readonly configBytes: number
  /** Octets of the connection path in hex. */
  readonly path: string
  readonly requestedIntervalUs: number | null
  readonly requestedInputIntervalUs: number | null
  /** The shortest and longest interval that may be asked for, where the file says. */
  readonly intervalLimitsUs?: readonly [number, number]
  /** Whether four octets run/idle stand before the output data. */
  readonly hasRunIdleHeader: boolean
  readonly inputs: readonly DataItem[]
  readonly outputs: readonly DataItem[]
  readonly asDescribed?: DescribedData
}

/** What the description says of data that a layout of one's own lies over. */
export interface DescribedData {
  readonly inputs: readonly DataItem[]
  readonly outputs: readonly DataItem[]
}

export interface Diagnosis {
  readonly kind: 'channel' | 'unit' | 'event'
  readonly code: number
  readonly name: string
  readonly help: string
}

export interface Slot {
  readonly slot: number
  readonly fixed: string | null
  readonly default: string | null
  readonly allowed: readonly string[]
  /** Where its data stand in the head's data, whatever is plugged: fixed rack data and tables of
   *  nibbles; device sheets only, see `inside.ts`. */
  readonly at?: { readonly in: SlotPlace | null; readonly out: SlotPlace | null }
}

/** A fixed place in the head's data, in bits counted through from its first byte. */
export interface SlotPlace {
  readonly offsetBits: number
  readonly bits: number
}

export interface Subslot {
  readonly subslot: number
  readonly fixed: string | null
  readonly default: string | null
  readonly allowed: readonly string[]
}

export interface Module {
  readonly key: string
  readonly name: string
  readonly info: string
  readonly orderNumber: string | null
  readonly category: string | null
  readonly ident: number | null
  readonly inputBytes: number
  readonly outputBytes: number
  readonly configuration: string | null
  readonly submodules: readonly Submodule[]
  readonly subslots: readonly Subslot[]
  readonly parameters: readonly ParameterRecord[]
  /** EtherCAT: objects of its dictionary that may be written. */
  readonly dictionary?: readonly ParameterRecord[]
  readonly currentMa: number | null
  /** Where it may stand among other modules; device sheets only. */
  readonly placement?: ModulePlacement
  /** Its terminals; device sheets only. */
  readonly terminals?: readonly Terminal[]
  /** What its channels are electrically; device sheets only. */
  readonly electrical?: Electrical
  /** Networks that it brings to its controller; device sheets only. */
  readonly interfaces?: ControllerTraits['interfaces']
  /** Whether its type may be changed while the station runs; device sheets only. */
  readonly changesRunning?: boolean
  /** Switches that set its fail-safe destination address; device sheets only. */
  readonly failSafeSwitches?: SwitchBank
}

/** What a head asks of the modules behind it, beyond its slots. */
export interface HeadPlacement {
  readonly widthMm: number
  /** Kinds or keys of modules that every station with modules needs, e.g. an end module. */
  readonly requires: readonly string[]
  /** Modules that stand on the head before an extension is needed; null where it says nothing. */
  readonly maxBeforeExtension: number | null
  /** What it feeds into the first potential group; 0 where it feeds none. */
  readonly fieldSupplyMa: number
}

/** Where a module may stand among the others of its station and what it takes there. */
export interface ModulePlacement {
  /** What the rules of other modules and of the head call it: `supply`, `end`, `io` … */
  readonly kind: string
  readonly widthMm: number
  /** Before, behind all others of its kind; where it has no kind, of all modules. */
  readonly firstOfKind: boolean
  readonly lastOfKind: boolean
  readonly nextToHead: boolean
  /** Kinds or keys of which one has to stand somewhere before it. */
  readonly requiresBefore: readonly string[]
  /** How many of it a station takes. */
  readonly maxModules: number | null
  /** Set on extensions: how many modules stand behind it before the next one is needed. */
  readonly maxAfterExtension: number | null
  /** Of the field supply of its potential group; a module that feeds begins a new group. */
  readonly fieldCurrentMa: number
  readonly fieldSupplyMa: number
}

export interface Submodule {
  readonly key: string
  readonly name: string
  readonly subslot: number | null
  readonly ident: number | null
  readonly inputBytes: number
  readonly outputBytes: number
  readonly inputs: readonly DataItem[]
  readonly outputs: readonly DataItem[]
  readonly parameters: readonly ParameterRecord[]
  readonly safety: boolean
  /** EtherCAT: every PDO, also those outside the default assignment. */
  readonly pdos?: readonly Pdo[]
  readonly asDescribed?: DescribedData
}

/** A parameter record as the device gets it. `bytes` is the default record. */
export interface ParameterRecord {
  readonly index: number | null
  /** CoE objects only. */
  readonly subindex?: number
  /** State changes at which it is sent, e.g. `PS` (ETG.2000). */
  readonly transitions?: readonly string[]
  /** Whether the index grows from slot to slot (EtherCAT). */
  readonly dependsOnSlot?: boolean
  readonly name?: string
  /** Sent only where somebody chose a value of it: writable objects of a dictionary. */
  readonly isOptional?: true
  readonly length: number
  readonly bytes: string
  readonly parameters: readonly Parameter[]
}

export type ValueKind = 'unsigned' | 'signed' | 'float' | 'text' | 'octets' | 'boolean'

/** One value in a record. The octets it touches are read as one number in its byte order; it begins
 *  at bit `offsetBits` of that number. */
export interface Parameter {
  readonly key: string
  readonly name: string
  readonly type: string
  readonly kind: ValueKind
  readonly byteOrder: ByteOrder
  readonly offsetBytes: number
  readonly offsetBits: number
  readonly bits: number
  /** What a short text is filled with; blanks where left out. */
  readonly fill?: 0
  /** Octets before a text that say how long it is (CIP SHORT_STRING and STRING); they count in its
   *  bits. */
  readonly lengthOctets?: 1 | 2
  readonly default: number | string
  readonly allowed: readonly (readonly [number, number])[]
  readonly texts: Readonly<Record<string, string>>
  readonly visible: boolean
  readonly changeable: boolean
  readonly unit?: string
  readonly info?: string
  /** Where the file's menus show it; left out where it has none. More than one where which of them
   *  is shown depends on other values. */
  readonly menus?: readonly MenuPlace[]
  /** How a tool shows the value: times `factor`, plus `offset`, with so many decimals; left out: as
   *  it is. */
  readonly display?: {
    readonly factor: number
    readonly offset: number
    readonly decimals: number | null
    /** EDS: parts of the scaling that are the values of other parameters, by their keys. */
    readonly links?: ScalingLinks
  }
}

/** (value + offset) × multiplier × base / divider, with what stands in the file and the parameters
 *  that say it instead (CIP Vol. 1, ch. 7). */
export interface ScalingLinks {
  readonly stated: Readonly<Record<ScalingPart, number>>
  readonly linked: Readonly<Partial<Record<ScalingPart, string>>>
}
export type ScalingPart = 'multiplier' | 'divider' | 'base' | 'offset'

/** Menu names from the outside in, and the rank among all that the file's menus show. */
export interface MenuPlace {
  readonly path: readonly string[]
  readonly rank: number
  /** What must all hold for the menu to be shown; left out: it is always. */
  readonly when?: readonly ParameterIs[]
}

/** A parameter of the same device by its key, and the value it must have. */
export interface ParameterIs {
  readonly parameter: string
  readonly value: number
}
