import { parseDigits } from '../digits'

/** A number as EDS files write it: decimal, `0x…`, also negative and with a decimal point; null
 *  where it is none. */
export function parseEdsNumber(text: string): number | null {
  const plain = parseDigits(text)
  if (plain >= 0) return plain
  const trimmed = text.trim()
  // `Number` knows binary, octal and Infinity too, which are none here.
  const value = trimmed === '' || /^.[bo]/i.test(trimmed) ? NaN : Number(trimmed)
  return Number.isFinite(value) ? value : null
}
