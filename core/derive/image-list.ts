import { formatAddress, type NotationName } from '../addressing/notations'
import { signalOn, channelAddress, type DerivedController, type Derived } from './derive'
import { logicalImageOf } from './telegrams'

export interface ImageItem {
  readonly station: string
  readonly slot: number
  readonly subslot: number
  readonly module: string
  readonly direction: 'in' | 'out'
  readonly byte: number
  readonly bit: number
  readonly bits: number
  readonly address: string
  readonly tag: string
}

/** Every channel's place in its controller's image, in order of address: what `npx kataxis image`
 *  prints. */
export function imageList(derived: Derived, notation: NotationName) {
  return derived.controllers.map((view) => ({
    name: view.controller.name,
    inputBytes: view.inputBytes,
    outputBytes: view.outputBytes,
    items: itemsOf(view, notation),
    // What a master lays side by side in one datagram.
    logicalImages: view.networks.flatMap((band) => {
      const image = logicalImageOf(band)
      return image ? [{ network: band.network.name, ...image }] : []
    }),
  }))
}

function itemsOf(view: DerivedController, notation: NotationName): ImageItem[] {
  const items: ImageItem[] = []
  for (const { stations } of view.networks) {
    for (const { station, modules } of stations) {
      for (const module of modules) {
        for (const channel of module.layout?.channels ?? []) {
          const place = channelAddress(module, channel)
          if (!place) continue
          items.push({
            station: station.name,
            slot: module.slot,
            subslot: channel.subslot,
            module: module.described?.name ?? '',
            ...place,
            address: formatAddress(place, notation),
            tag: signalOn(module, channel)?.tag ?? '',
          })
        }
      }
    }
  }
  return items.sort((a, b) =>
    a.direction === b.direction ? a.byte - b.byte || a.bit - b.bit : a.direction === 'in' ? -1 : 1,
  )
}
