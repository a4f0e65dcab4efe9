import type { InsidePlace } from '../catalog/inside'
import type { DataBlock, Layout } from '../catalog/layout'
import type { Device, Module, ParameterRecord } from '../catalog/model'

/** What protocols need to know of a planned station; what `derive` makes has all of it. */
export interface WireModule {
  readonly id: string
  readonly slot: number
  /** Null for the head. */
  readonly row: object | null
  readonly described: Module | Device | null
  readonly layout: Layout | null
  readonly inside: InsidePlace | null
}

export interface WireStation<M extends WireModule = WireModule> {
  readonly id: string
  readonly station: {
    readonly name: string
    readonly connection: string
    readonly deviceNumber: number
    readonly settings: { readonly kind: string }
  }
  readonly device: Device | null
  /** Head first, then the modules in slot order. */
  readonly modules: readonly M[]
  readonly blocks: readonly { readonly block: DataBlock }[]
  readonly inputBytes: number
  readonly outputBytes: number
  /** With status octets. */
  readonly inputFrameBytes: number
  readonly outputFrameBytes: number
}

/** A parameter record of a station with the octets that the plan gives it. */
export interface WireRecord {
  readonly moduleId: string
  readonly slot: number
  readonly isHead: boolean
  readonly key: string
  readonly record: ParameterRecord
  readonly bytes: Uint8Array
}

/** Octets against what there is room for; `source` says who has it: "one frame takes". */
export interface DataSize {
  readonly what: string
  readonly bytes: number
  readonly limit: number
  readonly source: string
}

export interface ConnectionLimit {
  readonly in: number
  readonly out: number
}

export interface Round {
  readonly ms: number
  readonly everyMs: number
}

/** Part of a network's logical image that belongs to one station. */
export interface LogicalPart<V extends WireStation = WireStation> {
  readonly view: V
  readonly in: { readonly bit: number; readonly bits: number } | null
  readonly out: { readonly bit: number; readonly bits: number } | null
}

export interface LogicalImage<V extends WireStation = WireStation> {
  readonly parts: readonly LogicalPart<V>[]
  readonly outputBytes: number
  readonly inputBytes: number
  readonly datagrams: number
  /** What the working counter has to be where everything is well. */
  readonly workingCounter: number
}

/** What stands in a slot, as its device says it. */
export interface RealModule {
  readonly slot: number
  /** As the wire has it: hex digits of its ident number or configuration, or an order number. */
  readonly ident: string
  readonly submodules: readonly RealSubmodule[]
}

export interface RealSubmodule {
  readonly subslot: number
  /** Hex digits; empty where its protocol tells modules only. */
  readonly ident: string
  readonly inputBytes: number
  readonly outputBytes: number
}
