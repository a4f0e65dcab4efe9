export { check, createChecker, rules, stationFindings, wordFinding, type Findings } from './check'
export type { Finding, FindingPlace, FindingSeverity, Fix } from './finding'
