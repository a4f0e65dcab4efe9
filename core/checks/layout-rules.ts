import { blocksOfHead, submodulesOf } from '../catalog/placed'
import {
  bytesOf,
  describedBlock,
  describedItems,
  faultsOfFields,
  fitsOn,
  wordFieldFault,
  type DataOfBlock,
} from '../catalog/own-data'
import type { Catalog } from '../catalog/catalog'
import type { Device } from '../catalog/model'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { DataLayout } from '../vocabulary/data-layout'
import type { Direction } from '../vocabulary/direction'
import { atModule, planRule, stationRule, type FindingPlace } from './finding'
import { isEmpty } from '../vocabulary/records'

interface Chosen {
  readonly moduleId: string
  readonly subslot: number
  readonly direction: Direction
  readonly name: string
  readonly fault: string
}

/** Data layouts of one's own on data that are not what they were made for. */
export const stationLayoutRules = [
  stationRule<Chosen>({
    code: 'layout.unfit',
    severity: 'blocker',
    find: function* ({ view, project, catalog }) {
      for (const module of view.modules) {
        const { layouts } = module.row ?? view.station
        if (isEmpty(layouts)) continue
        const blocks = blocksOf(catalog, view, module)
        for (const [key, id] of Object.entries(layouts)) {
          if (id === '') continue
          const [subslot, direction] = key.split('.') as [string, Direction]
          const layout = project.dataLayouts[id]
          const block = blocks.find((one) => String(one.subslot ?? 1) === subslot)
          const fault = faultOn(layout && { ...layout, direction }, block)
          if (fault)
            yield {
              at: atModule(view, module),
              facts: {
                moduleId: module.id,
                subslot: Number(subslot),
                direction,
                name: layout?.name ?? id,
                fault,
              },
            }
        }
      }
    },
    say: ({ name, fault }, at) =>
      `The data layout "${name}" does not fit ${at.words}: ${fault}. The data are as described.`,
    fixes: ({ moduleId, subslot, direction }) => [
      {
        label: 'Use what its type has',
        command: { type: 'useDataLayout', moduleId, subslot, direction, layout: null },
      },
    ],
  }),
]

/** Why a layout is not over a block; null where it is. */
function faultOn(
  layout: DataLayout | undefined,
  block: DataOfBlock | null | undefined,
): string | null {
  if (!layout) return 'it is no longer in the project'
  if (!block || bytesOf(block, layout.direction) === 0) return 'there are no such data'
  const bytes = bytesOf(block, layout.direction)
  if (bytes !== layout.bytes) return `it is for ${layout.bytes} octets, there are ${bytes}`
  const [fault] = faultsOfFields(layout.fields, describedItems(block, layout.direction), bytes)
  return fault ? wordFieldFault(layout, fault) : null
}

function blocksOf(
  catalog: Catalog,
  { station: head }: DerivedStation,
  { row, described }: DerivedModule,
) {
  if (!described) return []
  return row
    ? submodulesOf(catalog, head.file, described, { ...row, layouts: {} })
    : blocksOfHead(catalog, described as Device, { ...head, layouts: {} })
}

export const planLayoutRules = [
  planRule<{ id: string; name: string; key: string; fault: string }>({
    code: 'layout.description',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const [id, layout] of Object.entries(derived.plan.project.dataLayouts)) {
        if (!layout.everywhere || !derived.catalog.has(layout.file)) continue
        const block = describedBlock(derived.catalog, layout)
        const fault = block && fitsOn(layout, block) ? null : faultOn(layout, block)
        if (fault)
          yield {
            at: atLayout(derived.plan.project.id, id, layout),
            facts: { id, name: layout.name, key: layout.key, fault },
          }
      }
    },
    say: ({ name, key, fault }) =>
      `The data layout "${name}" does not fit the description of ${key}: ${fault}.`,
    fixes: ({ id }) => [
      { label: 'Remove the layout', command: { type: 'setDataLayout', id, layout: null } },
    ],
  }),

  planRule<{ id: string; name: string; layout: DataLayout; file: string; product: string }>({
    code: 'layout.file',
    severity: 'warning',
    find: function* ({ derived }) {
      const layouts = Object.entries(derived.plan.project.dataLayouts).filter(
        ([, { everywhere }]) => everywhere,
      )
      if (layouts.length === 0) return
      const used = new Set([...derived.stations.values()].map(({ station }) => station.file))
      for (const [id, layout] of layouts) {
        if (used.has(layout.file)) continue
        // The same type under another description, such as a newer one.
        const file = [...used].find(
          (hash) =>
            describedBlock(derived.catalog, { ...layout, file: hash }) !== null &&
            !layouts.some(([, one]) => one.file === hash && one.key === layout.key),
        )
        if (file !== undefined)
          yield {
            at: atLayout(derived.plan.project.id, id, layout),
            facts: {
              id,
              name: layout.name,
              layout,
              file,
              product: derived.catalog.get(file)!.family.product || layout.key,
            },
          }
      }
    },
    say: ({ name, product }) =>
      `The data layout "${name}" was made for a description file that no station has now; ${product} stands on another one.`,
    fixes: ({ id, layout, file }) => [
      {
        label: 'Use it for that file',
        command: { type: 'setDataLayout', id, layout: { ...layout, file } },
      },
    ],
  }),
]

const atLayout = (projectId: string, id: string, { name }: DataLayout): FindingPlace => ({
  kind: 'project',
  id: `${projectId}:${id}`,
  words: name,
})
