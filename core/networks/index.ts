export * from './model'
export { networkReport } from './report'
export { wiredNetworks, wiresOf } from './network'
export { shapeOf, type WireShape } from './shape'
export { portsOfInterface, portsOfStation, Wires, type Wire } from './wires'
export {
  singleFailures,
  tagsOf,
  whatIf,
  type Failures,
  type Outcome,
  type SingleFailure,
} from './what-if'
export { media, mediumNames, type Medium } from '../vocabulary/medium'
