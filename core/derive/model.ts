import type { Catalog } from '../catalog/catalog'
import type { InsidePlace } from '../catalog/inside'
import type { DataBlock, Layout } from '../catalog/layout'
import type { Device, DeviceFile, Module } from '../catalog/model'
import type { DataLayout } from '../vocabulary/data-layout'
import type { Extent } from '../image/image'
import type {
  AddressMap,
  ControllerRow,
  Id,
  ModuleRow,
  NetworkRow,
  Plan,
  Plugged,
  SignalRow,
  StationGroup,
  StationRow,
} from '../plan/model'

/** A module in its slot with everything that follows from description and plan. The head is one
 *  too, in slot 0. */
export interface DerivedModule {
  /** The module's row id; for the head the station's. */
  readonly id: Id
  readonly slot: number
  /** Null for the head. */
  readonly row: ModuleRow | null
  /** Null where the description file is missing or does not know the module. */
  readonly described: Module | Device | null
  readonly layout: Layout | null
  /** Where its data stand in the head's; null where they are on their own. */
  readonly inside: InsidePlace | null
  /** What stands in its subslots. */
  readonly plugged: Plugged
  readonly addresses: AddressMap
  /** Signals by the channel they sit on, see `placeKey`. */
  readonly signals: ReadonlyMap<number, SignalRow>
}

/** A data block with its place in the controller's image. */
export interface PlacedBlock {
  readonly module: DerivedModule
  readonly block: DataBlock
  readonly byte: number
  /** In its first byte; above 0 only where small blocks share one. */
  readonly bit: number
  /** What it takes of the image: whole bytes, or less where its station packs bits. */
  readonly bits: number
}

export interface DerivedStation {
  readonly id: Id
  readonly station: StationRow
  readonly group: StationGroup
  readonly file: DeviceFile | null
  /** Files of the devices below its ports. */
  readonly below: readonly { readonly hash: string; readonly file: DeviceFile | null }[]
  /** Data layouts that its head and modules ask for; null where one is gone. */
  readonly laid: readonly { readonly id: Id; readonly layout: DataLayout | null }[]
  readonly device: Device | null
  /** Head first, then the modules in slot order. */
  readonly modules: readonly DerivedModule[]
  readonly blocks: readonly PlacedBlock[]
  /** Whole bytes that its blocks take. */
  readonly extents: readonly Extent[]
  /** Blocks of modules that stand in the head's data. */
  readonly inside: readonly PlacedBlock[]
  readonly packs: boolean
  readonly inputBytes: number
  readonly outputBytes: number
  /** Data with provider and consumer status octets, as they travel in one frame each way. */
  readonly inputFrameBytes: number
  readonly outputFrameBytes: number
  readonly channels: number
  readonly named: number
}

export interface DerivedNetwork {
  readonly network: NetworkRow
  readonly stations: readonly DerivedStation[]
}

export interface DerivedController {
  readonly controller: ControllerRow
  readonly networks: readonly DerivedNetwork[]
  readonly inputBytes: number
  readonly outputBytes: number
}

export interface Derived {
  readonly plan: Plan
  readonly catalog: Catalog
  readonly stations: ReadonlyMap<Id, DerivedStation>
  readonly controllers: readonly DerivedController[]
  readonly totals: {
    readonly stations: number
    readonly modules: number
    readonly channels: number
    readonly named: number
    readonly unplaced: number
    readonly bytes: number
    readonly imageBytes: number
  }
}
