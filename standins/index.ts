export { buildWire, type Difference } from './build'
export { readRealIdentification, transmit, type StandIn, type Wire } from './wire'
