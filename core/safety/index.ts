export { bearsOnSafety } from './bears'
export { destinationsIn } from './destinations'
export {
  choicesOf,
  failSafeParts,
  safetyLines,
  safetySignature,
  isConfigurationStale,
  type FailSafePart,
} from './modules'
export { nodeReference, timeBasedNetworkNumber } from './cip'
export { channelPairs, pairableChannels, usedOfPair, type ChannelPair } from './pairs'
export { safetyChain, monitoringTime, reactionTime, usualTimes, type ChainLink } from './monitoring'
export { unsignedPlan, withoutSafety } from './imported'
