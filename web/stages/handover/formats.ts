/** Loaded where somebody wants to export: what writes the formats is large. */
export { exportFormats } from '@kataxis/core'
