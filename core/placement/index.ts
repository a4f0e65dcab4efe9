export { allowedSlots, moduleInSlot, slotOf, whyNotInSlot } from './slots'
