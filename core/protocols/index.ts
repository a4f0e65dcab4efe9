export type { NetworkKind, NetworkProtocol, NumberRule } from './protocol'
export { lostReactions, rackDecisions, type LostReaction } from './can-rack'
export { redundancies, sharingOf, type Redundancy } from './profinet/sharing'
export { canRates } from './can-rack/times'
export {
  timeoutMultipliers,
  timesOfConnection,
  type ConnectionTimes,
  type TimeoutMultiplier,
} from './ethernet-ip/times'
export {
  freeNumber,
  hasSheetPart,
  kindNamed,
  kindOf,
  networkKindNames,
  networkKinds,
  protocolOf,
  protocolOn,
  protocolTitle,
  roundOf,
  sheetProtocols,
  stationFrame,
  standsOnNetworks,
  stationSettingsFor,
  wireOrderOf,
  wordSetBy,
  type NetworkKindName,
  type NetworkSettings,
  type NetworkSettingsEdit,
  type StationSettings,
  type StationSettingsEdit,
} from './registry'
export {
  controllerIpOf,
  hostOf,
  ipOf,
  ipOfHost,
  prefixLengthOf,
  roleNameOf,
  rolePatternOf,
  subnetOfNetwork,
} from './settings'
export type { FramePart } from './frame'
export type { BothWays } from './traffic'
export type { PortDescription } from './wiring'
export type { LogicalImage, LogicalPart, WireRecord } from './wire'
export type { DeviceNotation, PlacedChannel } from './device-notation'
export { legalStationName, nextName, stationNameFault, wireName } from './profinet/station-name'
export {
  setPrmTelegram,
  userParameters,
  usualPrmSettings,
  watchdogFactors,
  type PrmSettings,
} from './profibus/set-prm'
export { logicalImage } from './ethercat/logical-image'
export {
  sdoDownload,
  startUpList,
  startUpOf,
  type StartUpLine,
  type StartUpStep,
} from './ethercat/start-up'
export {
  safetyConfigurationOf,
  safetyNetworkNumberOf,
  type SafetyConfiguration,
} from './ethernet-ip/safety'
export {
  gatherRequests,
  modbusLimits,
  referenceOf,
  registerOfReference,
  requestPdu,
  serialTimeMs,
  type MappedValue,
  type ModbusRequest,
} from './modbus/requests'
export { requestRoundMs, requestsOf } from './modbus/round'
export { moduleList } from './module-list'
export { connectionPoints } from './ethernet-ip/paths'
export type { SocketAddress } from './ip/packets'
export type {
  FoundDevice,
  FoundNeighbour,
  IdentifiedBy,
  Line,
  Master,
  StartFault,
  Started,
  WireIdentity,
} from './master'
export type { RealModule, RealSubmodule } from './wire'
