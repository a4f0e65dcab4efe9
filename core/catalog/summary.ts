import type { DeviceFile } from './model'

/** What the Shelf shows of a file without loading its catalog. */
export interface FileSummary {
  readonly format: string
  readonly formatVersion: string | null
  readonly vendor: string
  readonly family: string
  readonly devices: readonly { readonly key: string; readonly name: string; readonly orderNumber: string | null; readonly firmware: string | null; readonly slots: number }[]
  readonly modules: number
  readonly errors: number
  readonly warnings: number
}

/** The summary of a file that was read. */
export function summarise(file: DeviceFile): FileSummary {
  return {
    format: file.format,
    formatVersion: file.formatVersion,
    vendor: file.vendor.name,
    family: file.family.product,
    devices: file.devices.map(({ key, name, orderNumber, firmware, slots }) => ({ key, name, orderNumber, firmware, slots: slots.length })),
    modules: file.modules.length,
    errors: file.problems.filter(({ severity }) => severity === 'error').length,
    warnings: file.problems.filter(({ severity }) => severity === 'warning').length,
  }
}
