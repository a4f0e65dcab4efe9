export {
  blockCode,
  blockOf,
  dcpErrors,
  decodeDcp,
  encodeDcp,
  identifyMulticast,
  type DcpBlock,
  type DcpFrame,
  type DcpService,
  type IpSuite,
  type Mac,
} from '../protocols/profinet/dcp'
export { foundDevice } from './found'
export {
  compareModules,
  matchDevices,
  type FoundDevice,
  type MatchFinding,
  type MatchResult,
  type SlotComparison,
  type SlotState,
  type StationMatch,
} from './match'
export { writePcap, type CapturedFrame } from './pcap'
export { plannedStations, type PlannedStation } from './planned'
export {
  decodeRealIdentification,
  encodeRealIdentification,
  type RealModule,
} from '../protocols/profinet/real-identification'
