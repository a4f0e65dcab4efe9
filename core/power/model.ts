import type { PowerSource } from '../catalog/model'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { Feed, FeedPoint } from '../plan/model'

/** Something that takes current from a supply: a head, or a module with the potential group that it
 *  feeds. */
export interface Consumer {
  readonly at: FeedPoint
  readonly view: DerivedStation
  readonly module: DerivedModule
  /** Modules whose field supply comes over it. */
  readonly group: readonly DerivedModule[]
  /** Null: on no supply of the plan. */
  readonly feed: Feed | null
  /** Lasting, and while it starts; as far as it is known. */
  readonly needMa: number
  readonly inrushMa: number
  /** Something in it says nothing of its current. */
  readonly isUnsaid: boolean
  readonly minVolts: number
  readonly maxVolts: number
}

/** A consumer on its supply. Voltages are null where length or cross-section of the cable are not
 *  known. */
export interface Fed extends Consumer {
  readonly feed: Feed
  /** At its terminals, lasting and while it starts. */
  readonly volts: number | null
  readonly startVolts: number | null
}

export interface Supply {
  readonly view: DerivedStation
  readonly source: PowerSource
  /** What it is set to. */
  readonly volts: number
  readonly peakMa: number
  readonly fed: readonly Fed[]
  readonly usedMa: number
  /** All that hangs on it started at once. */
  readonly inrushMa: number
  /** Which of what hangs on it has the least voltage to spare while all start: it fails first. */
  readonly weakest: Fed | null
}
