export { overviewOf, stepKeys, stepOf, type Overview, type Step, type StepKey } from './overview'
export { countKinds, type KindCount } from './kinds'
export { fillOfAreas, fillOfStations, type AreaFill, type StationFill } from './fill'
