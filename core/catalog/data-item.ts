import type { ByteOrder } from '../vocabulary/byte-order'
import type { DataKind } from '../vocabulary/data-kind'

/** One value in a submodule's data. Offsets in bits from the start of that direction's data,
 *  8 × byte + bit, bit 0 the least significant. */
export interface DataItem {
  readonly name: string
  /** What it belongs to, where names alone repeat: the PDO of an EtherCAT entry. */
  readonly group?: string
  /** In the words of its format, for people. */
  readonly type: string
  readonly holds: DataKind
  readonly offsetBits: number
  readonly bits: number
  /** True where the value is a row of single bits, whether or not the file names them. */
  readonly asBits: boolean
  readonly channels: readonly BitChannel[]
  /** In which order its octets travel, where that is not what the device's network asks. */
  readonly order?: ByteOrder
  /** The range of the channel that no parameter sets, in everybody's words. */
  readonly range?: string
  /** The value whose quality it says. */
  readonly statusOf?: string
  /** The port whose octets these are: a device below it gives them a meaning. */
  readonly port?: number
  /** The port that the device stands below whose value it is. */
  readonly belowPort?: number
  /** Named bits of a number that stays readable as a whole. */
  readonly parts?: readonly DataItem[]
}

export interface BitChannel {
  readonly name: string
  readonly offsetBits: number
}
