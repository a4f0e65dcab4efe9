import type { Device, DeviceFile, Module, Submodule } from '../catalog/model'
import { dataBelow, submodulesOf, type DeviceData } from '../catalog/placed'
import type { Catalog } from '../catalog/catalog'
import { layoutOfSubmodules } from '../catalog/layout'
import type { DerivedModule, DerivedStation } from '../derive/derive'

/** A subslot that something can be plugged into, or a port that a device can stand below. */
export interface SubslotView {
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
}

/** The subslots of a head or module that leave a choice. */
export function subslotsOf(
  catalog: Catalog,
  view: DerivedStation,
  { described, plugged, row }: DerivedModule,
): SubslotView[] {
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
  return [...open, ...builtIn].flatMap(({ port, ...own }) => {
    const part = plugged[own.subslot]
    const below = part && part.file !== '' ? { file: part.file, device: part.device } : null
    const isPort = port !== null && carriesOctets(port)
    if (!isOpen.has(own.subslot) && !isPort && !below) return []
    return [
      {
        ...own,
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
  const { channels } = layoutOfSubmodules([port])
  // One item a direction: an octet string that only a device gives a meaning, and not status octets
  // with names of their own.
  return (
    channels.length > 0 &&
    channels.every(({ kind }) => kind === 'port') &&
    new Set(channels.map(({ direction }) => direction)).size === channels.length
  )
}
