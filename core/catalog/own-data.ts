import {
  wordFieldType,
  widthFault,
  type DataField,
  type DataLayout,
  type DataLayouts,
  type FieldType,
} from '../vocabulary/data-layout'
import type { DataKind } from '../vocabulary/data-kind'
import type { Direction } from '../vocabulary/direction'
import type { Catalog } from './catalog'
import { isEmpty } from '../vocabulary/records'
import type {
  BitChannel,
  Connection,
  DataItem,
  DescribedData,
  DeviceFile,
  Submodule,
} from './model'

/** Data layouts of one's own over what a description leaves unnamed. */

interface Extent {
  readonly offsetBits: number
  readonly bits: number
}
const endOf = ({ offsetBits, bits }: Extent) => offsetBits + bits
const overlap = (a: Extent, b: Extent) => a.offsetBits < endOf(b) && b.offsetBits < endOf(a)
const covers = (outer: Extent, inner: Extent) =>
  outer.offsetBits <= inner.offsetBits && endOf(outer) >= endOf(inner)
const byPlace = (a: Extent, b: Extent) => a.offsetBits - b.offsetBits || b.bits - a.bits

const isNumber = ({ type }: DataField) => type === 'unsigned' || type === 'signed'
/** What can stand inside a number that stays readable as a whole. */
const isPartOf = (outer: DataField, inner: DataField) =>
  isNumber(outer) &&
  inner.bits < outer.bits &&
  covers(outer, inner) &&
  (inner.type === 'bit' || isNumber(inner) || inner.type === 'unused')

/** Why a field of a layout cannot be: it leaves the data, overlaps another one, splits a value that
 *  the description names, or has a width that its type has not. `other` is what it meets. */
export interface FieldFault {
  readonly field: number
  readonly code: 'outside' | 'overlap' | 'splits' | 'width'
  readonly other: string
}

/** Everything that is wrong with fields over described data of so many octets, by the number of the
 *  field. */
export function faultsOfFields(
  fields: readonly DataField[],
  items: readonly DataItem[],
  bytes: number,
): FieldFault[] {
  const faults: FieldFault[] = []
  const described = [...items].sort(byPlace)
  const sorted = fields.map((field, i) => ({ ...field, i })).sort(byPlace)
  let outer: (typeof sorted)[number] | null = null
  let part: (typeof sorted)[number] | null = null
  for (const field of sorted) {
    const width = widthFault(field)
    if (width) faults.push({ field: field.i, code: 'width', other: width })
    if (endOf(field) > bytes * 8) faults.push({ field: field.i, code: 'outside', other: '' })
    const met = outer && overlap(outer, field) ? outer : null
    // What stands inside a number is one of its parts, and has none itself.
    const isPart =
      met !== null &&
      isPartOf(met, field) &&
      !overlapping(described, met).some((item) => isReadable(item) && !covers(met, item))
    const beside = isPart && part && overlap(part, field) ? part : null
    if (met && (!isPart || beside))
      faults.push({ field: field.i, code: 'overlap', other: nameOf(beside ?? met) })
    if (isPart) part = field
    else if (!outer || endOf(field) > endOf(outer)) [outer, part] = [field, null]
    for (const item of overlapping(described, field)) {
      if (splits(field, item)) faults.push({ field: field.i, code: 'splits', other: item.name })
    }
  }
  return faults.sort((a, b) => a.field - b.field)
}

const nameOf = ({ name, type, bits, port }: DataField) =>
  name || wordFieldType({ type, bits, port })

/** Whether a field takes only a piece of a described value that has no pieces. */
function splits(field: DataField, item: DataItem): boolean {
  if (item.holds === 'trailer') return true
  if (covers(field, item)) return false
  if (!covers(item, field)) return true
  return !(isOpen(item) || isReadable(item))
}

/** Octets or bits that a description does not tell apart. */
const isOpen = ({ holds, asBits, channels }: DataItem) =>
  holds === 'other' || asBits || channels.length > 0
const isReadable = ({ holds }: DataItem) =>
  holds === 'unsigned' || holds === 'signed' || holds === 'word'

/** Items in order of place that meet an extent. */
function overlapping<T extends Extent>(sorted: readonly T[], extent: Extent): T[] {
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (endOf(sorted[middle]!) <= extent.offsetBits) low = middle + 1
    else high = middle
  }
  const met: T[] = []
  for (let i = low; i < sorted.length && sorted[i]!.offsetBits < endOf(extent); i++)
    if (overlap(sorted[i]!, extent)) met.push(sorted[i]!)
  return met
}

/** Described data with fields laid over them. What a field covers it replaces; octets that
 *  it lies within are split around it; inside a number it stands beside the whole. Fields must be
 *  without faults. */
export function withFields(items: readonly DataItem[], fields: readonly DataField[]): DataItem[] {
  const outer: { field: DataField; parts: DataField[] }[] = []
  for (const field of [...fields].sort(byPlace)) {
    const last = outer.at(-1)
    if (last && isPartOf(last.field, field)) last.parts.push(field)
    else outer.push({ field, parts: [] })
  }
  const laid = outer.map(({ field, parts }) => ({ ...itemOf(field, parts), field }))
  const inside = new Set<DataItem>()
  const left = items.flatMap((item): DataItem[] => {
    const over = overlapping(laid, item)
    if (over.length === 0) return [item]
    if (over.some((field) => covers(field, item))) return []
    if (isOpen(item)) return around(item, over)
    for (const field of over) inside.add(field)
    const parts = over.filter(({ field }) => field.type !== 'unused').map(asItem)
    return [parts.length > 0 ? { ...item, parts } : item]
  })
  return [
    ...left,
    ...laid.filter((one) => !inside.has(one) && one.field.type !== 'unused').map(asItem),
  ].sort(byPlace)
}

const asItem = ({ field: _, ...item }: DataItem & { field: DataField }): DataItem => item

const holds: Readonly<Record<FieldType, DataKind>> = {
  bit: 'boolean',
  unsigned: 'unsigned',
  signed: 'signed',
  float: 'float',
  octets: 'other',
  port: 'other',
  unused: 'other',
}

function itemOf(field: DataField, parts: readonly DataField[]): DataItem {
  const named = parts.filter(({ type }) => type !== 'unused')
  return {
    name: nameOf(field),
    type: wordFieldType(field),
    holds: holds[field.type],
    offsetBits: field.offsetBits,
    bits: field.bits,
    asBits: false,
    channels: [],
    ...(field.order && { order: field.order }),
    ...(field.type === 'port' && { port: field.port ?? 0 }),
    ...(named.length > 0 && { parts: named.map((part) => itemOf(part, [])) }),
  }
}

/** What is left of octets or of a row of bits around fields. */
function around(item: DataItem, over: readonly Extent[]): DataItem[] {
  if (item.asBits || item.channels.length > 0) {
    const all: readonly BitChannel[] =
      item.channels.length > 0
        ? item.channels
        : Array.from({ length: item.bits }, (_, bit) => ({
            name: `${item.name} ${bit}`,
            offsetBits: item.offsetBits + bit,
          }))
    const channels = all.filter(
      ({ offsetBits }) => !over.some((field) => overlap(field, { offsetBits, bits: 1 })),
    )
    return channels.length > 0 ? [{ ...item, channels }] : []
  }
  const pieces: DataItem[] = []
  const add = (from: number, to: number) => {
    if (to <= from) return
    const [first, last] = [from >> 3, Math.ceil(to / 8) - 1]
    pieces.push({
      ...item,
      name: `${item.name} ${first === last ? first : `${first}…${last}`}`,
      type: wordFieldType({ type: 'octets', bits: to - from, port: undefined }),
      offsetBits: from,
      bits: to - from,
    })
  }
  let at = item.offsetBits
  for (const field of [...over].sort(byPlace)) {
    // Bits that share an octet with a named one are filler.
    add(Math.ceil(at / 8) * 8, field.offsetBits & ~7)
    at = Math.max(at, endOf(field))
  }
  add(Math.ceil(at / 8) * 8, endOf(item))
  return pieces
}

/** Data of one direction of a submodule or connection, as described and as they are laid out. */
export interface DataOfBlock {
  readonly inputBytes: number
  readonly outputBytes: number
  readonly inputs: readonly DataItem[]
  readonly outputs: readonly DataItem[]
  readonly asDescribed?: DescribedData
}

const sides = {
  in: { items: 'inputs', bytes: 'inputBytes' },
  out: { items: 'outputs', bytes: 'outputBytes' },
} as const

/** The items that a description gives one direction of a block, without any layout. */
export function describedItems(block: DataOfBlock, direction: Direction): readonly DataItem[] {
  return (block.asDescribed ?? block)[sides[direction].items]
}

export function bytesOf(block: DataOfBlock, direction: Direction): number {
  return block[sides[direction].bytes]
}

/** Whether a layout is of the size of these data and without faults on them. */
export function fitsOn(layout: DataLayout, block: DataOfBlock): boolean {
  const bytes = bytesOf(block, layout.direction)
  return (
    layout.bytes === bytes &&
    faultsOfFields(layout.fields, describedItems(block, layout.direction), bytes).length === 0
  )
}

/** A block with one direction laid out; null takes it back to what is described. A layout that does
 *  not fit changes nothing. */
export function laidOut<T extends DataOfBlock>(
  block: T,
  direction: Direction,
  layout: DataLayout | null,
): T {
  if (layout && !fitsOn(layout, block)) return block
  const described = block.asDescribed ?? { inputs: block.inputs, outputs: block.outputs }
  const { items } = sides[direction]
  return {
    ...block,
    asDescribed: described,
    [items]: layout ? withFields(described[items], layout.fields) : described[items],
  }
}

/** The data that a layout is made for, as its file describes them; null where there are none. */
export function describedBlock(
  catalog: Catalog,
  { file: hash, of, key, subslot }: Pick<DataLayout, 'file' | 'of' | 'key' | 'subslot'>,
): DataOfBlock | null {
  const file = catalog.get(hash)
  if (!file) return null
  const among = (owners: readonly { key: string; submodules: readonly Submodule[] }[]) =>
    owners
      .find((owner) => owner.key === key)
      ?.submodules.find((one) => (one.subslot ?? 1) === subslot)
  const found: Record<DataLayout['of'], () => DataOfBlock | undefined> = {
    device: () => among(file.devices),
    module: () => among(file.modules),
    submodule: () => file.submodules.find((one) => one.key === key),
    connection: () =>
      file.devices.flatMap(({ connections }) => connections).find((one) => one.key === key),
  }
  return found[of]() ?? null
}

/** A fault of a field as a clause that names the field and its place. */
export function wordFieldFault(
  { fields, bytes }: Pick<DataLayout, 'fields' | 'bytes'>,
  { field, code, other }: FieldFault,
): string {
  const { name, offsetBits, bits } = fields[field]!
  const place = `${offsetBits >> 3}.${offsetBits & 7}`
  const what = `field ${field + 1}${name ? ` "${name}"` : ''} at ${place}`
  const faults: Record<FieldFault['code'], string> = {
    outside: `${what} ends at bit ${offsetBits + bits}; there are ${bytes} octets`,
    overlap: `${what} overlaps "${other}"`,
    splits: `${what} splits "${other}", which the description names as one value`,
    width: `${what}: ${other}`,
  }
  return faults[code]
}

interface Laid {
  /** What the catalog was before layouts came over it. */
  readonly base: Catalog
  readonly layouts: DataLayouts
}
const laidCatalogs = new WeakMap<Catalog, Laid>()
const lastLaid = new WeakMap<Catalog, { layouts: DataLayouts; result: Catalog }>()
const laidFiles = new WeakMap<DeviceFile, { own: readonly DataLayout[]; result: DeviceFile }>()
const noLayouts: DataLayouts = {}

/** The layouts that a catalog was made with. */
export function layoutsIn(catalog: Catalog): DataLayouts {
  return laidCatalogs.get(catalog)?.layouts ?? noLayouts
}

/** The catalog with the layouts of a plan over what its files describe; those it had before are
 *  gone. What no layout changes is the same object as before, so that what follows from it is kept. */
export function withOwnData(catalog: Catalog, layouts: DataLayouts): Catalog {
  if (layoutsIn(catalog) === layouts) return catalog
  const base = laidCatalogs.get(catalog)?.base ?? catalog
  if (isEmpty(layouts)) return base
  const last = lastLaid.get(base)
  if (last?.layouts === layouts) return last.result
  const byFile = new Map<string, DataLayout[]>()
  for (const layout of Object.values(layouts)) {
    if (!layout.everywhere) continue
    const own = byFile.get(layout.file)
    if (own) own.push(layout)
    else byFile.set(layout.file, [layout])
  }
  const result = new Map(base)
  for (const [hash, own] of byFile) {
    const file = base.get(hash)
    if (file) result.set(hash, laidFile(file, own))
  }
  laidCatalogs.set(result, { base, layouts })
  lastLaid.set(base, { layouts, result })
  return result
}

function laidFile(file: DeviceFile, own: readonly DataLayout[]): DeviceFile {
  const known = laidFiles.get(file)
  if (known && known.own.length === own.length && known.own.every((one, i) => one === own[i]))
    return known.result
  const ownersOf = (of: DataLayout['of']) => {
    const byKey = new Map<string, DataLayout[]>()
    for (const layout of own)
      if (layout.of === of) byKey.set(layout.key, [...(byKey.get(layout.key) ?? []), layout])
    return byKey
  }
  const [devices, modules, submodules, connections] = (
    ['device', 'module', 'submodule', 'connection'] as const
  ).map(ownersOf) as unknown as [Owned, Owned, Owned, Owned]
  const withBuiltIn = <T extends { key: string; submodules: readonly Submodule[] }>(
    owner: T,
    layouts: readonly DataLayout[] | undefined,
  ): T =>
    layouts
      ? {
          ...owner,
          submodules: owner.submodules.map((one) =>
            over(
              one,
              layouts.filter(({ subslot }) => subslot === (one.subslot ?? 1)),
            ),
          ),
        }
      : owner
  const result: DeviceFile = {
    ...file,
    devices: file.devices.map((device) => {
      const made = withBuiltIn(device, devices.get(device.key))
      return device.connections.some(({ key }) => connections.has(key))
        ? {
            ...made,
            connections: made.connections.map((one): Connection =>
              over(one, connections.get(one.key) ?? []),
            ),
          }
        : made
    }),
    modules: file.modules.map((module) => withBuiltIn(module, modules.get(module.key))),
    submodules: file.submodules.map((one) => over(one, submodules.get(one.key) ?? [])),
  }
  laidFiles.set(file, { own, result })
  return result
}
type Owned = ReadonlyMap<string, readonly DataLayout[]>

function over<T extends DataOfBlock>(block: T, layouts: readonly DataLayout[]): T {
  return layouts.reduce((made, layout) => laidOut(made, layout.direction, layout), block)
}
