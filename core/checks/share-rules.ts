import type { Derived, DerivedStation } from '../derive/derive'
import { wiredNetworks } from '../networks'
import type { Id } from '../plan/model'
import { ipOf } from '../protocols/settings'
import { sharingOf } from '../protocols/profinet/sharing'
import { kindOf } from '../protocols/registry'
import { atModule, atStation, nameOf, planRule } from './finding'

/** Rules about devices that several controllers have to do with: shared ones, each of whose modules
 *  has one owner, and those for which two controllers stand. */

/** Stations that are views of another one's device, with that one; null where it is gone. */
function* sharedOnes({ stations }: Derived) {
  for (const view of stations.values()) {
    const { sharedWith } = sharingOf(view.station)
    if (sharedWith !== '') yield { view, first: stations.get(sharedWith) ?? null }
  }
}

const controllerOf = ({ plan }: Derived, { station }: DerivedStation): Id =>
  plan.networks[station.networkId]?.controllerId ?? ''

const profinetOf = ({ device }: DerivedStation) =>
  device && 'profinet' in device ? device.profinet : null

export const shareRules = [
  planRule<{ id: Id }>({
    code: 'shared.gone',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { view, first } of sharedOnes(derived))
        if (!first) yield { at: atStation(view), facts: { id: view.id } }
    },
    say: (_, at) => `${at.words} is shared with a station that is no longer in the plan.`,
    fixes: ({ id }) => [
      {
        label: 'Make it a device of its own',
        command: { type: 'updateStation', id, set: { settings: { sharedWith: '' } } },
      },
    ],
  }),

  planRule<{ what: string; is: string; wants: string; set: { name: string; ip: string } }>({
    code: 'shared.identity',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { view, first } of sharedOnes(derived)) {
        if (!first) continue
        const [one, other] = [view.station, first.station]
        const parts = [
          ['name', one.name, other.name],
          ['address', ipOf(one), ipOf(other)],
          ['head', view.device?.name ?? one.device, first.device?.name ?? other.device],
        ] as const
        for (const [what, is, wants] of parts)
          if (is !== wants)
            yield {
              at: atStation(view),
              facts: { what, is, wants, set: { name: other.name, ip: ipOf(other) } },
            }
      }
    },
    say: ({ what, is, wants }, at) =>
      `${at.words} is a shared device and has the ${what} ${nameOf(is)}; the other controller calls it ${nameOf(wants)}.`,
    fixes: ({ what, set: { name, ip } }, { id }) =>
      what === 'head'
        ? []
        : [
            {
              label: 'Take name and address of the other',
              command: { type: 'updateStation', id, set: { name, settings: { ip } } },
            },
          ],
  }),

  planRule<{ slot: number; other: string }>({
    code: 'shared.slot',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { view, first } of sharedOnes(derived)) {
        const owned = new Set(first?.modules.flatMap(({ row }) => row?.slot ?? []))
        for (const module of view.modules)
          if (module.row && owned.has(module.slot))
            yield {
              at: atModule(view, module),
              facts: {
                slot: module.slot,
                other: derived.plan.controllers[controllerOf(derived, first!)]?.name ?? '',
              },
            }
      }
    },
    say: ({ slot, other }, at) =>
      `${at.words}: both controllers plan a module in slot ${slot}; it can belong to ${nameOf(other)} or to this one.`,
    fixes: (_, { id }) => [
      { label: 'Remove it here', command: { type: 'removeModules', ids: [id] } },
    ],
  }),

  planRule<{ why: string }>({
    code: 'shared.cannot',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { view, first } of sharedOnes(derived)) {
        const traits = profinetOf(view)
        if (!first || !traits) continue
        if (!traits.isShareable)
          yield { at: atStation(view), facts: { why: 'its description does not allow it' } }
        else if (controllerOf(derived, view) === controllerOf(derived, first))
          yield { at: atStation(view), facts: { why: 'both stations belong to one controller' } }
      }
    },
    say: ({ why }, at) => `${at.words} cannot be a shared device: ${why}.`,
  }),

  planRule<{ relations: number; most: number }>({
    code: 'shared.relations',
    severity: 'blocker',
    find: function* ({ derived }) {
      const views = [...derived.stations.values()]
      const several = new Set(
        views.flatMap(({ id, station }) => {
          const { sharedWith, redundancy } = sharingOf(station)
          return sharedWith || redundancy !== 'S1' ? [sharedWith || id] : []
        }),
      )
      if (several.size === 0) return
      const relations = new Map<Id, number>()
      for (const { id, station } of views) {
        const { sharedWith, redundancy } = sharingOf(station)
        const own = sharedWith || id
        if (several.has(own))
          relations.set(own, (relations.get(own) ?? 0) + (redundancy === 'S1' ? 1 : 2))
      }
      for (const [id, count] of relations) {
        const view = derived.stations.get(id)
        const most = (view && profinetOf(view)?.applicationRelations) ?? null
        if (view && most !== null && count > most)
          yield { at: atStation(view), facts: { relations: count, most } }
      }
    },
    say: ({ relations, most }, at) =>
      `${at.words} has ${relations} relations with controllers; by its description it takes ${most}.`,
  }),

  planRule<{ wanted: string; has: string }>({
    code: 'redundancy.cannot',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const view of derived.stations.values()) {
        const { redundancy } = sharingOf(view.station)
        if (redundancy === 'S1') continue
        const has = profinetOf(view)?.systemRedundancy ?? null
        if (!(has ?? '').split(/[\s;,]+/).includes(redundancy))
          yield { at: atStation(view), facts: { wanted: redundancy, has: has ?? 'S1 only' } }
      }
    },
    say: ({ wanted, has }, at) =>
      `${at.words} is planned with system redundancy ${wanted}; by its description it has ${has}.`,
    fixes: (_, { id }) => [
      {
        label: 'Plan it with one controller (S1)',
        command: { type: 'updateStation', id, set: { settings: { redundancy: 'S1' } } },
      },
    ],
  }),

  planRule<{ why: string }>({
    code: 'redundancy.second',
    severity: 'blocker',
    find: function* ({ derived }) {
      const { networks } = derived.plan
      for (const view of derived.stations.values()) {
        const { redundancy, secondController } = sharingOf(view.station)
        if (redundancy === 'S1') continue
        const second = networks[secondController]
        const own = networks[view.station.networkId]
        const why = !second
          ? 'none is chosen'
          : kindOf(second) !== (own && kindOf(own))
            ? `${second.name} is another kind of network`
            : second.controllerId === own?.controllerId
              ? 'it is the first one'
              : null
        if (why) yield { at: atStation(view), facts: { why } }
      }
    },
    say: ({ why }, at) => `${at.words} needs a second controller for its redundancy: ${why}.`,
  }),

  planRule<{ network: string }>({
    code: 'redundancy.way',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { stations, wire } of wiredNetworks(derived))
        for (const { view, second } of stations) {
          const ways = second === null ? undefined : wire.fromSecond.get(second)
          if (!ways || ways.steps[wire.numbers.get(view.id)!] !== -1) continue
          const { secondController } = sharingOf(view.station)
          yield {
            at: atStation(view),
            facts: { network: derived.plan.networks[secondController]!.name },
          }
        }
    },
    say: ({ network }, at) => `${at.words} has no way to its second controller, by ${network}.`,
  }),
]
