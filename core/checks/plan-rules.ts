import { planIdentityRules } from './plan-identity-rules'
import { planRoomRules } from './plan-room-rules'
import { planTagRules } from './plan-tag-rules'

/** Rules that look at the whole plan. */
export const planRules = [...planIdentityRules, ...planRoomRules, ...planTagRules]
