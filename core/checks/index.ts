export { check, createChecker, rules, stationFindings, type Findings } from './check'
export type { Finding, FindingPlace, FindingSeverity, Fix } from './finding'
