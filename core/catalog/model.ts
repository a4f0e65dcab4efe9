import type { Problem } from '../problem'

/** The one model every description format is read into. Keys are unique within their file. */

export type FormatName = 'gsdml' | 'gsd' | 'esi' | 'eds' | 'iodd' | 'sheet'
export type Protocol = 'profinet' | 'profibus' | 'ethercat' | 'ethernet-ip' | 'io-link' | 'modbus'

export interface DeviceFile {
  readonly format: FormatName
  readonly formatVersion: string | null
  readonly vendor: { readonly id: number | null; readonly name: string }
  readonly family: { readonly main: string; readonly product: string }
  readonly devices: readonly Device[]
  readonly modules: readonly Module[]
  /** Submodules that can be plugged into subslots of a device or module. */
  readonly submodules: readonly Submodule[]
  readonly problems: readonly Problem[]
}

/** A head module with one firmware: what a station is built on. */
export interface Device {
  readonly key: string
  readonly name: string
  readonly info: string
  readonly orderNumber: string | null
  readonly firmware: string | null
  readonly hardware: string | null
  readonly protocol: Protocol
  readonly identity: DeviceIdentity
  readonly limits: DeviceLimits
  readonly slots: readonly Slot[]
  readonly subslots: readonly Subslot[]
  readonly submodules: readonly Submodule[]
  readonly parameters: readonly ParameterRecord[]
  readonly connections: readonly []
  readonly profinet: ProfinetTraits
}

export interface DeviceIdentity {
  readonly profinet: { readonly vendorId: number; readonly deviceId: number; readonly moduleIdent: number }
}

export interface DeviceLimits {
  readonly inputBytes: number | null
  readonly outputBytes: number | null
  readonly dataBytes: number | null
  readonly modules: number | null
  readonly parameterBytes: number | null
}

export interface ProfinetTraits {
  /** Name the maker proposes for a new station. */
  readonly dnsCompatibleName: string | null
  readonly minDeviceIntervalUs: number | null
  readonly conformanceClass: string | null
  readonly maxRecordBytes: number | null
  /** True where the length limits count provider and consumer status octets as well. */
  readonly limitsIncludeStatus: boolean
}

export interface Slot {
  readonly slot: number
  readonly fixed: string | null
  readonly default: string | null
  readonly allowed: readonly string[]
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
  readonly currentMa: number | null
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
}

/** One value in a submodule's data. Offsets in bits from the start of that direction's data,
 *  8 × byte + bit, bit 0 the least significant. */
export interface DataItem {
  readonly name: string
  readonly type: string
  readonly offsetBits: number
  readonly bits: number
  /** True where the value is a row of single bits, whether or not the file names them. */
  readonly asBits: boolean
  readonly channels: readonly BitChannel[]
}

export interface BitChannel {
  readonly name: string
  readonly offsetBits: number
}

/** A parameter record as the device gets it. `bytes` is the default record. */
export interface ParameterRecord {
  readonly index: number | null
  readonly length: number
  readonly bytes: string
  readonly parameters: readonly Parameter[]
}

export interface Parameter {
  readonly key: string
  readonly name: string
  readonly type: string
  readonly offsetBytes: number
  readonly offsetBits: number
  readonly bits: number
  readonly default: number | string
  readonly allowed: readonly (readonly [number, number])[]
  readonly texts: Readonly<Record<string, string>>
  readonly visible: boolean
  readonly changeable: boolean
}
