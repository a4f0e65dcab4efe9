import { kindOf, protocolOf, protocolOn, roundOf, writtenIn } from '../protocols/registry'
import { ipOf, roleNameOf } from '../protocols/settings'
import type { DerivedStation } from '../derive/derive'
import { isInPool } from '../changing/identities'
import { numbered } from '../vocabulary/plural'
import { atStation, nameOf, planRule } from './finding'
import { ipKey } from './indexes'

/** What two stations are both written; null where a description does not say what is. */
function writtenByBoth(a: DerivedStation, b: DerivedStation): readonly string[] | null {
  const [one, other] = [a, b].map(({ device }) => (device ? writtenIn(device) : []))
  if (one!.length === 0 || other!.length === 0) return null
  const places = new Set(other)
  return one!.filter((place) => places.has(place))
}

/** Rules about identities and lines that compare stations with each other. */
export const planAddressRules = [
  planRule<{ role: string; other: string }>({
    code: 'station.roleDuplicate',
    severity: 'blocker',
    find: function* ({ indexes }) {
      for (const key of indexes.roles.shared) {
        const [first, ...later] = indexes.roles.usersOf(key).sort((a, b) => (a.id < b.id ? -1 : 1))
        for (const view of later)
          yield {
            at: atStation(view),
            facts: { role: roleNameOf(view.station), other: nameOf(first!.station.name) },
          }
      }
    },
    say: ({ role, other }, at) =>
      `${at.words} is served its address as "${role}", and so is ${other}.`,
  }),

  planRule<{ at: string; other: string; controllers: string; place: string | null; more: number }>({
    code: 'modbus.twoWriters',
    severity: 'blocker',
    find: function* ({ derived: { plan }, indexes }) {
      const controllerOf = (view: DerivedStation) =>
        plan.controllers[plan.networks[view.station.networkId]?.controllerId ?? '']?.name ?? ''
      for (const key of indexes.written.shared) {
        const [first, ...later] = indexes.written
          .usersOf(key)
          .sort((a, b) => (a.id < b.id ? -1 : 1))
        for (const view of later) {
          const both = writtenByBoth(first!, view)
          if (both && both.length === 0) continue
          const { deviceNumber } = view.station
          const ip = ipOf(view.station)
          yield {
            at: atStation(view),
            facts: {
              at: ip === '' ? `node ${deviceNumber} of one line` : `${ip}, unit ${deviceNumber}`,
              other: nameOf(first!.station.name),
              controllers: `${controllerOf(first!)} and ${controllerOf(view)}`,
              place: both?.[0]?.replace('-', ' ') ?? null,
              more: (both?.length ?? 1) - 1,
            },
          }
        }
      }
    },
    say: ({ at: where, other, controllers, place, more }, at) =>
      `${at.words} and ${other} are one device (${where}); ${controllers} would both write ${place ? `its ${place}${more > 0 ? ` and ${more} more` : ''}` : 'its outputs'}.`,
  }),

  planRule<{ count: number; most: number; ip: string }>({
    code: 'modbus.sessions',
    severity: 'warning',
    find: function* ({ derived }) {
      const users = new Map<string, { view: DerivedStation; controllers: Set<string> }>()
      for (const { controller, networks } of derived.controllers)
        for (const { network, stations } of networks) {
          if (!protocolOn(network).sessions || !kindOf(network).hasIp) continue
          for (const view of stations) {
            const key = ipKey(network, ipOf(view.station))
            const known = users.get(key) ?? { view, controllers: new Set() }
            users.set(key, known)
            known.controllers.add(controller.id)
          }
        }
      for (const { view, controllers } of users.values()) {
        const most = view.device && protocolOf(view.device).sessions?.(view.device)
        if (most && controllers.size > most)
          yield {
            at: atStation(view),
            facts: { count: controllers.size, most, ip: ipOf(view.station) },
          }
      }
    },
    say: ({ count, most, ip }, at) =>
      `${at.words} (${ip}) takes ${numbered(most, 'connection')} at once by its sheet; ${count} controllers want one.`,
  }),

  planRule<{ ms: number; periodMs: number }>({
    code: 'network.requests',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const { network, stations } of derived.controllers.flatMap(({ networks }) => networks)) {
        const round = roundOf(network, stations)
        if (round && round.ms > round.everyMs)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: { ms: round.ms, periodMs: round.everyMs },
          }
      }
    },
    say: ({ ms, periodMs }, at) =>
      `All requests on ${at.words} take ${Math.ceil(ms)} ms, and a new round is to begin every ${periodMs} ms.`,
    fixes: ({ ms }, { id }) => {
      const requestMs = Math.ceil(ms / 50) * 50
      return [
        {
          label: `Ask every ${requestMs} ms`,
          command: { type: 'updateNetwork', id, set: { settings: { requestMs } } },
        },
      ]
    },
  }),

  planRule<{ kind: string; cable: string; other: string }>({
    code: 'network.cable',
    severity: 'blocker',
    find: function* ({ derived: { plan } }) {
      const networks = Object.values(plan.networks)
      for (const network of networks) {
        const kind = kindOf(network)
        if (!kind.needsOwnCable || network.cable === '') continue
        const other = networks.find(({ id, cable }) => id !== network.id && cable === network.cable)
        if (other)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: { kind: kind.name, cable: network.cable, other: other.name },
          }
      }
    },
    say: ({ kind, cable, other }, at) =>
      `${at.words} is ${kind} and shares the cable "${cable}" with ${other}; ${kind} needs a port of the controller for itself.`,
    fixes: (_, { id }) => [
      {
        label: 'Give it a cable of its own',
        command: { type: 'updateNetwork', id, set: { cable: '' } },
      },
    ],
  }),

  planRule<{ first: string }>({
    code: 'network.pool',
    severity: 'warning',
    find: function* ({ derived: { plan } }) {
      for (const network of Object.values(plan.networks)) {
        const { pool } = network
        if (pool && (pool.first > pool.last || !hasAny(network)))
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: { first: `${pool.first} to ${pool.last}` },
          }
      }
    },
    say: ({ first }, at) => `The pool of ${at.words}, ${first}, has no number to give.`,
  }),
]

function hasAny(network: Parameters<typeof isInPool>[0]): boolean {
  for (let number = network.pool!.first; number <= network.pool!.last; number += network.pool!.step)
    if (isInPool(network, number)) return true
  return false
}
