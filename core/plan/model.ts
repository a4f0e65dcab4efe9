import { z } from 'zod'
import { notationNames } from '../addressing/notations'
import { networkKindNames } from './network-kinds'

/** What the engineer decided: entity tables of plain rows. The same rows stand in PostgreSQL, on the wire,
 *  in the project file and in the browser. Nothing here can be computed from something else. */

export const id = z.string().min(1).max(64).regex(/^[A-Za-z0-9._-]+$/, 'letters, digits, dot, dash and underscore')
export type Id = string
const label = z.string().max(200)
const byteAddress = z.number().int().min(0).max(1_048_575)

/** First byte of each data block in the controller's image, by subslot. */
export const addressMap = z.record(z.string(), z.object({ in: byteAddress.optional(), out: byteAddress.optional() }).strict())

/** What is plugged into a head's or module's subslots: a submodule of its file (empty: what is built in there), and the device
 *  below a port, with the description file it stands in. */
export const plugged = z.record(z.string().regex(/^\d+$/), z.object({ submodule: z.string().max(200), file: z.string().max(64).default(''), device: z.string().max(200).default('') }).strict())

export const projectRow = z.object({
  id,
  name: label.min(1),
  /** Longest tag the target language takes. */
  tagLength: z.number().int().min(8).max(255),
  /** Length of the rails that stations stand on, in millimetres; 0 where nobody said. */
  railMm: z.number().int().min(0).max(100_000).default(0),
}).strict()

export const controllerRow = z.object({
  id,
  name: label,
  position: z.number(),
  inputBytes: z.number().int().min(0).max(1_048_576),
  outputBytes: z.number().int().min(0).max(1_048_576),
  /** 16- and 32-bit values start at even and 4-divisible bytes. */
  aligned: z.boolean(),
  /** How addresses of its image are written. */
  notation: z.enum(notationNames).default('iec'),
}).strict()

export const networkRow = z.object({
  id,
  controllerId: id,
  name: label,
  kind: z.enum(networkKindNames),
  position: z.number(),
  /** The controller's own address on this network, dotted; empty on networks without IP. */
  controllerIp: z.string().max(64),
  prefixLength: z.number().int().min(1).max(30),
}).strict()

export const stationRow = z.object({
  id,
  networkId: id,
  position: z.number(),
  name: z.string().max(500),
  /** Dotted; empty on networks without IP. */
  ip: z.string().max(64),
  /** Its number on the network: device number, bus address, unit or node; see `networkKinds`. */
  deviceNumber: z.number().int().min(0).max(65_535),
  /** SHA-256 of the description file, and the head's key in it. */
  file: z.string().min(1).max(64),
  device: z.string().min(1),
  /** The connection that carries its data, where the head offers several; empty: its built-in data. */
  connection: z.string().max(200).default(''),
  comment: z.string().max(2000),
  /** Of its rail, in millimetres; 0: as the project says. */
  railMm: z.number().int().min(0).max(100_000).default(0),
  plugged: plugged.default({}),
  /** Of the head's own data, where it has any. */
  addresses: addressMap,
}).strict()

export const moduleRow = z.object({
  id,
  stationId: id,
  slot: z.number().int().min(0).max(65535),
  /** The module's key in the station's description file. */
  module: z.string().min(1),
  plugged: plugged.default({}),
  addresses: addressMap,
}).strict()

/** Where a signal sits: `moduleId` is the station's id for the head's own channels. Offset in bits within
 *  the data of that submodule and direction. */
export const signalPlace = z.object({
  moduleId: id,
  subslot: z.number().int().min(0).max(65535),
  direction: z.enum(['in', 'out']),
  offsetBits: z.number().int().min(0).max(65535),
}).strict()

export const signalRow = z.object({
  id,
  place: signalPlace.nullable(),
  tag: z.string().max(500),
  comment: z.string().max(2000),
  terminal: z.string().max(100),
}).strict()

export const tables = {
  controllers: controllerRow,
  networks: networkRow,
  stations: stationRow,
  modules: moduleRow,
  signals: signalRow,
} as const
export type TableName = keyof typeof tables
export const tableNames = Object.keys(tables) as TableName[]

export type AddressMap = z.infer<typeof addressMap>
export type Plugged = z.infer<typeof plugged>
export type ProjectRow = z.infer<typeof projectRow>
export type ControllerRow = z.infer<typeof controllerRow>
export type NetworkRow = z.infer<typeof networkRow>
export type StationRow = z.infer<typeof stationRow>
export type ModuleRow = z.infer<typeof moduleRow>
export type SignalPlace = z.infer<typeof signalPlace>
export type SignalRow = z.infer<typeof signalRow>
export interface RowOf {
  controllers: ControllerRow
  networks: NetworkRow
  stations: StationRow
  modules: ModuleRow
  signals: SignalRow
}

export type Rows<T> = Readonly<Record<Id, T>>

/** A station with the rows that belong to it, so that a change copies one group and not a whole table. */
export interface StationGroup {
  readonly station: StationRow
  readonly modules: Rows<ModuleRow>
  readonly signals: Rows<SignalRow>
}

export interface Plan {
  readonly project: ProjectRow
  readonly controllers: Rows<ControllerRow>
  readonly networks: Rows<NetworkRow>
  readonly stations: Rows<StationGroup>
  /** Signals that have no channel yet, or lost it. */
  readonly unplaced: Rows<SignalRow>
}

export type PlanRows = { readonly [T in TableName]: readonly RowOf[T][] }
