import { protocolOf, protocolOn } from '../protocols/registry'
import type { WireStation } from '../protocols/wire'
import type { Catalog } from '../catalog/catalog'
import type { Derived, DerivedNetwork, DerivedStation } from './derive'
import { recordsOnWire } from './wire-records'

/** What goes over the wire by the plan, network by network: what `npx kataxis telegrams` prints.
 *  Octets in hex. */
export function telegramList({ controllers, catalog }: Derived) {
  return controllers.flatMap(({ controller, networks }) =>
    networks.map((band) => {
      const image = logicalImageOf(band)
      return {
        controller: controller.name,
        name: band.network.name,
        kind: band.network.settings.kind,
        ...(image && { logicalImage: image }),
        stations: band.stations.map((view) => ({
          name: view.station.name,
          ...telegramsOf(view, catalog),
        })),
      }
    }),
  )
}

function telegramsOf(station: DerivedStation, catalog: Catalog): object {
  const { device } = station
  const telegrams = device && protocolOf(device).telegrams
  return telegrams ? telegrams({ ...station, device }, recordsOnWire(station, catalog)) : {}
}

/** What the controller lays side by side for a network, station by station; null where its protocol
 *  does not. */
export function logicalImageOf({ network, stations }: DerivedNetwork) {
  const image = protocolOn(network).logicalImage?.(stations)
  if (!image) return null
  const { parts, ...sums } = image
  const wordOf = (part: { view: WireStation; in: unknown; out: unknown }) => ({
    station: part.view.station.name,
    in: part.in,
    out: part.out,
  })
  return { ...sums, parts: parts.map(wordOf) }
}
