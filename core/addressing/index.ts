export { addressOf, allocate, blocksOf, findFreeByte, occupancyOf, type Occupancy } from './image'
export { formatIp, formatSubnet, ipFault, maskOf, nextFreeIp, parseIp, subnetOf, type IpFault, type Subnet } from './ip'
export { formatAddress, notationNames, notations, readAddress, type ImageAddress, type NotationName, type Reading } from './notations'
export { legalStationName, nextName, stationNameFault, wireName } from './station-name'
