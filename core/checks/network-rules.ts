import { kindOf, roundOf } from '../protocols/registry'
import { ipOf, roleNameOf } from '../protocols/settings'
import type { DerivedStation } from '../derive/derive'
import { isInPool } from '../changing/identities'
import { atStation, nameOf, planRule } from './finding'

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

  planRule<{ ip: string; unit: number; other: string; controllers: string }>({
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
          const { deviceNumber } = view.station
          yield {
            at: atStation(view),
            facts: {
              ip: ipOf(view.station),
              unit: deviceNumber,
              other: nameOf(first!.station.name),
              controllers: `${controllerOf(first!)} and ${controllerOf(view)}`,
            },
          }
        }
      }
    },
    say: ({ ip, unit, other, controllers }, at) =>
      `${at.words} and ${other} are the same device (${ip}, unit ${unit}), and ${controllers} would both write its outputs; they fight.`,
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
