export {
  editFor,
  isSwitchedOff,
  rangeOfChannel,
  rangeSources,
  rangesOf,
  settingsOf,
  unusedOff,
  type ChannelRange,
  type ChannelSetting,
  type ParameterEdit,
} from './channel-settings'
export {
  factColumns,
  factNames,
  tooLong,
  type FactColumn,
  type FactName,
  type FactsEdit,
} from './facts'
export { wordOnLoss } from './on-loss'
export { chainOf, formatKeyOf, formatOfSheet, rawFormatsOf, type SignalChain } from './signal-chain'
export { assignSignals, type Assigned, type Assignment } from './assign'
export { entityCheck, entityParameters, type EntityCheck, type EntityParameters } from './entity'
export { pinTerminals, wiringOf, type Wiring, type WiringBox } from './wiring'
export {
  electricalOf,
  electricalOfChannel,
  entityOf,
  inputDelay,
  wordElectrical,
} from './electrical'
export { hartItems, hartVariables, type HartVariable } from './hart'
