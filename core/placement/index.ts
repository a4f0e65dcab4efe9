export { allowedSlots, moduleInSlot, slotOf, whyNotInSlot } from './slots'
export { candidatesFor, laneSlots, type Candidate, type LaneSlot } from './candidates'
