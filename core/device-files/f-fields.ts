import type { ValuePlace } from '../parameters'

/** One F parameter: its place, its words, and what it is where nobody says it. */
export interface FailSafeField extends ValuePlace {
  readonly name: string
  readonly type: string
  /** What the record holds where the file leaves the element out. */
  readonly fallback: number
  /** The file's words for 0, 1, 2 …; numbers where it uses none. */
  readonly words: readonly string[]
}

const flag = (
  name: string,
  offsetBytes: number,
  offsetBits: number,
  bits: number,
  fallback: number,
  words: readonly string[] = [],
): FailSafeField => ({
  name,
  type: bits === 1 ? 'Bit' : 'BitArea',
  kind: 'unsigned',
  byteOrder: 'little',
  offsetBytes,
  offsetBits,
  bits,
  fallback,
  words,
})
const number = (
  name: string,
  offsetBytes: number,
  octets: 2 | 4,
  fallback: number,
): FailSafeField => ({
  name,
  type: `Unsigned${octets * 8}`,
  kind: 'unsigned',
  byteOrder: 'big',
  offsetBytes,
  offsetBits: 0,
  bits: octets * 8,
  fallback,
  words: [],
})

/** F parameters by PROFIsafe profile (layout and defaults from memory): flags, source, destination,
 *  watchdog; with block id 1 or 3 the iPar CRC; the parameter CRC last. Multi-octet values are
 *  big-endian. */
const common: readonly FailSafeField[] = [
  flag('F_Check_SeqNr', 0, 0, 1, 1, ['NoCheck', 'Check']),
  flag('F_Check_iPar', 0, 1, 1, 0, ['NoCheck', 'Check']),
  flag('F_SIL', 0, 2, 2, 2, ['SIL1', 'SIL2', 'SIL3', 'NoSIL']),
  flag('F_CRC_Length', 0, 4, 2, 0, ['3-Byte-CRC', '2-Byte-CRC', '4-Byte-CRC']),
  flag('F_CRC_Seed', 0, 6, 1, 0, ['CRC-Seed24/32', 'CRC-FCS32']),
  flag('F_Passivation', 1, 0, 1, 0, ['Device/Module', 'Channel']),
  flag('F_Block_ID', 1, 3, 3, 0),
  flag('F_Par_Version', 1, 6, 2, 1),
  number('F_Source_Add', 2, 2, 1),
  number('F_Dest_Add', 4, 2, 1),
  number('F_WD_Time', 6, 2, 150),
]
const iParCrc = number('F_iPar_CRC', 8, 4, 0)
const defaultParameterCrc = 53_356

/** All F parameters of a block: 10 octets, or 14 with a check sum over the module's own
 *  parameters. */
export function failSafeFields(hasOwnSum: boolean): {
  readonly length: number
  readonly fields: readonly FailSafeField[]
} {
  const length = hasOwnSum ? 14 : 10
  return {
    length,
    fields: [
      ...common,
      ...(hasOwnSum ? [iParCrc] : []),
      number('F_Par_CRC', length - 2, 2, defaultParameterCrc),
    ],
  }
}
