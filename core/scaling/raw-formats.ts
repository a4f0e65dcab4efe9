import { typeBounds, type RawFormat, type RawType } from '../vocabulary/raw-format'

const format = (
  name: string,
  type: RawType,
  low: number,
  high: number,
  more: Partial<RawFormat> = {},
): RawFormat => ({
  name,
  type,
  low,
  high,
  least: typeBounds[type][0],
  most: typeBounds[type][1],
  step: type === 'REAL' ? 0 : 1,
  ...more,
})

/** Common practice; a project adds its own. None of these is a maker's. */
export const commonFormats: Readonly<Record<string, RawFormat>> = {
  i32767: format('0…32767', 'INT', 0, 32_767),
  u65535: format('0…65535', 'UINT', 0, 65_535),
  u64000: format('0…64000, room above', 'UINT', 0, 64_000),
  i32000: format('0…32000, room above', 'INT', 0, 32_000),
  i30000: format('0…30000, room above and below', 'INT', 0, 30_000),
  u4095: format('0…4095 (12 bits)', 'UINT', 0, 4095, { most: 4095 }),
  u8191: format('0…8191 (13 bits)', 'UINT', 0, 8191, { most: 8191 }),
  u16383: format('0…16383 (14 bits)', 'UINT', 0, 16_383, { most: 16_383 }),
  left12: format('12 bits, left-justified in 16', 'UINT', 0, 65_520, { most: 65_520, step: 16 }),
  left15: format('15 bits, left-justified in 16', 'UINT', 0, 65_534, { most: 65_534, step: 2 }),
  microamps: format('µA as a whole number', 'INT', 0, 0, { perUnit: { of: 'mA', counts: 1000 } }),
  millivolts: format('mV as a whole number', 'INT', 0, 0, { perUnit: { of: 'mV', counts: 1 } }),
  tenths: format('0.1 °C as a whole number', 'INT', 0, 0, { perUnit: { of: '°C', counts: 10 } }),
  hundredths: format('0.01 °C as a whole number', 'INT', 0, 0, {
    perUnit: { of: '°C', counts: 100 },
  }),
  real: format('IEEE 754 single, in the channel’s unit', 'REAL', 0, 0, {
    perUnit: { of: 'mA', counts: 1 },
  }),
  realStatus: format('IEEE 754 single and a status octet', 'REAL', 0, 0, {
    perUnit: { of: 'mA', counts: 1 },
    hasStatus: true,
  }),
}

/** A value in counts as the module sends it: to the nearest step, and within bounds or with its
 *  code beyond them. */
export function quantised(
  { type, step, least, most, underflow, overflow }: RawFormat,
  counts: number,
): { readonly raw: number; readonly beyond: 'under' | 'over' | null } {
  if (type === 'REAL') return { raw: Math.fround(counts), beyond: null }
  const rounded = Math.round(counts / step) * step
  if (rounded > most) return { raw: overflow ?? most, beyond: 'over' }
  if (rounded < least) return { raw: underflow ?? least, beyond: 'under' }
  return { raw: rounded, beyond: null }
}

const words: Partial<Record<RawType, 16 | 32>> = { INT: 16, UINT: 16, DINT: 32, UDINT: 32 }

/** What a whole number of counts shows when it is read as another type of the same size: 65520 as
 *  INT is −16. Null where the sizes differ. */
export function readAs(raw: number, from: RawType, as: RawType): number | null {
  const bits = words[from]
  if (bits === undefined || words[as] !== bits) return null
  const unsigned = raw < 0 ? raw + 2 ** bits : raw
  return as === 'INT' || as === 'DINT'
    ? unsigned >= 2 ** (bits - 1)
      ? unsigned - 2 ** bits
      : unsigned
    : unsigned
}
