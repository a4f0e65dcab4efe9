import type { Device, DeviceFile, Module, Submodule } from './model'

/** A catalog as it is stored and sent: lists that files repeat in thousands of modules stand once,
 *  and `{ "$list": 3 }` stands where the fourth of them belongs. */
export interface PackedFile {
  readonly packed: 2
  readonly shared: readonly unknown[]
  readonly file: unknown
}

/** Fields that hold a list which other owners may share. */
const sharedFields: ReadonlySet<string> = new Set([
  'inputs',
  'outputs',
  'parameters',
  'allowed',
  'slots',
  'pdos',
  'objects',
  'dictionary',
  'layouts',
])

/** Fields whose entries count slots; alike ones behind each other are one entry that says where the
 *  run ends. */
const countedBy: Readonly<Record<string, 'slot' | 'subslot'>> = {
  slots: 'slot',
  subslots: 'subslot',
}

type Owner = Device | Module | Submodule

/** Packs a file that a reader made; nothing is lost (`unpackFile` gives it back, lists shared as
 *  before). */
export function packFile(file: DeviceFile): PackedFile {
  const numbers = new Map<object, number>()
  const shared: unknown[] = []
  const byContent = new Map<string, number>()

  const runs = new Map<unknown[], unknown[]>()
  /** One list of runs for each list, so that owners who shared it still do. */
  const inRuns = (key: string, field: unknown): unknown => {
    const counter = Array.isArray(field) && Object.hasOwn(countedBy, key) ? countedBy[key]! : null
    if (counter === null) return field
    let list = runs.get(field as unknown[])
    if (!list) runs.set(field as unknown[], (list = runsOf(field as Counted[], counter)))
    return list
  }
  const pack = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(pack)
    if (value === null || typeof value !== 'object') return value
    return Object.fromEntries(
      Object.entries(value)
        .map(([key, whole]) => [key, inRuns(key, whole)] as const)
        .map(([key, field]) => [
          key,
          sharedFields.has(key) && Array.isArray(field) && field.length > 0
            ? { $list: numberOf(field) }
            : pack(field),
        ]),
    )
  }
  const numberOf = (list: unknown[]): number => {
    const known = numbers.get(list)
    if (known !== undefined) return known
    const packed = list.map(pack)
    const written = JSON.stringify(packed)
    let number = byContent.get(written)
    if (number === undefined) {
      number = shared.push(packed) - 1
      byContent.set(written, number)
    }
    numbers.set(list, number)
    return number
  }
  return { packed: 2, file: pack(file), shared }
}

export function unpackFile({ file, shared }: PackedFile): DeviceFile {
  // Lists name only lists that were packed before them.
  const lists: unknown[] = []
  const unpack = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.flatMap((entry) => wholeRun(unpack(entry)))
    if (value === null || typeof value !== 'object') return value
    const entries = value as Record<string, unknown>
    if (typeof entries['$list'] === 'number') return lists[entries['$list']]
    for (const key in entries) entries[key] = unpack(entries[key])
    return entries
  }
  for (const list of shared) lists.push(unpack(list))
  return unpack(file) as DeviceFile
}

type Counted = Readonly<Record<string, unknown>>

function runsOf(list: readonly Counted[], counter: 'slot' | 'subslot'): Counted[] {
  const runs: Counted[] = []
  let end = NaN
  for (const entry of list) {
    const last = runs.at(-1)
    const follows =
      last &&
      entry[counter] === end + 1 &&
      !('at' in entry) &&
      ['fixed', 'default', 'allowed'].every((key) => last[key] === entry[key])
    end = entry[counter] as number
    if (follows) runs[runs.length - 1] = { ...last, runTo: end }
    else runs.push(entry)
  }
  return runs
}

function wholeRun(entry: unknown): unknown {
  if (typeof entry !== 'object' || entry === null || Array.isArray(entry) || !('runTo' in entry))
    return [entry]
  const { runTo, ...first } = entry as { runTo: number; slot?: number; subslot?: number }
  const counter = 'slot' in first ? 'slot' : 'subslot'
  const from = first[counter]!
  return Array.from({ length: runTo - from + 1 }, (_, i) => ({ ...first, [counter]: from + i }))
}

/** What of a file can be found by name: heads that new plans should choose, modules, submodules. */
export interface ShelfItem {
  readonly kind: 'head' | 'module' | 'submodule'
  readonly key: string
  readonly name: string
  readonly orderNumber: string | null
  readonly info: string
}

export function itemsOf(file: DeviceFile): ShelfItem[] {
  const item = (kind: ShelfItem['kind'], owner: Owner): ShelfItem => ({
    kind,
    key: owner.key,
    name: owner.name,
    orderNumber: 'orderNumber' in owner ? owner.orderNumber : null,
    info: 'info' in owner ? owner.info : '',
  })
  const heads = file.devices.filter(({ hidden }) => !hidden)
  const variants = heads.flatMap((device) =>
    device.variants
      .filter(({ productId }) => productId !== device.orderNumber)
      .map(({ productId, name }): ShelfItem => ({
        kind: 'head',
        key: device.key,
        name,
        orderNumber: productId,
        info: '',
      })),
  )
  return [
    ...heads.map((device) => item('head', device)),
    ...variants,
    ...file.modules.map((module) => item('module', module)),
    ...file.submodules.map((submodule) => item('submodule', submodule)),
  ]
}
