/** An electrical range as a channel may have it. */
export type ElectricalRange =
  | { readonly kind: 'off' }
  | {
      readonly kind: 'current' | 'voltage'
      readonly low: number
      readonly high: number
      readonly unit: 'mA' | 'V' | 'mV'
    }
  | { readonly kind: 'resistance'; readonly type: string }
  /** With the temperature in °C where the couple meets the channel; left out: 0. */
  | { readonly kind: 'thermocouple'; readonly type: string; readonly coldEnd?: number }

const number = String.raw`([+-]?\d+(?:[.,]\d+)?)`
const span = new RegExp(
  String.raw`${number}\s*(?:m?[AV])?\s*(?:\.\.\.?|…|to|bis|-|–|—)\s*\+?${number}\s*(m?[AV])\b`,
  'i',
)
const both = /(?:±|\+\/-|\+-)\s*(\d+(?:[.,]\d+)?)\s*(m?[AV])\b/i

/** Reads a range out of a maker's words: `4 to 20 mA`, `0..10V`, `±10 V`, `Pt100`, `type K`,
 *  `channel off`; null where it is none of these. */
export function readRange(text: string): ElectricalRange | null {
  if (/\b(off|disabled|deactivated|not used|unused|inactive|aus|deaktiviert)\b/i.test(text))
    return { kind: 'off' }
  const plusMinus = both.exec(text)
  if (plusMinus) return spanOf(-decimal(plusMinus[1]!), decimal(plusMinus[1]!), plusMinus[2]!)
  const written = span.exec(text)
  if (written) return spanOf(decimal(written[1]!), decimal(written[2]!), written[3]!)
  const resistance = /\b(pt|ni)\s*(\d{2,4})\b/i.exec(text)
  if (resistance)
    return {
      kind: 'resistance',
      type: `${resistance[1]![0]!.toUpperCase()}${resistance[1]!.slice(1).toLowerCase()}${resistance[2]!}`,
    }
  const couple = /\b(?:type|typ|thermocouple|tc)\s*([BEJKNRST])\b/i.exec(text)
  return couple ? { kind: 'thermocouple', type: couple[1]!.toUpperCase() } : null
}

/** A range as everybody writes it: `4…20 mA`. */
export function wordRange(range: ElectricalRange): string {
  if (range.kind === 'off') return 'off'
  if ('low' in range)
    return range.low === -range.high
      ? `±${range.high} ${range.unit}`
      : `${range.low}…${range.high} ${range.unit}`
  return range.kind === 'thermocouple' ? `type ${range.type}` : range.type
}

export function sameRange(a: ElectricalRange, b: ElectricalRange): boolean {
  return wordRange(a) === wordRange(b)
}

function spanOf(low: number, high: number, unit: string): ElectricalRange | null {
  const known = ({ ma: 'mA', v: 'V', mv: 'mV' } as const)[
    unit.toLowerCase() as 'ma' | 'v' | 'mv'
  ] as 'mA' | 'V' | 'mV' | undefined
  if (!known || high <= low) return null
  return { kind: known === 'mA' ? 'current' : 'voltage', low, high, unit: known }
}

function decimal(text: string): number {
  return Number(text.replace(',', '.'))
}
