import { z } from 'zod'

/** IEC 61131-3 types that raw values are read as. */
export const rawTypes = ['INT', 'UINT', 'DINT', 'UDINT', 'REAL'] as const
export type RawType = (typeof rawTypes)[number]

/** What each type holds. */
export const typeBounds: Readonly<Record<RawType, readonly [number, number]>> = {
  INT: [-32_768, 32_767],
  UINT: [0, 65_535],
  DINT: [-2_147_483_648, 2_147_483_647],
  UDINT: [0, 4_294_967_295],
  REAL: [-3.4028234663852886e38, 3.4028234663852886e38],
}

/** How a module says an electrical value in counts. */
export interface RawFormat {
  readonly name: string
  readonly type: RawType
  /** Counts at the nominal ends of the channel's range. Where the range is as wide below zero as
   *  above, `low` stands for −`high`. */
  readonly low: number
  readonly high: number
  /** Instead of the ends of the range: counts for one unit of what the channel measures. */
  readonly perUnit?: { readonly of: 'mA' | 'V' | 'mV' | 'Ω' | '°C'; readonly counts: number }
  /** The bounds of what still means a value, beyond the nominal ends. */
  readonly least: number
  readonly most: number
  /** Fixed codes beyond these bounds; left out: the value stops there. */
  readonly underflow?: number
  readonly overflow?: number
  /** Counts come in multiples of this, where bits to the right are not used. */
  readonly step: number
  /** A status octet follows the value. */
  readonly hasStatus?: boolean
}

/** A raw format of the project’s own, see `RawFormat`. */
export const rawFormat = z
  .object({
    name: z.string().min(1).max(200),
    type: z.enum(rawTypes),
    low: z.number(),
    high: z.number(),
    least: z.number(),
    most: z.number(),
    underflow: z.number().optional(),
    overflow: z.number().optional(),
    step: z.number().min(0),
  })
  .strict()
