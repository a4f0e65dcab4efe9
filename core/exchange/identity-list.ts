import { switchAddress, switchesOf } from '../changing/identities'
import { isEntered, positionsFor, wordPositions } from '../addressing/switches'
import type { Derived } from '../derive/derive'
import { rackDecisions } from '../protocols/can-rack'
import { kindOf, wordSetBy } from '../protocols/registry'
import { ipOf } from '../protocols/settings'
import type { SheetTable } from './xlsx'

/** Every station with its identity and how that gets into the device; racks with what happens when
 *  they are lost. */
export function identityTable({ controllers }: Derived): SheetTable {
  const rows = controllers.flatMap(({ networks }) =>
    networks.flatMap(({ network, stations }) =>
      stations.map((view) => {
        const station = view.station
        const bank = switchesOf(view.device, station)
        const address = bank && switchAddress(bank, station)
        const positions = bank && address !== null ? positionsFor(bank, address) : null
        const rack = rackDecisions(station)
        return [
          network.name,
          station.name,
          kindOf(network).hasIp ? ipOf(station) : '',
          station.deviceNumber,
          wordSetBy(view, bank),
          bank && positions && !isEntered(bank) ? wordPositions(bank, positions) : '',
          rack?.onLost ?? '',
          rack?.alarmPrefix ?? '',
        ]
      }),
    ),
  )
  return {
    name: 'Identities',
    columns: [
      ['Network', 18],
      ['Station', 18],
      ['IP address', 16],
      ['Number', 8],
      ['How it gets into the device', 60],
      ['Switches', 40],
      ['When lost', 10],
      ['Prefix of alarms', 16],
    ],
    rows,
  }
}
