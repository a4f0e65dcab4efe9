export { legalTag, tagFault, tagIdentity, type TagRules } from './identifier'
export {
  fillPattern,
  nextInSeries,
  patternFields,
  seriesAt,
  type PatternFields,
  type PatternResult,
} from './pattern'
export { replacer, type Replacement } from './replace'
export { judgeOfTags } from './judge'
