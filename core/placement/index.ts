export { allowedSlots, moduleInSlot, slotOf, whyNotInSlot } from './slots'
export { supplySteps, type SupplyStep } from './supply'
export { candidatesFor, laneSlots, type Candidate, type LaneSlot } from './candidates'
