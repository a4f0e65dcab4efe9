import type { Channel } from '../catalog/layout'
import { stationFrame } from '../protocols/registry'
import type { DerivedModule, DerivedStation } from './derive'

/** Where a channel stands in the data of its station and of its module, in bits from their first
 *  octet; null where it has no data. */
export function placeInFrames(
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
): { readonly station: number; readonly module: number } | null {
  const at = module.inside?.[channel.direction] ?? null
  const owner = at ? view.modules[0]! : module
  const part = stationFrame(view, channel.direction).find(
    (one) =>
      one.what === 'data' &&
      one.module === owner &&
      (at !== null || one.block!.subslot === channel.subslot),
  )
  return part
    ? {
        station: part.offsetBytes * 8 + (at?.offsetBits ?? 0) + channel.offsetBits,
        module: channel.offsetBits,
      }
    : null
}
