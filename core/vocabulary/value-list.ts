import { z } from 'zod'

export type ValueRange = readonly [number, number]

const part = /^(-?\d+(?:\.\d+)?)(?:\.\.(-?\d+(?:\.\d+)?))?$/

/** Value list `0..7 9 11..13` as ranges; negative and decimal numbers too; `null` where a part is
 *  no number or a range runs backwards. GSDML specification, ValueList types (from memory). */
export function parseValueList(text: string): ValueRange[] | null {
  const ranges: ValueRange[] = []
  for (const word of text.trim().split(/\s+/)) {
    if (word === '') continue
    const match = part.exec(word)
    if (!match) return null
    const from = Number(match[1])
    const to = match[2] === undefined ? from : Number(match[2])
    if (to < from) return null
    ranges.push([from, to])
  }
  return ranges
}

export function formatValueList(ranges: readonly ValueRange[]): string {
  return ranges.map(([from, to]) => (from === to ? `${from}` : `${from}..${to}`)).join(' ')
}

export function inRanges(ranges: readonly ValueRange[], value: number): boolean {
  return ranges.some(([from, to]) => value >= from && value <= to)
}

/** Every whole number of the list; the caller bounds the size by checking `countValues` first. */
export function* values(ranges: readonly ValueRange[]): Generator<number> {
  for (const [from, to] of ranges) for (let value = from; value <= to; value++) yield value
}

export function countValues(ranges: readonly ValueRange[]): number {
  return ranges.reduce((sum, [from, to]) => sum + to - from + 1, 0)
}

/** A value list as somebody types it; empty lists are fine. */
export const valueListText = z
  .string()
  .max(500)
  .refine((text) => parseValueList(text) !== null, 'a value list such as "0..7 9"')
