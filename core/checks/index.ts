export { check, createChecker, rules, type Findings } from './check'
export type { Finding, FindingPlace, FindingSeverity, Fix } from './finding'
