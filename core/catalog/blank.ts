import type { Device, DeviceFile, DeviceLimits, Module, Submodule } from './model'

/** What a description leaves out; each reader lays what it found over these. */
export const noLimits: DeviceLimits = { inputBytes: null, outputBytes: null, dataBytes: null, modules: null, parameterBytes: null }

export const blankDevice = {
  info: '',
  orderNumber: null,
  firmware: null,
  hardware: null,
  limits: noLimits,
  slots: [],
  subslots: [],
  submodules: [],
  parameters: [],
  connections: [],
  currentMa: null,
  hidden: false,
  variants: [],
} satisfies Partial<Device>

export const blankModule = {
  info: '',
  orderNumber: null,
  category: null,
  ident: null,
  inputBytes: 0,
  outputBytes: 0,
  configuration: null,
  submodules: [],
  subslots: [],
  parameters: [],
  currentMa: null,
} satisfies Partial<Module>

export const blankSubmodule = {
  subslot: null,
  ident: null,
  inputBytes: 0,
  outputBytes: 0,
  inputs: [],
  outputs: [],
  parameters: [],
  safety: false,
} satisfies Partial<Submodule>

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
