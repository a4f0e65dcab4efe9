import type { Catalog } from '../catalog/catalog'
import type { DataItem, Device, Submodule } from '../catalog/model'
import { blocksOfHead, submodulesOf } from '../catalog/placed'
import { bytesOf, describedItems, layoutsIn } from '../catalog/own-data'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { Id } from '../plan/model'
import type { DataLayout } from '../vocabulary/data-layout'
import type { Direction } from '../vocabulary/direction'

/** One direction of a subslot of a head or module: what its description says of the data, and which
 *  layout of one's own lies over it. */
export interface DataBlockView {
  readonly subslot: number
  readonly direction: Direction
  readonly name: string
  readonly bytes: number
  readonly described: readonly DataItem[]
  /** With the layout over it. */
  readonly items: readonly DataItem[]
  /** What a layout for all of its type is made for. */
  readonly target: Pick<DataLayout, 'file' | 'of' | 'key' | 'subslot' | 'direction'>
  readonly layout: { readonly id: Id; readonly layout: DataLayout } | null
  /** Whether this head or module was given its layout, or none, apart from its type. */
  readonly isApart: boolean
}

/** The data of a head or module that can be named. */
export function dataBlocksOf(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
): DataBlockView[] {
  const { described, row, plugged } = module
  if (!described) return []
  const head = view.station
  const { file, connection } = head
  const decided = { ...(row ?? view.station), plugged }
  const blocks = row
    ? submodulesOf(catalog, file, described, decided)
    : blocksOfHead(catalog, described as Device, { ...head, ...decided })
  const ownerOf = (subslot: number): Pick<DataLayout, 'of' | 'key'> => {
    const submodule = plugged[subslot]?.submodule ?? ''
    if (submodule !== '') return { of: 'submodule', key: submodule }
    if (row) return { of: 'module', key: described.key }
    return connection === ''
      ? { of: 'device', key: described.key }
      : { of: 'connection', key: connection }
  }
  return blocks.flatMap((block) =>
    (['in', 'out'] as const)
      .filter((direction) => bytesOf(block, direction) > 0)
      .map((direction) => {
        const subslot = block.subslot ?? 1
        const target = { file, subslot, direction, ...ownerOf(subslot) }
        const own = decided.layouts[`${subslot}.${direction}`]
        return {
          subslot,
          direction,
          name: block.name,
          bytes: bytesOf(block, direction),
          described: describedItems(block, direction),
          items: itemsOf(block, direction),
          target,
          layout: layoutOver(catalog, target, own),
          isApart: own !== undefined,
        }
      }),
  )
}

const itemsOf = (block: Submodule, direction: Direction) =>
  direction === 'in' ? block.inputs : block.outputs

function layoutOver(
  catalog: Catalog,
  { file, of, key, subslot, direction }: DataBlockView['target'],
  own: string | undefined,
): DataBlockView['layout'] {
  const layouts = layoutsIn(catalog)
  if (own !== undefined) {
    const layout = layouts[own]
    return layout ? { id: own, layout } : null
  }
  for (const [id, layout] of Object.entries(layouts))
    if (
      layout.everywhere &&
      layout.file === file &&
      layout.of === of &&
      layout.key === key &&
      layout.direction === direction &&
      (of === 'submodule' || of === 'connection' || layout.subslot === subslot)
    )
      return { id, layout }
  return null
}
