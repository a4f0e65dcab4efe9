import type {
  Derived,
  DerivedController,
  DerivedNetwork,
  DerivedStation,
} from '../../derive/derive'
import { channelsOfStation, type StationChannel } from '../io-list'
import type { ExportOptions } from '../options'

/** A station that a document is about. */
export interface ChosenStation {
  readonly controller: DerivedController['controller']
  readonly network: DerivedNetwork['network']
  readonly view: DerivedStation
}

type Choice = Pick<ExportOptions, 'controller' | 'stations' | 'areas'>

/** Stations in the Board's order: those chosen, and those with signals in the areas chosen; all where
 *  nothing is. Passive ones have neither slots nor signals and are left out. */
export function chosenStations(derived: Derived, choice: Choice): ChosenStation[] {
  const wanted = new Set(choice.stations)
  const areas = new Set(choice.areas)
  return derived.controllers.flatMap(({ controller, networks }) =>
    choice.controller !== '' && choice.controller !== controller.id
      ? []
      : networks.flatMap(({ network, stations }) =>
          stations.flatMap((view) => {
            const isWanted =
              (wanted.size === 0 && areas.size === 0) ||
              wanted.has(view.id) ||
              (areas.size > 0 && hasArea(view, areas))
            return isWanted ? [{ controller, view, network }] : []
          }),
        ),
  )
}

function hasArea({ group: { signals } }: DerivedStation, areas: ReadonlySet<string>): boolean {
  return Object.values(signals).some(({ facts }) => areas.has(facts.area ?? ''))
}

/** Channels of a station that a document is about: all, or those in the areas chosen. */
export function* chosenChannels(
  view: DerivedStation,
  { areas }: Choice,
): Generator<StationChannel> {
  for (const one of channelsOfStation(view))
    if (areas.length === 0 || areas.includes(one.signal?.facts.area ?? '')) yield one
}

/** Whether a document leaves something out. */
export const isPart = ({ controller, stations, areas }: Choice): boolean =>
  controller !== '' || stations.length > 0 || areas.length > 0
