export { shareAt, tableFault, valueAt, type Characteristic } from './characteristic'
export {
  countsAt,
  errorAt,
  formatFault,
  mismatch,
  ne43,
  ne43Marks,
  links,
  probe,
  processEnds,
  resolution,
  rightScaling,
  scaled,
  sensorOf,
  signalUnit,
  spanOf,
  uncompensated,
  usualScaling,
  worstError,
  type Chain,
  type Link,
  type MarkOnChannel,
  type Ne43Mark,
  type ChainReading,
  type Scaling,
} from './chain'
export { inverse } from './curve'
export { commonFormats, quantised, readAs } from './raw-formats'
export { resistanceThermometer } from './resistance-thermometers'
export { thermocouple, thermocoupleTypes } from './thermocouples'
export { convertUnit, unitGroups, unitsLike, usualUnit } from './units'
export { arithmetics, scalingSnippet, type Arithmetic, type Snippet } from './snippet'
