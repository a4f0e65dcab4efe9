export { carriedTo } from './carry'
export { encodePlaced, isSent, recordsOfPlaced, type PlacedRecord } from './placed'
export {
  decodeRecord,
  encodeRecord,
  faultOf,
  type EncodedRecord,
  type ParameterValues,
} from './record'
export { parameterGroups, type ParameterGroup, type ParameterRow } from './groups'
export { menuPath } from './menus'
export { scaledBy, shownValue, typedValue, withLinks, wordParameterValue } from './words'
export { nextPortCycle, portCycleOctet } from './port-cycle'
export { bitPlaces, decodeValue, encodeValue, rangeOf, type ValuePlace } from './value'
export {
  computedFParameters,
  isFailSafeRecord,
  parameterCrc,
  readFParameters,
  withParameterCrc,
  type FParameters,
} from './f-parameters'
