import type { Channel } from '../catalog/layout'
import type { WireModule, WireStation } from './wire'

/** A channel of a station with its module. */
export interface PlacedChannel<M extends WireModule = WireModule> {
  readonly module: M
  readonly channel: Channel
}

/** A way to name a channel by its place in the device, whatever the controller's image is. Two-way
 *  within a station. */
export interface DeviceNotation {
  readonly name: string
  readonly label: string
  /** Null where the device has no such word for it. */
  readonly format: (view: WireStation, at: PlacedChannel) => string | null
  /** What such a word begins like, in lower case and without the blank behind its first word. */
  readonly looksLike: RegExp
}

/** Byte, and bit where it is a part of one. */
export const byteAndBit = (bit: number, bits: number) =>
  `${bit >> 3}${bits < 8 ? `.${bit & 7}` : ''}`
