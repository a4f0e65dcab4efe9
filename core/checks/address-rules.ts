import { identityRules } from './identity-rules'
import { imageRules } from './image-rules'

export { planAddressRules } from './network-rules'

/** Rules about identities, switches and the image that need nothing but one station. */
export const stationAddressRules = [...identityRules, ...imageRules]
