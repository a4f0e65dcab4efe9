import type { DataItem, Device, DeviceFile, Module, Submodule } from '../catalog/model'
import { blocksOfHead, dataBelow, portKey, submodulesOf, type DeviceData } from '../catalog/placed'
import { findDevice, type Catalog } from '../catalog/catalog'
import { layoutOfSubmodules } from '../catalog/layout'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { SingleCommand } from '../plan/commands'

/** A subslot that something can be plugged into, or a port that a device can stand below. */
export interface SubslotView {
  /** As what is plugged is called: its number, after a `p` where the port's octets stand among other
   *  data. */
  readonly key: string
  /** Of the subslot, or of the port among other data. */
  readonly subslot: number
  /** Empty where nothing is plugged, or where the port is built in. */
  readonly submodule: string
  readonly name: string
  readonly isFixed: boolean
  /** What the description allows there; empty for a built-in port. */
  readonly allowed: readonly Submodule[]
  readonly size: { readonly inputBytes: number; readonly outputBytes: number }
  /** Whether its data are plain octets that a device below it can give a meaning. */
  readonly isPort: boolean
  readonly device: Device | null
  readonly below: { readonly file: string; readonly device: string } | null
  /** The cycle time it is planned with, in µs; 0: as fast as the device can. */
  readonly cycleUs: number
  /** What the device below sends and takes with its values as they are. */
  readonly data: DeviceData | null
  /** Where its octets begin in the data of its head or module; null where it has a subslot of its
   *  own. */
  readonly within: { readonly in: number | null; readonly out: number | null } | null
}

/** The subslots of a head or module that leave a choice. */
export function subslotsOf(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
): SubslotView[] {
  const { described, plugged, row } = module
  if (!described) return []
  const standing = submodulesOf(catalog, view.station.file, described, { plugged: {}, values: {} })
  const isOpen = new Set(described.subslots.map(({ subslot }) => subslot))
  const open = described.subslots.map(({ subslot, allowed, fixed }) => {
    const submodule = plugged[subslot]?.submodule ?? ''
    const all = (view.file?.submodules ?? []).filter(({ key }) => allowed.includes(key))
    return {
      subslot,
      submodule,
      isFixed: fixed !== null,
      allowed: all,
      port: all.find(({ key }) => key === submodule) ?? null,
    }
  })
  const builtIn = standing
    .filter(({ subslot }) => !isOpen.has(subslot ?? 1))
    .map((port) => ({
      subslot: port.subslot ?? 1,
      submodule: '',
      isFixed: true,
      allowed: [],
      port,
    }))
  const ports = [...open, ...builtIn].flatMap(({ port, ...own }) => {
    const part = plugged[own.subslot]
    const below = part && part.file !== '' ? { file: part.file, device: part.device } : null
    const isPort = port !== null && carriesOctets(port)
    if (!isOpen.has(own.subslot) && !isPort && !below) return []
    return [
      {
        ...own,
        key: String(own.subslot),
        within: null,
        name: port?.name ?? '',
        size: { inputBytes: port?.inputBytes ?? 0, outputBytes: port?.outputBytes ?? 0 },
        isPort,
        below,
        cycleUs: part?.cycleUs ?? 0,
        data: dataBelow(catalog, { plugged, values: (row ?? view.station).values }, own.subslot),
        device:
          below &&
          (catalog.get(below.file)?.devices.find(({ key }) => key === below.device) ?? null),
      },
    ]
  })
  return [...ports, ...portsWithin(catalog, view, module)]
}

/** Ports whose octets stand among other data: as a description, a device sheet or a data layout
 *  says. */
function portsWithin(
  catalog: Catalog,
  view: DerivedStation,
  { described, plugged, row }: DerivedModule,
): SubslotView[] {
  const head = view.station
  const { layouts, values } = row ?? head
  const bare = { plugged: withoutDevices(plugged), layouts, values }
  const blocks = row
    ? submodulesOf(catalog, view.station.file, described!, bare)
    : blocksOfHead(catalog, described as Device, { ...head, ...bare })
  const places = new Map<number, { name: string; in: DataItem | null; out: DataItem | null }>()
  for (const { inputs, outputs } of blocks) {
    const enter = (items: readonly DataItem[], direction: 'in' | 'out') => {
      for (const item of items) {
        if (item.port === undefined) continue
        const known = places.get(item.port) ?? { name: item.name, in: null, out: null }
        places.set(item.port, { ...known, [direction]: item })
      }
    }
    enter(inputs, 'in')
    enter(outputs, 'out')
  }
  return [...places]
    .sort(([a], [b]) => a - b)
    .map(([port, place]) => {
      const key = portKey(port)
      const part = plugged[key]
      const below = part && part.file !== '' ? { file: part.file, device: part.device } : null
      return {
        key,
        subslot: port,
        submodule: '',
        name: place.name,
        isFixed: true,
        allowed: [],
        size: { inputBytes: octets(place.in), outputBytes: octets(place.out) },
        isPort: true,
        device: below && findDevice(catalog, below.file, below.device),
        below,
        cycleUs: part?.cycleUs ?? 0,
        data: dataBelow(catalog, { plugged, values }, key),
        within: { in: place.in?.offsetBits ?? null, out: place.out?.offsetBits ?? null },
      }
    })
}

const octets = (item: DataItem | null) => (item?.bits ?? 0) / 8

/** Plugged submodules alone: ports keep their octets. */
function withoutDevices(plugged: DerivedModule['plugged']): DerivedModule['plugged'] {
  return Object.fromEntries(Object.entries(plugged).filter(([key]) => !key.startsWith('p')))
}

/** The change that gives a port or subslot another use: what is plugged there, and the device below;
 *  the cycle time of the port in µs is kept where it is left out. */
export function setPortCommand(
  moduleId: string,
  { key, subslot }: Pick<SubslotView, 'key' | 'subslot'>,
  use: {
    readonly submodule: string
    readonly below: SubslotView['below']
    readonly cycleUs?: number
  },
): SingleCommand {
  const { file, device } = use.below ?? { file: '', device: '' }
  const cycle = use.cycleUs === undefined ? {} : { cycleUs: use.cycleUs }
  return key === portKey(subslot)
    ? { type: 'setPort', moduleId, port: subslot, file, device, ...cycle }
    : { type: 'setSubslot', moduleId, subslot, submodule: use.submodule, file, device, ...cycle }
}

/** The smallest submodule the subslot takes that has room for so many octets. */
export function submoduleFor(
  file: DeviceFile | null,
  owner: Module | Device,
  subslot: number,
  { inputBytes, outputBytes }: { inputBytes: number; outputBytes: number },
): Submodule | null {
  const allowed = owner.subslots.find((one) => one.subslot === subslot)?.allowed ?? []
  const [smallest] = (file?.submodules ?? [])
    .filter(
      (one) =>
        allowed.includes(one.key) && one.inputBytes >= inputBytes && one.outputBytes >= outputBytes,
    )
    .sort((a, b) => a.inputBytes + a.outputBytes - b.inputBytes - b.outputBytes)
  return smallest ?? null
}

/** Octets that a device sends and takes below a port. */
export function sizeOfDevice({ limits }: Device): { inputBytes: number; outputBytes: number } {
  return { inputBytes: limits.inputBytes ?? 0, outputBytes: limits.outputBytes ?? 0 }
}

/** Whether a device can stand below a submodule: what it carries are plain octets. */
export function carriesOctets(port: Submodule): boolean {
  if ([...port.inputs, ...port.outputs].some((item) => item.port !== undefined)) return false
  const { channels } = layoutOfSubmodules([port])
  // One item a direction: an octet string that only a device gives a meaning, and not status octets
  // with names of their own.
  return (
    channels.length > 0 &&
    channels.every(({ kind }) => kind === 'port') &&
    new Set(channels.map(({ direction }) => direction)).size === channels.length
  )
}
