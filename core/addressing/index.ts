export {
  fromOctets,
  hasByteOrder,
  numberKindOf,
  passage,
  sameTurn,
  toOctets,
  turnNeeded,
  turnOctets,
  turnOf,
  turnWords,
  wireOrderOf,
  type NumberKind,
  type Passage,
} from './byte-order'
export {
  gatherRequests,
  modbusLimits,
  referenceOf,
  registerOfReference,
  requestPdu,
  serialTimeMs,
  type MappedValue,
  type ModbusRequest,
} from './modbus'
export {
  nibbleOffset,
  nibbleOrders,
  nibbleTableBytes,
  rackOffset,
  type NibbleOrder,
} from './slot-tables'
export {
  addressAt,
  canMake,
  isDip,
  isRotary,
  positionsFor,
  radixOf,
  readPositions,
  switchCount,
  weightsOf,
  wordPositions,
  type Positions,
} from './switches'
export {
  formatIp,
  formatSubnet,
  ipFault,
  maskOf,
  nextFreeIp,
  parseIp,
  subnetOf,
  type IpFault,
  type Subnet,
} from './ip'
export {
  formatAddress,
  notationNames,
  notations,
  readAddress,
  readTyped,
  wordExtent,
  wordStart,
  type ImageAddress,
  type NotationName,
  type Reading,
} from './notations'
export { legalStationName, nextName, stationNameFault, wireName } from './station-name'
