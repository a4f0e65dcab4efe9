export { legalTag, tagFault, tagIdentity, type TagRules } from './identifier'
export { fillPattern, nextInSeries, patternFields, type PatternFields, type PatternResult } from './pattern'
export { replacer, type Replacement } from './replace'
