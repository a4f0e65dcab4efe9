import { formatSubnet, ipFault, parseIp, subnetOf, type IpFault } from '../addressing/ip'
import { legalStationName } from '../addressing/station-name'
import type { Direction } from '../vocabulary/direction'
import { kindOfChannel } from '../catalog/words'
import { signalOn, type Derived, type PlacedBlock, type DerivedStation } from '../derive/derive'
import { overdrawn, supplySteps } from '../placement/supply'
import type { ControllerRow, Id, NetworkRow, Plan } from '../plan/model'
import { ipOfHost, ipsOnCable } from '../changing/identities'
import { kindOf, networkKinds } from '../protocols/network-kinds'
import { legalTag, tagFault, tagIdentity } from '../tags/identifier'
import { atModule, atStation, nameOf, planRule, type FindingPlace, type Fix } from './finding'
import { freeNameFor, freeTag, otherFixes } from './free'
import { ipKey, type TagUser } from './indexes'

/** Rules that compare stations, signals and images with each other. */
export const planRules = [
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
        const subnet = subnetOf(network.controllerIp, network.prefixLength)
        for (const view of stations) {
          const fault = ipFault(view.station.ip, subnet)
          if (fault)
            yield {
              at: atStation(view),
              facts: { ip: view.station.ip, fault, subnet: subnet ? formatSubnet(subnet) : '' },
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
              facts: { ip: view.station.ip, others: [nameOf(others[0].station.name)] },
            }
        }
      }
      for (const network of Object.values(derived.plan.networks)) {
        if (!kindOf(network).hasIp) continue
        for (const view of indexes.ips.usersOf(ipKey(network, network.controllerIp))) {
          yield {
            at: atStation(view),
            facts: { ip: network.controllerIp, others: [`the controller on ${network.name}`] },
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
      for (const { id, name, kind, controllerIp, prefixLength } of Object.values(
        derived.plan.networks,
      )) {
        if (!networkKinds[kind].hasIp) continue
        const subnet = subnetOf(controllerIp, prefixLength)
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
        if (!kindOf(network).hasIp || parseIp(network.controllerIp) === null) continue
        const key = ipKey(network, network.controllerIp)
        const other = first.get(key)
        if (!other) first.set(key, network)
        // One controller may serve two networks by one interface.
        else if (other.controllerId !== network.controllerId)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: {
              ip: network.controllerIp,
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
              command: { type: 'updateNetwork', id, set: { controllerIp: ip } },
            },
          ]
      }
      return []
    },
  }),

  planRule<{ drawnMa: number; suppliedMa: number }>({
    code: 'network.supply',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { network, stations } of derived.controllers.flatMap(({ networks }) => networks)) {
        if (!kindOf(network).sharesBackplane) continue
        const over = overdrawn(supplySteps(stations.flatMap(({ modules }) => modules)))
        for (const { module, drawnMa, suppliedMa } of over) {
          const view = derived.stations.get(module.row?.stationId ?? module.id)!
          yield {
            at: module.row ? atModule(view, module) : atStation(view),
            facts: { drawnMa, suppliedMa },
          }
        }
      }
    },
    say: ({ drawnMa, suppliedMa }, at) =>
      `With ${at.words} the backplane gives ${drawnMa} mA, but the coupler or feed before it only lasts for ${suppliedMa} mA; another one is needed before it.`,
  }),

  planRule<{
    what: string
    planned: number
    room: number
    device: string
    set: { inputBytes?: number; outputBytes?: number }
  }>({
    code: 'controller.image',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { controller, traits, device } of describedControllers(derived)) {
        const at: FindingPlace = { kind: 'controller', id: controller.id, words: controller.name }
        for (const [what, property] of [
          ['input', 'inputBytes'],
          ['output', 'outputBytes'],
        ] as const) {
          const [planned, room] = [controller[property], traits[property]]
          if (planned > room)
            yield { at, facts: { what, planned, room, device, set: { [property]: room } } }
        }
      }
    },
    say: ({ what, planned, room, device }, at) =>
      `${at.words} is planned with ${planned} ${what} bytes; ${device} has ${room}.`,
    fixes: ({ what, room, set }, { id }, __, { stations, plan }) =>
      isBeyond(stations, plan, id, what, room)
        ? []
        : [{ label: `Plan it with ${room} bytes`, command: { type: 'updateController', id, set } }],
  }),

  planRule<{ kind: string; planned: number; has: number; device: string }>({
    code: 'controller.interfaces',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { controller, networks, traits, device } of describedControllers(derived)) {
        const at: FindingPlace = { kind: 'controller', id: controller.id, words: controller.name }
        for (const kind of new Set(networks.map(({ network }) => network.kind))) {
          if (kind === 'local') continue
          const planned = networks.filter(({ network }) => network.kind === kind).length
          const has = traits.interfaces.filter((one) => one.kind === kind).length
          if (planned > has)
            yield { at, facts: { kind: networkKinds[kind].name, planned, has, device } }
        }
      }
    },
    say: ({ kind, planned, has, device }, at) =>
      `${at.words} has ${planned} ${kind} ${planned === 1 ? 'network' : 'networks'}; ${device} has ${has === 0 ? 'no interface' : has === 1 ? 'one interface' : `${has} interfaces`} for it.`,
  }),

  planRule<{ stations: number; most: number; device: string }>({
    code: 'network.stations',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { networks, traits, device } of describedControllers(derived)) {
        for (const { network, stations } of networks) {
          // Interfaces of a kind go to its networks in order.
          const most =
            traits.interfaces.filter(({ kind }) => kind === network.kind)[
              networks
                .filter((one) => one.network.kind === network.kind)
                .findIndex((one) => one.network.id === network.id)
            ]?.maxStations ?? null
          if (most !== null && stations.length > most)
            yield {
              at: { kind: 'network', id: network.id, words: network.name },
              facts: { stations: stations.length, most, device },
            }
        }
      }
    },
    say: ({ stations, most, device }, at) =>
      `${at.words} has ${stations} stations; its interface of ${device} takes at most ${most}.`,
  }),

  planRule<{ first: PlacedBlock; second: PlacedBlock; other: string; direction: Direction }>({
    code: 'image.overlap',
    severity: 'blocker',
    find: function* ({ derived, indexes }) {
      for (const { controller } of derived.controllers) {
        for (const direction of ['in', 'out'] as const) {
          if (indexes.useOf(controller.id, direction).doubled > 0)
            yield* overlaps(derived, controller, direction)
        }
      }
    },
    say: ({ first, second, other, direction }, at) => {
      const from = second.byte
      const to = Math.min(first.byte + first.block.bytes, second.byte + second.block.bytes) - 1
      return `${at.words} and ${other} share ${direction === 'in' ? 'input' : 'output'} ${from === to ? `byte ${from}` : `bytes ${from} to ${to}`}.`
    },
    fixes: (_, { id, words }) => [
      { label: `Move ${words} to free bytes`, command: { type: 'readdress', moduleId: id } },
    ],
  }),

  planRule<{ controller: string; used: number; size: number; what: string }>({
    code: 'image.nearlyFull',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const { controller, inputBytes, outputBytes } of derived.controllers) {
        const at: FindingPlace = { kind: 'controller', id: controller.id, words: controller.name }
        for (const [what, used, size] of [
          ['input', inputBytes, controller.inputBytes],
          ['output', outputBytes, controller.outputBytes],
        ] as const) {
          if (used > size * 0.9 && used <= size)
            yield { at, facts: { controller: controller.name, used, size, what } }
        }
      }
    },
    say: ({ controller, used, size, what }) =>
      `${used} of ${size} ${what} bytes of ${controller} are given out; less than a tenth is left.`,
  }),

  planRule<{ controller: string; kind: string; free: number; all: number; wanted: number }>({
    code: 'controller.spare',
    severity: 'warning',
    find: function* ({ derived: { plan, controllers } }) {
      const wanted = plan.project.sparePercent
      if (wanted === 0) return
      for (const { controller, networks } of controllers) {
        const kinds = new Map<string, { free: number; all: number }>()
        for (const { stations } of networks)
          for (const { modules } of stations)
            for (const module of modules)
              for (const channel of module.layout?.channels ?? []) {
                const kind = kindOfChannel(channel)
                const count = kinds.get(kind) ?? { free: 0, all: 0 }
                kinds.set(kind, count)
                count.all++
                if (!signalOn(module, channel)) count.free++
              }
        for (const [kind, { free, all }] of kinds)
          if (free * 100 < wanted * all)
            yield {
              at: { kind: 'controller', id: controller.id, words: nameOf(controller.name) },
              facts: { controller: controller.name, kind, free, all, wanted },
            }
      }
    },
    say: ({ controller, kind, free, all, wanted }) =>
      `${nameOf(controller)} has ${free} of ${all} ${kind} channels free, ${Math.floor((free / all) * 100)} %; ${wanted} % are wanted.`,
  }),

  planRule<{ tag: string; others: string[]; user: TagUser }>({
    code: 'tag.duplicate',
    severity: 'blocker',
    find: function* ({ indexes }) {
      for (const identity of indexes.tags.shared) {
        const [first, ...later] = indexes.tags
          .usersOf(identity)
          .sort((a, b) => (a.signal.id < b.signal.id ? -1 : 1))
        for (const user of later)
          yield {
            at: atSignal(user),
            facts: { tag: user.signal.tag, others: [atSignal(first!).words], user },
          }
      }
    },
    say: ({ tag, others }, at) =>
      `The tag ${tag} at ${at.words} already stands at ${others.join(' and ')}; tags are unique without regard to case.`,
    fixes: ({ tag }, { id }, { indexes }, { plan: { project } }) => {
      const free = freeTag(tag, (one) => indexes.tags.has(tagIdentity(one)), project)
      const users = indexes.tags.usersOf(tagIdentity(tag)).map(({ signal }) => signal)
      const [here, other] = [
        users.find((signal) => signal.id === id),
        users.find((signal) => signal.id !== id),
      ]
      return [
        ...(free === null
          ? []
          : [
              {
                label: `Call it ${free}`,
                command: { type: 'editSignals', edits: [{ id, tag: free }] },
              } satisfies Fix,
            ]),
        ...(here?.place && other
          ? [
              {
                label: `Move ${other.tag} here`,
                command: {
                  type: 'batch',
                  label: `Move ${other.tag} here`,
                  commands: [
                    { type: 'removeSignals', ids: [id] },
                    { type: 'editSignals', edits: [{ id: other.id, place: here.place }] },
                  ],
                },
              } satisfies Fix,
            ]
          : []),
      ]
    },
  }),

  planRule<{ tag: string; fault: string; legal: string }>({
    code: 'tag.illegal',
    severity: 'blocker',
    find: function* ({ derived: { plan } }) {
      for (const { id, tag } of Object.values(plan.unplaced)) {
        const fault = tag === '' ? null : tagFault(tag, plan.project)
        if (fault)
          yield {
            at: { kind: 'signal', id, words: tag },
            facts: { tag, fault, legal: legalTag(tag, plan.project) },
          }
      }
    },
    say: ({ tag, fault }) =>
      `The tag "${tag}", which has no channel yet, is no IEC 61131-3 identifier: ${fault}.`,
    fixes: ({ legal }, { id }, { indexes }, { plan: { project } }) => {
      const free =
        legal === '' ? null : freeTag(legal, (one) => indexes.tags.has(tagIdentity(one)), project)
      return free === null
        ? []
        : [
            {
              label: `Call it ${free}`,
              command: { type: 'editSignals', edits: [{ id, tag: free }] },
            },
          ]
    },
  }),

  planRule<{ tag: string }>({
    code: 'signal.unplaced',
    severity: 'warning',
    find: function* ({ derived: { plan } }) {
      for (const signal of Object.values(plan.unplaced)) {
        yield {
          at: { kind: 'signal', id: signal.id, words: nameOf(signal.tag) },
          facts: { tag: signal.tag },
        }
      }
    },
    say: ({ tag }) =>
      `The signal ${nameOf(tag)} has no channel; put it on one in the Ledger or remove it.`,
    fixes: (_, { id }) => [
      { label: 'Remove the signal', command: { type: 'removeSignals', ids: [id] } },
    ],
  }),
]

/** Whether any data of a controller stand at or behind a byte. */
function isBeyond(
  stations: Derived['stations'],
  { networks }: Plan,
  controllerId: Id,
  what: string,
  byte: number,
): boolean {
  const own = [...stations.values()].filter(
    ({ station }) => networks[station.networkId]?.controllerId === controllerId,
  )
  return own.some(({ extents }) =>
    extents.some(
      (extent) => `${extent.direction}put` === what && extent.byte + extent.bytes > byte,
    ),
  )
}

/** Controllers whose own slots a device sheet describes, with what it says they have room for. */
function* describedControllers({ controllers }: Derived) {
  for (const { controller, networks } of controllers) {
    const device = networks.find(({ network }) => network.kind === 'local')?.stations[0]?.device
    if (device?.protocol === 'local' && device.sheet.controller)
      yield { controller, networks, traits: device.sheet.controller, device: device.name }
  }
}

const nameOfController = ({ controllers }: Plan, { controllerId }: NetworkRow) =>
  nameOf(controllers[controllerId]?.name ?? '')

function atProject({ plan }: Derived): FindingPlace {
  return { kind: 'project', id: plan.project.id, words: plan.project.name }
}

function atSignal({ signal, view }: TagUser): FindingPlace {
  const module = view?.modules.find(({ id }) => id === signal.place?.moduleId)
  if (!view || !module) return { kind: 'signal', id: signal.id, words: 'no channel' }
  return { ...atModule(view, module), kind: 'signal', id: signal.id }
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

function* overlaps(derived: Derived, controller: ControllerRow, direction: Direction) {
  const placed = [...derived.stations.values()]
    .filter(
      ({ station }) => derived.plan.networks[station.networkId]?.controllerId === controller.id,
    )
    .flatMap((view) =>
      view.blocks.filter(({ block }) => block.direction === direction).map((at) => ({ view, at })),
    )
    .sort((a, b) => firstBit(a.at) - firstBit(b.at) || (a.at.module.id < b.at.module.id ? -1 : 1))
  let widest = placed[0]
  for (const next of placed.slice(1)) {
    // Small blocks side by side share a byte with their own station only.
    const isOver =
      next.view === widest!.view
        ? firstBit(next.at) < lastBit(widest!.at)
        : firstBit(next.at) >> 3 <= (lastBit(widest!.at) - 1) >> 3
    if (isOver) {
      const facts = {
        first: widest!.at,
        second: next.at,
        other: atModule(widest!.view, widest!.at.module).words,
        direction,
      }
      yield { at: atModule(next.view, next.at.module), facts }
    }
    if (lastBit(next.at) > lastBit(widest!.at)) widest = next
  }
}

const firstBit = ({ byte, bit }: PlacedBlock) => byte * 8 + bit
const lastBit = (at: PlacedBlock) => firstBit(at) + at.bits

function wordOfNumber(derived: Derived, networkId: Id): string {
  const network = derived.plan.networks[networkId]
  return network ? kindOf(network).number.word.toLowerCase() : 'number'
}
