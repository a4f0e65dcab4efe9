import type { Derived, DerivedStation } from '../../derive/derive'
import type { NetworkRow } from '../../plan/model'
import { kindOf } from '../../protocols/registry'
import { controllerIpOf, ipOf, roleNameOf } from '../../protocols/settings'

/** A host name of a name in the plan: letters, digits and dashes between dots, 63 at most each (RFC
 *  952, RFC 1123); null where nothing is left of it. */
export function hostName(name: string): string | null {
  const labels = name
    .normalize('NFKD')
    .toLowerCase()
    .split('.')
    .map((label) =>
      label
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 63)
        .replace(/^-+|-+$/g, ''),
    )
    .filter((label) => label !== '')
  return labels.length === 0 ? null : labels.join('.')
}

/** A name with its address: of a station, or of a controller's interface. */
export interface NamedAddress {
  readonly network: NetworkRow
  readonly view: DerivedStation | null
  readonly name: string
  readonly ip: string
  readonly role: string
}

/** All that has an IP address, network by network, controllers first. */
export function namedAddresses({ controllers }: Derived): NamedAddress[] {
  return controllers.flatMap(({ controller, networks }) =>
    networks.flatMap(({ network, stations }) => {
      if (!kindOf(network).hasIp) return []
      const own: NamedAddress = {
        network,
        view: null,
        name: controller.name,
        ip: controllerIpOf(network),
        role: '',
      }
      return [
        own,
        ...stations.map((view) => ({
          network,
          view,
          name: view.station.name,
          ip: ipOf(view.station),
          role: roleNameOf(view.station),
        })),
      ].filter(({ ip }) => ip !== '')
    }),
  )
}
