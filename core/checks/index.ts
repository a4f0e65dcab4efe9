export {
  check,
  createChecker,
  powerCodes,
  rules,
  stationFindings,
  wireCodes,
  wordFinding,
  type Findings,
} from './check'
export {
  identityEdit,
  identityOf,
  proposeIdentities,
  type Identity,
  type IdentityChange,
  type IdentityWish,
} from './identity-proposals'
export type { Finding, FindingPlace, FindingSeverity, Fix } from './finding'
