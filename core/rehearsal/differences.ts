import { z } from 'zod'
import type { Derived, DerivedStation } from '../derive/model'
import { wiredNetworks } from '../networks'
import { switchesAt } from './planned'

const station = z.string().min(1).max(200)
const tag = z.string().min(1).max(200)
const slot = z.number().int().min(0).max(65_535)
const module = z.string().min(1).max(500)

/** What may be otherwise on site than in the plan. Stations and signals by name, modules by their
 *  key or order number, links by their id. */
export const differenceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('factoryNew'), station }),
  z.strictObject({ kind: z.literal('swapped'), station, slots: z.tuple([slot, slot]) }),
  z.strictObject({ kind: z.literal('wrongModule'), station, slot, module }),
  z.strictObject({ kind: z.literal('missingModule'), station, slot }),
  z.strictObject({ kind: z.literal('surplusModule'), station, slot, module }),
  z.strictObject({ kind: z.literal('duplicateName'), station, as: station }),
  z.strictObject({
    kind: z.literal('wrongType'),
    station,
    device: z.strictObject({
      file: z.string().min(1).max(500),
      device: z.string().min(1).max(500),
    }),
  }),
  z.strictObject({
    kind: z.literal('wrongFirmware'),
    station,
    firmware: z.string().min(1).max(40).optional(),
  }),
  z.strictObject({ kind: z.literal('missing'), station }),
  z.strictObject({ kind: z.literal('wireBreak'), tag }),
  z.strictObject({ kind: z.literal('shortCircuit'), tag }),
  z.strictObject({ kind: z.literal('cut'), link: z.string().min(1).max(200) }),
  z.strictObject({ kind: z.literal('stopped'), station }),
  z.strictObject({ kind: z.literal('slow'), station, ms: z.number().min(0).max(3_600_000) }),
  z.strictObject({ kind: z.literal('switches'), station, value: z.number().int().min(0) }),
  z.strictObject({ kind: z.literal('crossed'), tags: z.tuple([tag, tag]) }),
  z.strictObject({ kind: z.literal('scaled'), tag, factor: z.number() }),
])
export const differencesSchema = z.array(differenceSchema).max(10_000)
export type SiteDifference = z.infer<typeof differenceSchema>
export type DifferenceKind = SiteDifference['kind']

/** The first difference that the plan has no place for, in a sentence; null where all have one. */
export function differenceFault(
  derived: Derived,
  differences: readonly SiteDifference[],
  fileCalled: (name: string) => string | null,
): string | null {
  const stations = new Map([...derived.stations.values()].map((view) => [view.station.name, view]))
  const tags = new Set(
    [...derived.stations.values()].flatMap(({ group }) =>
      Object.values(group.signals).map((signal) => signal.tag),
    ),
  )
  const links = new Set(
    wiredNetworks(derived).flatMap((network) => network.links.map(({ id }) => id)),
  )
  for (const [i, one] of differences.entries()) {
    const at = `SiteDifference ${i + 1} (${one.kind})`
    if ('station' in one && !stations.has(one.station))
      return `${at}: the plan has no station "${one.station}".`
    for (const name of tagsIn(one))
      if (!tags.has(name)) return `${at}: the plan has no placed signal "${name}".`
    if (one.kind === 'cut' && !links.has(one.link))
      return `${at}: the plan has no link "${one.link}".`
    const view = 'station' in one ? stations.get(one.station)! : null
    const fault = view && stationFault(view, one, stations, fileCalled)
    if (fault) return `${at}: ${fault}`
  }
  return null
}

export function tagsIn(one: SiteDifference): readonly string[] {
  return 'tag' in one ? [one.tag] : 'tags' in one ? one.tags : []
}

function stationFault(
  view: DerivedStation,
  one: SiteDifference,
  stations: ReadonlyMap<string, DerivedStation>,
  fileCalled: (name: string) => string | null,
): string | null {
  const taken = new Set(view.modules.map((module) => module.slot))
  const name = view.station.name
  switch (one.kind) {
    case 'swapped':
      return one.slots.every((number) => taken.has(number))
        ? null
        : `${name} has no modules in both slots ${one.slots.join(' and ')}.`
    case 'missingModule':
      return taken.has(one.slot) ? null : `${name} has no module in slot ${one.slot}.`
    case 'wrongModule':
    case 'surplusModule':
      if (one.kind === 'wrongModule' && !taken.has(one.slot))
        return `${name} has no module in slot ${one.slot}.`
      if (one.kind === 'surplusModule' && taken.has(one.slot))
        return `slot ${one.slot} of ${name} is taken already.`
      return moduleCalled(view, one.module)
        ? null
        : `the description of ${name} has no module "${one.module}".`
    case 'duplicateName':
      return stations.has(one.as) ? null : `the plan has no station "${one.as}".`
    case 'wrongType':
      return fileCalled(one.device.file) === null
        ? `there is no description file "${one.device.file}".`
        : null
    case 'switches':
      return switchesAt({ view }) ? null : `${name} has no switches.`
    default:
      return null
  }
}

/** Key of a module of the station's file, by its key or order number. */
export function moduleCalled({ file }: DerivedStation, word: string): string | null {
  const found =
    file?.modules.find(({ key }) => key === word) ??
    file?.modules.find(({ orderNumber }) => orderNumber === word)
  return found?.key ?? null
}
