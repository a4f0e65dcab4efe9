export * from './model'
export {
  applyChanges,
  completed,
  emptyPlan,
  invert,
  netChanges,
  planFromRows,
  rowsOfPlan,
} from './changes'
export { packedSignals, packSignals, unpackSignals, type PackedSignals } from './packed'
export {
  command,
  singleCommand,
  wordCommandFault,
  type BatchCommand,
  type Command,
  type CommandOf,
  type CommandType,
  type SingleCommand,
} from './commands'
export { stationIdOf, rowOf, type RowChange } from './draft'
export { isSame, replayChanges, type Obstacle, type Replayed } from './replay'
export {
  faultsOfChange,
  faultsOfRows,
  nameOfRow,
  ownership,
  rowsAfter,
  wordFault,
  type PlanFault,
} from './validity'
export { mend, missingOwners, type Mended, type MendWishes } from './mend'
export { wordRefusal, type Refusal } from './refusals'
export { newId } from './new-id'
export { signedBy } from './signed'
export { filesOfPlan } from './files'
export { liftCommand, liftTables } from './older'
