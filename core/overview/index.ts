export { overviewOf, stepKeys, stepOf, type Overview, type Step, type StepKey } from './overview'
export { countKinds, type KindCount } from './kinds'
