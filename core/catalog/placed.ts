import { findDevice, findSubmodule, type Catalog } from './catalog'
import { layoutOf, layoutOfConnection, layoutOfSubmodules, type Layout } from './layout'
import type { DataItem, Device, Module, Submodule } from './model'

/** What is plugged into subslots, by subslot: a submodule (empty: the built-in one), and the device below a port with its file. */
export type PluggedParts = Readonly<Record<string, { readonly submodule: string; readonly file: string; readonly device: string }>>

/** Computes what follows from a module or head and what is plugged into it, once for each combination. */
export function oncePlaced<T>(compute: (catalog: Catalog, file: string, owner: Module | Device, plugged: PluggedParts) => T) {
  const made = new WeakMap<Module | Device, Map<string, T>>()
  return (catalog: Catalog, file: string, owner: Module | Device, plugged: PluggedParts): T => {
    let key = ''
    for (const subslot in plugged) {
      const { submodule, file: below, device } = plugged[subslot]!
      key += `${subslot} ${submodule} ${catalog.has(below) ? below : ''} ${device};`
    }
    let known = made.get(owner)
    if (!known) made.set(owner, (known = new Map()))
    let value = known.get(key)
    if (value === undefined) known.set(key, (value = compute(catalog, file, owner, plugged)))
    return value
  }
}

const layoutWithPlugged = oncePlaced((catalog, file, owner, plugged) => layoutOfSubmodules(submodulesOf(catalog, file, owner, plugged)))

/** Layout of a module or head with what is plugged into its subslots. */
export function layoutOfPlaced(catalog: Catalog, file: string, owner: Module | Device, plugged: PluggedParts): Layout {
  for (const _ in plugged) return layoutWithPlugged(catalog, file, owner, plugged)
  return layoutOf(owner)
}

/** What a head brings: the data of the chosen connection, or its own with what is plugged into it. */
export function layoutOfHead(catalog: Catalog, device: Device, { file, connection, plugged }: { file: string; connection: string; plugged: PluggedParts }): Layout {
  const chosen = device.connections.find(({ key }) => key === connection)
  return chosen ? layoutOfConnection(chosen) : layoutOfPlaced(catalog, file, device, plugged)
}

/** Built-in and plugged submodules in subslot order; a port carries the data of the device below it. */
export function submodulesOf(catalog: Catalog, file: string, owner: Module | Device, plugged: PluggedParts): Submodule[] {
  const standing = owner.submodules.map((submodule) => withDevice(catalog, submodule, plugged[submodule.subslot ?? 1]))
  for (const subslot in plugged) {
    const part = plugged[subslot]!
    const submodule = part.submodule === '' ? null : findSubmodule(catalog, file, part.submodule)
    if (submodule) standing.push(withDevice(catalog, { ...submodule, subslot: Number(subslot) }, part))
  }
  return standing.sort((a, b) => (a.subslot ?? 1) - (b.subslot ?? 1))
}

function withDevice(catalog: Catalog, port: Submodule, part: PluggedParts[string] | undefined): Submodule {
  const device = part && part.file !== '' ? findDevice(catalog, part.file, part.device) : null
  if (!device) return port
  const [data] = device.submodules
  const inputs = (data?.inputs ?? []).map((item) => onPort(item, data!.inputBytes))
  const outputs = (data?.outputs ?? []).map((item) => onPort(item, data!.outputBytes))
  return { ...port, inputs: inputs.filter(within(port.inputBytes)), outputs: outputs.filter(within(port.outputBytes)) }
}

/** An IODD counts bits from the last octet's bit 0, and the port's data begin with the first octet (IO-Link interface
 *  specification 1.1): a value begins at the octet its highest bit stands in. */
function onPort(item: DataItem, bytes: number): DataItem {
  const bit = item.offsetBits & 7
  const firstOctet = bytes - (item.offsetBits >> 3) - Math.ceil((bit + item.bits) / 8)
  return { ...item, offsetBits: firstOctet * 8 + bit }
}

function within(bytes: number): (item: DataItem) => boolean {
  return ({ offsetBits, bits }) => offsetBits >= 0 && (offsetBits >> 3) + Math.ceil(((offsetBits & 7) + bits) / 8) <= bytes
}
