export {
  difficulties,
  failSafeActions,
  identifiedForMs,
  rehearsalAction,
  rehearsalWish,
  type Difficulty,
  type OnSite,
  type RehearsalAction,
  type RehearsalWish,
} from './actions'
export {
  compareModules,
  differentFailSafe,
  type SlotComparison,
  type SlotState,
  type SubslotComparison,
} from './compare'
export { capturedFrames } from './capture'
export { channelsInData, readChannel, writeChannel, type ChannelInData } from './channel-places'
export {
  differenceFault,
  differenceSchema,
  differencesSchema,
  type SiteDifference,
  type DifferenceKind,
} from './differences'
export { drawDifferences } from './difficulty'
export type { Field } from './field'
export type { RehearsalFinding } from './finding'
export { FrameLog, type LoggedFrame } from './log'
export { matchNetwork, wireAddressOf, type NetworkMatch, type StationMatch } from './match'
export { writePcap, type CapturedFrame } from './pcap'
export {
  plannedNetworks,
  plannedStations,
  switchesAt,
  type PlannedNeighbour,
  type PlannedNetwork,
  type PlannedStation,
} from './planned'
export { realPlan } from './real-plan'
export * as rehearse from './run'
export {
  rehearsalSteps,
  type RehearsalStep,
  type RunState,
  type Site,
  type StationState,
} from './run'
export { rawAtShare, shareAtRaw, signalScale, type SignalScale } from './signal-scale'
export type { SignalResult } from './signal-check'
export { namedIn, scoreOf, type Scored } from './score'
export { takeOverModules } from './take-over'
