import { dataRules } from './data-rules'
import { limitRules } from './limit-rules'
import { slotRules } from './slot-rules'

/** Rules that need nothing but one station, its network and its controller. */
export const stationRules = [...slotRules, ...limitRules, ...dataRules]
