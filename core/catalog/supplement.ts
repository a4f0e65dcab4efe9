import type { Catalog } from './catalog'
import type { Device, DeviceFile, Module, Supplement } from './model'

const merged = new WeakMap<DeviceFile, Map<string, DeviceFile>>()
let last: { catalog: Catalog; hashes: readonly string[]; result: Catalog } | null = null

/** The catalog with what device sheets add to the heads and modules of other files: matched by
 *  maker and order number, without regard to case. A later sheet lies over an earlier one. The same
 *  file with the same additions is the same object, so that what follows from it is kept. */
export function supplemented(catalog: Catalog, hashes: readonly string[]): Catalog {
  const known = hashes.filter((hash) => (catalog.get(hash)?.supplements?.length ?? 0) > 0)
  if (known.length === 0) return catalog
  if (last?.catalog === catalog && last.hashes === hashes) return last.result
  const key = known.join(' ')
  const additions = known.flatMap((hash) => {
    const file = catalog.get(hash)!
    return file.supplements!.map((supplement) => ({
      maker: file.vendor.name.toLowerCase(),
      supplement,
    }))
  })
  const result = new Map(
    [...catalog].map(([hash, file]) => [hash, withAdditions(file, key, additions)]),
  )
  last = { catalog, hashes, result }
  return result
}

/** By order number; by name where there is none. */
const keyOfSupplement = ({
  orderNumber,
  module = '',
}: Pick<Supplement, 'orderNumber' | 'module'>) =>
  orderNumber !== '' ? orderNumber.toLowerCase() : `name ${module.toLowerCase()}`

function withAdditions(
  file: DeviceFile,
  key: string,
  additions: readonly { maker: string; supplement: Supplement }[],
): DeviceFile {
  const maker = file.vendor.name.toLowerCase()
  const own = new Map(
    additions
      .filter((one) => one.maker === maker)
      .map(({ supplement }) => [keyOfSupplement(supplement), supplement]),
  )
  if (own.size === 0) return file
  let known = merged.get(file)
  if (!known) merged.set(file, (known = new Map()))
  let made = known.get(key)
  if (!made) {
    const addedTo = ({ orderNumber, name }: { orderNumber: string | null; name: string }) =>
      own.get(keyOfSupplement({ orderNumber: orderNumber ?? '', module: name }))
    known.set(
      key,
      (made = {
        ...file,
        devices: file.devices.map((device) => withHead(device, addedTo(device))),
        modules: file.modules.map((module) => withModule(module, addedTo(module))),
      }),
    )
  }
  return made
}

function withHead(device: Device, added: Supplement | undefined): Device {
  if (!added) return device
  const {
    currentMa = device.currentMa,
    switches = device.switches,
    headPlacement = device.placement,
    power = device.power,
  } = added
  return {
    ...device,
    currentMa,
    ...(switches && { switches }),
    ...(headPlacement && { placement: headPlacement }),
    ...(power && { power }),
  }
}

function withModule(module: Module, added: Supplement | undefined): Module {
  if (!added) return module
  const {
    currentMa = module.currentMa,
    placement = module.placement,
    terminals = module.terminals,
    electrical = module.electrical,
  } = added
  return {
    ...module,
    currentMa,
    ...(placement && { placement }),
    ...(terminals && { terminals }),
    ...(electrical && { electrical }),
  }
}
