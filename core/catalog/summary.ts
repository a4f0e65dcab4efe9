import { layoutOf, layoutOfConnection } from './layout'
import type { DeviceFile, FormatName, Protocol } from './model'
import { kindOfChannel } from './words'

/** What the Shelf shows of a file without loading its catalog. */
export interface FileSummary {
  readonly format: FormatName
  readonly formatVersion: string | null
  readonly vendor: string
  readonly family: string
  readonly protocol: Protocol | null
  readonly languages: readonly string[]
  /** The heads that new plans should choose, the first hundred of them. */
  readonly devices: readonly SummarisedDevice[]
  readonly heads: number
  readonly modules: number
  /** Heads and modules of other files that it adds to. */
  readonly adds: number
  readonly parameters: number
  /** Kinds of channels and what else it offers: `DI`, `AO`, `fail-safe`, `ports`. */
  readonly offers: readonly string[]
  readonly errors: number
  readonly warnings: number
}

export interface SummarisedDevice {
  readonly key: string
  readonly name: string
  readonly orderNumber: string | null
  readonly firmware: string | null
  readonly protocol: Protocol
  readonly slots: number
}

const mostDevices = 100

/** The summary of a file that was read. */
export function summarise(file: DeviceFile): FileSummary {
  const owners = [...file.devices, ...file.modules]
  const submodules = [...owners.flatMap((owner) => owner.submodules), ...file.submodules]
  const records = new Set([...owners, ...submodules].map(({ parameters }) => parameters))
  const layouts = [
    ...owners.map(layoutOf),
    ...file.devices.flatMap(({ connections }) => connections.map(layoutOfConnection)),
  ]
  const kinds = new Set(layouts.flatMap(({ channels }) => channels.map(kindOfChannel)))
  const offers = ['DI', 'DO', 'AI', 'AO', 'PI', 'PO'].filter((kind) => kinds.has(kind))
  if (submodules.some(({ safety }) => safety)) offers.push('fail-safe')
  const current = file.devices.filter(({ hidden }) => !hidden)
  return {
    format: file.format,
    formatVersion: file.formatVersion,
    vendor: file.vendor.name,
    family: file.family.product || file.devices[0]?.name || '',
    protocol: file.devices[0]?.protocol ?? null,
    languages: file.languages,
    devices: current
      .slice(0, mostDevices)
      .map(({ key, name, orderNumber, firmware, protocol, slots }) => ({
        key,
        name,
        orderNumber,
        firmware,
        protocol,
        slots: slots.length,
      })),
    heads: file.devices.length,
    modules: file.modules.length,
    adds: file.supplements?.length ?? 0,
    parameters: [...records].reduce(
      (sum, list) => sum + list.reduce((inner, { parameters }) => inner + parameters.length, 0),
      0,
    ),
    offers,
    errors: file.problems.filter(({ severity }) => severity === 'error').length,
    warnings: file.problems.filter(({ severity }) => severity === 'warning').length,
  }
}
