import type { Catalog } from '../catalog/catalog'
import type { Channel } from '../catalog/layout'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { ProjectRow } from '../plan/model'
import { rackDecisions } from '../protocols/can-rack'
import { settingsOf } from './channel-settings'

const afterRackLoss = { none: 'stays', warning: 'stays', shutdown: 'switched off' } as const

/** What an output does when its station loses its controller, as parameters of its module or the
 *  plan say it; null where nobody says it, and for inputs. */
export function wordOnLoss(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
  { meanings }: Pick<ProjectRow, 'meanings'>,
): string | null {
  if (channel.direction === 'in') return null
  const settings = settingsOf(catalog, view, module, channel, meanings)
  const said = [settings.get('outputFailure')?.words, settings.get('substitute')?.words]
    .filter((words) => words !== undefined)
    .join(': ')
  if (said !== '') return said
  const rack = rackDecisions(view.station)
  return rack && afterRackLoss[rack.onLost]
}
