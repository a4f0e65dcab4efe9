import type { Device, DeviceFile, DeviceLimits, Module, Submodule } from './model'

/** What a description leaves out; each reader lays what it found over these. */
export const noLimits: DeviceLimits = {
  inputBytes: null,
  outputBytes: null,
  dataBytes: null,
  modules: null,
  parameterBytes: null,
}

export const blankFile = {
  formatVersion: null,
  vendor: { id: null, name: '' },
  family: { main: '', product: '' },
  languages: [],
  devices: [],
  modules: [],
  submodules: [],
  diagnoses: [],
} satisfies Partial<DeviceFile>

/** What a description leaves out of a device is filled in. Neither `{ ...blank, ...parts }` nor the
 *  like by `Object.assign`, which V8 makes many times slower where the blank says null and the part a
 *  number: each field is written once. */
export function makeDevice<P extends Partial<Device>>(parts: P): Omit<FilledDevice, keyof P> & P {
  return Object.assign(filledDevice(parts), parts)
}

const none: readonly never[] = []
const filledDevice = (given: Partial<Device>) => ({
  info: given.info ?? '',
  orderNumber: given.orderNumber ?? null,
  firmware: given.firmware ?? null,
  hardware: given.hardware ?? null,
  limits: given.limits ?? noLimits,
  slots: given.slots ?? none,
  subslots: given.subslots ?? none,
  submodules: given.submodules ?? none,
  parameters: given.parameters ?? none,
  connections: given.connections ?? none,
  currentMa: given.currentMa ?? null,
  hidden: given.hidden ?? false,
  variants: given.variants ?? none,
})
type FilledDevice = ReturnType<typeof filledDevice>

type Needed<T, K extends keyof T> = Pick<T, K> & Partial<T>
export function makeModule(parts: Needed<Module, 'key' | 'name'>): Module {
  const made = {
    key: parts.key,
    name: parts.name,
    info: parts.info ?? '',
    orderNumber: parts.orderNumber ?? null,
    category: parts.category ?? null,
    ident: parts.ident ?? null,
    inputBytes: parts.inputBytes ?? 0,
    outputBytes: parts.outputBytes ?? 0,
    configuration: parts.configuration ?? null,
    submodules: parts.submodules ?? none,
    subslots: parts.subslots ?? none,
    parameters: parts.parameters ?? none,
    currentMa: parts.currentMa ?? null,
  }
  // What only few descriptions say is there only where it is said.
  let full: Module = made
  for (const key of seldom) if (parts[key] !== undefined) full = { ...full, [key]: parts[key] }
  return full
}

const seldom = [
  'placement',
  'terminals',
  'electrical',
  'dictionary',
  'interfaces',
  'changesRunning',
  'failSafeSwitches',
] as const

export function makeSubmodule(parts: Needed<Submodule, 'key' | 'name'>): Submodule {
  const made = {
    key: parts.key,
    name: parts.name,
    subslot: parts.subslot ?? null,
    ident: parts.ident ?? null,
    inputBytes: parts.inputBytes ?? 0,
    outputBytes: parts.outputBytes ?? 0,
    inputs: parts.inputs ?? none,
    outputs: parts.outputs ?? none,
    parameters: parts.parameters ?? none,
    safety: parts.safety ?? false,
  }
  return parts.pdos ? { ...made, pdos: parts.pdos } : made
}
