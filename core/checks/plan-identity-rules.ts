import { formatSubnet, ipFault, parseIp, type IpFault } from '../addressing/ip'
import { legalStationName } from '../protocols/profinet/station-name'
import { type Derived, type DerivedStation } from '../derive/derive'
import type { Id, NetworkRow, Plan } from '../plan/model'
import { ipsOnCable } from '../changing/identities'
import { kindOf } from '../protocols/registry'
import { controllerIpOf, ipOf, ipOfHost, subnetOfNetwork } from '../protocols/settings'
import { atStation, nameOf, planRule, type FindingPlace } from './finding'
import { freeNameFor, otherFixes } from './free'
import { ipKey } from './indexes'

/** Names, addresses and numbers of stations and controllers against each other. */
export const planIdentityRules = [
  planRule<Record<string, never>>({
    code: 'project.empty',
    severity: 'note',
    find: function* ({ derived }) {
      if (derived.totals.stations === 0) yield { at: atProject(derived), facts: {} }
    },
    say: () => 'The plan has no station yet; add one on the Board.',
  }),

  planRule<{ name: string; others: string[] }>({
    code: 'station.nameDuplicate',
    severity: 'blocker',
    find: function* ({ indexes }) {
      for (const name of indexes.names.shared)
        yield* laterOnes(indexes.names.usersOf(name), ({ station }) => ({ name: station.name }))
    },
    say: ({ name, others }) =>
      `The station name "${name}" is used by ${others.length + 1} stations; every station needs its own.`,
    fixes: ({ name }, { id }, _, { plan }) => {
      const network = plan.networks[plan.stations[id]?.station.networkId ?? '']
      const free = freeNameFor(
        plan,
        id,
        network && kindOf(network).hasWireNames ? legalStationName(name) : name,
      )
      return [
        { label: `Name it ${free}`, command: { type: 'updateStation', id, set: { name: free } } },
      ]
    },
  }),

  planRule<{ ip: string; fault: IpFault; subnet: string }>({
    code: 'station.ip',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { network, stations } of derived.controllers.flatMap(({ networks }) => networks)) {
        if (!kindOf(network).hasIp) continue
        const subnet = subnetOfNetwork(network)
        for (const view of stations) {
          const ip = ipOf(view.station)
          const fault = ipFault(ip, subnet)
          if (fault)
            yield {
              at: atStation(view),
              facts: { ip, fault, subnet: subnet ? formatSubnet(subnet) : '' },
            }
        }
      }
    },
    say: ({ ip, fault, subnet }, at) =>
      ({
        illegal: `"${ip}" of ${at.words} is no IP address; four numbers from 0 to 255 are needed, such as 192.168.0.10.`,
        outside: `${ip} of ${at.words} lies outside the network's subnet ${subnet}.`,
        network: `${ip} of ${at.words} is the address of the subnet ${subnet} itself.`,
        broadcast: `${ip} of ${at.words} is the broadcast address of the subnet ${subnet}.`,
      })[fault],
    fixes: (_, { id }, __, now) => otherFixes(now, id, 'ip'),
  }),

  planRule<{ ip: string; others: string[] }>({
    code: 'station.ipDuplicate',
    severity: 'blocker',
    find: function* ({ derived, indexes }) {
      for (const key of indexes.ips.shared) {
        const users = indexes.ips.usersOf(key).sort(byPlace)
        for (const [i, view] of users.entries()) {
          const others = users.slice(0, i).filter((other) => !sharesAddress(derived, view, other))
          if (others[0])
            yield {
              at: atStation(view),
              facts: { ip: ipOf(view.station), others: [nameOf(others[0].station.name)] },
            }
        }
      }
      for (const network of Object.values(derived.plan.networks)) {
        if (!kindOf(network).hasIp) continue
        const ip = controllerIpOf(network)
        for (const view of indexes.ips.usersOf(ipKey(network, ip))) {
          yield {
            at: atStation(view),
            facts: { ip, others: [`the controller on ${network.name}`] },
          }
        }
      }
    },
    say: ({ ip, others }, at) =>
      `${at.words} has the IP address ${ip}, which ${others.join(' and ')} already ${others.length > 1 ? 'have' : 'has'}.`,
    fixes: (_, { id }, __, now) => otherFixes(now, id, 'ip'),
  }),

  planRule<{ number: number; word: string; others: string[] }>({
    code: 'station.deviceNumberDuplicate',
    severity: 'blocker',
    find: function* ({ derived, indexes }) {
      for (const key of indexes.deviceNumbers.shared)
        yield* laterOnes(indexes.deviceNumbers.usersOf(key), ({ station }) => ({
          number: station.deviceNumber,
          word: wordOfNumber(derived, station.networkId),
        }))
    },
    say: ({ number, word, others }, at) =>
      `${at.words} has the ${word} ${number}, which ${others.join(' and ')} already ${others.length > 1 ? 'have' : 'has'}.`,
    fixes: (_, { id }, __, now) => otherFixes(now, id, 'deviceNumber'),
  }),

  planRule<{ ip: string; network: string }>({
    code: 'network.controllerIp',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const network of Object.values(derived.plan.networks)) {
        if (!kindOf(network).hasIp) continue
        const { id, name } = network
        const controllerIp = controllerIpOf(network)
        const subnet = subnetOfNetwork(network)
        const address = parseIp(controllerIp)
        if (!subnet || address === subnet.network || address === subnet.broadcast)
          yield {
            at: { kind: 'network', id, words: name },
            facts: { ip: controllerIp, network: name },
          }
      }
    },
    say: ({ ip, network }) =>
      `"${ip}" cannot be the controller's IP address on ${network}; a free address of the subnet is needed.`,
  }),

  planRule<{ ip: string; other: string; controllers: readonly [string, string] }>({
    code: 'network.controllerIpDuplicate',
    severity: 'blocker',
    find: function* ({ derived: { plan } }) {
      const first = new Map<string, NetworkRow>()
      for (const network of Object.values(plan.networks).sort(
        (a, b) => a.position - b.position || (a.id < b.id ? -1 : 1),
      )) {
        const ip = controllerIpOf(network)
        if (!kindOf(network).hasIp || parseIp(ip) === null) continue
        const key = ipKey(network, ip)
        const other = first.get(key)
        if (!other) first.set(key, network)
        // One controller may serve two networks by one interface.
        else if (other.controllerId !== network.controllerId)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: {
              ip,
              other: other.name,
              controllers: [nameOfController(plan, network), nameOfController(plan, other)],
            },
          }
      }
    },
    say: ({ ip, other, controllers }, at) =>
      `${controllers[0]} has the IP address ${ip} on ${at.words}, which ${controllers[1]} has on ${other}; both are on one cable.`,
    fixes: (_, { id }, __, { plan }) => {
      const network = plan.networks[id]!
      const taken = ipsOnCable(plan, network)
      for (let host = 1; host < 65_536; host++) {
        const ip = ipOfHost(network, host)
        if (ip === null) break
        if (!taken.has(ip))
          return [
            {
              label: `Give the controller ${ip}`,
              command: { type: 'updateNetwork', id, set: { settings: { controllerIp: ip } } },
            },
          ]
      }
      return []
    },
  }),
]

const nameOfController = ({ controllers }: Plan, { controllerId }: NetworkRow) =>
  nameOf(controllers[controllerId]?.name ?? '')

function atProject({ plan }: Derived): FindingPlace {
  return { kind: 'project', id: plan.project.id, words: plan.project.name }
}

const byPlace = (a: DerivedStation, b: DerivedStation) =>
  a.station.position - b.station.position || (a.id < b.id ? -1 : 1)

/** Modbus units behind one address, and one unit that two controllers ask, are no conflict of
 *  addresses. */
function sharesAddress({ plan }: Derived, a: DerivedStation, b: DerivedStation): boolean {
  const [one, other] = [plan.networks[a.station.networkId]!, plan.networks[b.station.networkId]!]
  if (!kindOf(one).number.isUnit || !kindOf(other).number.isUnit) return false
  return (
    a.station.deviceNumber !== b.station.deviceNumber || one.controllerId !== other.controllerId
  )
}

/** Of stations that share something, all but the first in plan order are at fault. */
function* laterOnes<Facts extends object>(
  users: DerivedStation[],
  facts: (view: DerivedStation) => Facts,
) {
  const [first, ...later] = users.sort(byPlace)
  for (const view of later)
    yield { at: atStation(view), facts: { ...facts(view), others: [nameOf(first!.station.name)] } }
}

function wordOfNumber(derived: Derived, networkId: Id): string {
  const network = derived.plan.networks[networkId]
  return network ? kindOf(network).number.word.toLowerCase() : 'number'
}
