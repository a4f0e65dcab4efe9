export { allowedSlots, moduleInSlot, slotOf, whyNotInSlot } from './slots'
export { dataBlocksOf, type DataBlockView } from './data-blocks'
export {
  isOfPort,
  isUnused,
  portMode,
  switchOffUnused,
  type PortModeView,
  type PortUse,
} from './port-modes'
export { setPortCommand, sizeOfDevice, submoduleFor, subslotsOf, type SubslotView } from './ports'
export { radioLoad, type RadioLoad } from './radio'
export { fieldSupplySteps, overdrawn, supplySteps, widthOf, type SupplyStep } from './supply'
export {
  missingKinds,
  orderFaults,
  whyOutOfOrder,
  wordOrderFault,
  type OrderFault,
  type Standing,
} from './order'
export {
  candidatesFor,
  firstFreeSlot,
  laneSlots,
  proposedModules,
  standingRow,
  type Candidate,
  type LaneSlot,
} from './candidates'
export { carriedBy, fallsAway, namedOn, suggestConnection } from './connections'
export {
  bindCommand,
  nodeRows,
  reconcile,
  swapCommand,
  unbindCommand,
  type DeviceState,
  type NodeRow,
  type ReconcileRow,
} from './reconcile'
