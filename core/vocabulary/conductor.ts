/** Resistance of plain copper conductors at 20 °C in Ω/km, by cross-section in mm²: solid and
 *  stranded (classes 1 and 2), flexible (class 5). IEC 60228, from memory. */
const resistances = {
  '0.5': { solid: 36.0, flexible: 39.0 },
  '0.75': { solid: 24.5, flexible: 26.0 },
  '1': { solid: 18.1, flexible: 19.5 },
  '1.5': { solid: 12.1, flexible: 13.3 },
  '2.5': { solid: 7.41, flexible: 7.98 },
  '4': { solid: 4.61, flexible: 4.95 },
  '6': { solid: 3.08, flexible: 3.3 },
} as const

/** Cross-sections that have a known resistance, in mm², smallest first. */
export const crossSections = Object.keys(resistances)
  .map(Number)
  .sort((a, b) => a - b)

/** Ω/km of one conductor; null for a cross-section that the table does not have. */
export function ohmPerKm(mm2: number, isFlexible: boolean): number | null {
  const found = resistances[String(mm2) as keyof typeof resistances]
  return found ? found[isFlexible ? 'flexible' : 'solid'] : null
}

/** What a supply cable takes of the voltage, there and back, in V: 2 · length · Ω/km · current
 *  (common practice). */
export function voltageDrop(lengthM: number, ohmKm: number, currentMa: number): number {
  return (2 * lengthM * ohmKm * currentMa) / 1_000_000
}
