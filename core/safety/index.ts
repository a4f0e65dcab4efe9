export { computedFParameters, isFailSafeRecord, parameterCrc, readFParameters, withParameterCrc, type FParameters } from './f-parameters'
export { bearsOnSafety } from './bears'
export { choicesOf, failSafeParts, safetyLines, safetySignature, type FailSafePart } from './modules'
export { monitoringTime, reactionTime, type ChainLink, type MonitoredTimes } from './monitoring'
