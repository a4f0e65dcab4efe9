import type { Device, DeviceFile, Module, ParameterRecord, Submodule } from './model'

/** Description files by the SHA-256 of their bytes: what a plan's references point into. */
export type Catalog = ReadonlyMap<string, DeviceFile>

interface FileIndex {
  readonly devices: ReadonlyMap<string, Device>
  readonly modules: ReadonlyMap<string, Module>
  readonly submodules: ReadonlyMap<string, Submodule>
}

const indexes = new WeakMap<DeviceFile, FileIndex>()

function indexOf(file: DeviceFile): FileIndex {
  let index = indexes.get(file)
  if (!index) {
    index = {
      devices: byKey(file.devices),
      modules: byKey(file.modules),
      submodules: byKey(file.submodules),
    }
    indexes.set(file, index)
  }
  return index
}

function byKey<T extends { key: string }>(entries: readonly T[]): ReadonlyMap<string, T> {
  return new Map(entries.map((entry) => [entry.key, entry]))
}

export function findDevice(catalog: Catalog, file: string, key: string): Device | null {
  const found = catalog.get(file)
  return (found && indexOf(found).devices.get(key)) ?? null
}

export function findModule(catalog: Catalog, file: string, key: string): Module | null {
  const found = catalog.get(file)
  return (found && indexOf(found).modules.get(key)) ?? null
}

export function findSubmodule(catalog: Catalog, file: string, key: string): Submodule | null {
  const found = catalog.get(file)
  return (found && indexOf(found).submodules.get(key)) ?? null
}

/** Every parameter record of what a key names, those of its built-in submodules too; null where the
 *  file has no such key. */
export function recordsOf(file: DeviceFile, key: string): readonly ParameterRecord[] | null {
  const { devices, modules, submodules } = indexOf(file)
  const owner = devices.get(key) ?? modules.get(key)
  if (owner)
    return [...owner.parameters, ...owner.submodules.flatMap(({ parameters }) => parameters)]
  const builtIn = [...file.devices, ...file.modules].flatMap((candidate) => candidate.submodules)
  return (
    (submodules.get(key) ?? builtIn.find((candidate) => candidate.key === key))?.parameters ?? null
  )
}
