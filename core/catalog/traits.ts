import type { ByteOrder } from '../vocabulary/byte-order'
import type { Medium } from '../vocabulary/medium'
import type { ModbusTable } from '../vocabulary/modbus-table'
import type { SerialLine } from '../vocabulary/serial-line'
import type { DataItem } from './data-item'

/** What a description says of a device beyond what all protocols share. */

export interface ProfinetTraits {
  /** Name the maker proposes for a new station. */
  readonly dnsCompatibleName: string | null
  readonly minDeviceIntervalUs: number | null
  readonly conformanceClass: string | null
  readonly maxRecordBytes: number | null
  /** True where the length limits count provider and consumer status octets as well. */
  readonly limitsIncludeStatus: boolean
  /** How it takes its address, e.g. `DCP`, `LOCAL`. */
  readonly addressAssignment: readonly string[]
  readonly applicationRelations: number | null
  readonly isShareable: boolean
  readonly checksDeviceId: boolean
  readonly reportsNeighbours: boolean
  /** Ports of its first interface by their subslots. */
  readonly ports: readonly { readonly subslot: number; readonly medium: Medium }[]
  /** Send clocks in microseconds and reduction ratios of cyclic data, as its interface states
   *  them. */
  readonly sendClocksUs: readonly number[]
  readonly reductionRatios: readonly number[]
  readonly realTimeClasses: readonly string[]
  readonly mediaRedundancyRoles: readonly string[]
  readonly systemRedundancy: string | null
  readonly isochronous: boolean
  /** Names of its pictures in the file; the pictures themselves stay where they are. */
  readonly pictures: readonly string[]
}

export interface ProfibusTraits {
  /** In kbit/s. */
  readonly transmissionRates: readonly number[]
  /** Longest station delay by transmission rate in kbit/s, in bit times. */
  readonly maxStationDelay: Readonly<Record<string, number>>
  readonly minSlaveIntervalUs: number | null
  readonly maxDiagnosisBytes: number | null
  readonly isModular: boolean
  readonly freezes: boolean
  readonly syncs: boolean
  readonly detectsRate: boolean
  readonly takesAddressOverBus: boolean
}

export interface EthercatTraits {
  /** One letter a port: Y copper, K backplane (ETG.2000, from memory). */
  readonly physics: string
  readonly syncManagers: readonly {
    readonly startAddress: number
    readonly controlByte: number
    readonly defaultBytes: number | null
    readonly minBytes: number | null
    readonly maxBytes: number | null
    readonly enabled: boolean
    readonly use: string
  }[]
  readonly operationModes: readonly {
    readonly name: string
    readonly info: string
    readonly assignActivate: number
    readonly sync0CycleNs: number | null
    readonly sync0ShiftNs: number | null
  }[]
  readonly mailboxProtocols: readonly string[]
  /** How much indexes and PDO numbers that depend on the slot grow from slot to slot. */
  readonly slotPdoIncrement: number | null
  readonly slotIndexIncrement: number | null
  /** The object dictionary, where the file holds it. */
  readonly objects: readonly DictionaryObject[]
}

/** A CoE object with what the file says of it; `default` are octets in hex, as they travel. */
export interface DictionaryObject {
  readonly index: number
  readonly name: string
  readonly type: string
  readonly bits: number | null
  readonly default: string | null
  readonly access: string
}

/** A group of process data that a device can send or take as a whole. */
export interface Pdo {
  readonly index: number
  readonly name: string
  readonly direction: 'in' | 'out'
  /** Sync manager it stands in unless somebody chooses otherwise; null: left out. */
  readonly syncManager: number | null
  readonly fixed: boolean
  readonly mandatory: boolean
  readonly excludes: readonly number[]
  readonly dependsOnSlot: boolean
  readonly bits: number
  readonly items: readonly DataItem[]
  /** The dictionary object behind each item, in the same order. */
  readonly objects: readonly { readonly index: number; readonly subindex: number }[]
}

export interface EthernetIpTraits {
  readonly productType: string
  readonly maxConnections: number | null
  /** Packets a second that it takes, for connections up to so many octets. */
  readonly packetRates?: readonly { readonly bytes: number; readonly perSecond: number }[]
  /** Ports for cables; left out: not said. */
  readonly portCount?: number
  /** Whether it takes part in a device-level ring; left out: not said. */
  readonly closesRings?: boolean
  readonly isModular: boolean
  /** Octets of a connection that hold the head's own data and tables of slots; modules without a
   *  place of their own follow them. Device sheets with data sets only. */
  readonly own?: { readonly inputBytes: number; readonly outputBytes: number }
}

export interface IoLinkTraits {
  /** COM1, COM2 or COM3. */
  readonly transmissionRate: string | null
  readonly minCycleTimeUs: number | null
  readonly mSequenceCapability: number | null
  readonly hasSioMode: boolean
  /** Every layout of the process data; where there are several, a variable's value picks one. */
  readonly layouts: readonly ProcessDataLayout[]
}

export interface ProcessDataLayout {
  readonly condition: {
    readonly variable: string
    readonly subindex: number | null
    readonly value: number
  } | null
  readonly inputBytes: number
  readonly outputBytes: number
  readonly inputs: readonly DataItem[]
  readonly outputs: readonly DataItem[]
}

export interface SheetTraits {
  /** How the station's address is set on the device, in the sheet's words. */
  readonly addressing: string
  readonly headerBytes: number
  /** Its ports for cables, where the sheet names them. */
  readonly networkPorts?: readonly NetworkPort[]
  /** A wireless gateway: how many devices it takes that send so often, each entry alone. */
  readonly radio?: readonly { readonly everyS: number; readonly devices: number }[]
  /** A controller with its own slots: what it has room for. */
  readonly controller: ControllerTraits | null
  readonly registers: readonly {
    readonly name: string
    readonly table: ModbusTable
    readonly address: number
    readonly type: string
    readonly access: 'read' | 'write' | 'both'
  }[]
  /** In which order its numbers travel, where that is not the protocol's. */
  readonly dataOrder: ByteOrder | null
  readonly modbus: ModbusTraits
}

/** A port for a cable. */
export interface NetworkPort {
  readonly name: string
  readonly medium: Medium
  /** Repeaters: ports with one number are one line. */
  readonly segment?: number
  /** It has a terminating resistor that is always on. */
  readonly terminates?: true
}

/** What a Modbus device takes beyond its registers. */
export interface ModbusTraits {
  /** How many unlisted registers may be read along to save a request. */
  readonly maxGap: number
  readonly readsAndWrites: boolean
  readonly bauds: readonly number[]
  /** How its line is set as it comes from its maker, where that is set at the device. */
  readonly line?: SerialLine | undefined
  /** TCP connections that it takes at once. */
  readonly connections?: number | undefined
  /** To be written at least so often, or the device stops. */
  readonly watchdog: { readonly address: number; readonly periodMs: number } | null
  /** What has to be written first, in this order, e.g. clearing a fault. */
  readonly startSequence: readonly {
    readonly table: 'coil' | 'holding-register'
    readonly address: number
    readonly value: number
    readonly note: string
  }[]
}

export interface ControllerTraits {
  readonly inputBytes: number
  readonly outputBytes: number
  /** `kind` as networks of a plan are called; null where it takes any number of stations. */
  readonly interfaces: readonly {
    readonly name: string
    readonly kind: string
    readonly maxStations: number | null
    /** Ports that it has; null: as usual on its network. */
    readonly ports: number | null
    /** Packets a second, both ways together. */
    readonly maxPackets: number | null
  }[]
}
