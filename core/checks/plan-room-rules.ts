import { oneOr, plural } from '../vocabulary/plural'
import type { Direction } from '../vocabulary/direction'
import { kindOfChannel } from '../catalog/words'
import { signalOn, type Derived, type PlacedBlock } from '../derive/derive'
import { describedController, interfaceOf } from '../networks/interfaces'
import { overdrawn, supplySteps } from '../placement/supply'
import type { ControllerRow, Id, Plan } from '../plan/model'
import { kindOf } from '../protocols/registry'
import { atModule, atStation, nameOf, planRule, type FindingPlace } from './finding'

/** Room: supply, interfaces and images of controllers, networks with all their stations. */
export const planRoomRules = [
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
        for (const kind of new Set(networks.map(({ network }) => network.settings.kind))) {
          const own = networks.filter(({ network }) => network.settings.kind === kind)
          const { name, wiring } = kindOf(own[0]!.network)
          // Its own slots, and what stands between stations, need no interface.
          if (!wiring) continue
          const planned = own.length
          const has = traits.interfaces.filter((one) => one.kind === kind).length
          if (planned > has) yield { at, facts: { kind: name, planned, has, device } }
        }
      }
    },
    say: ({ kind, planned, has, device }, at) =>
      `${at.words} has ${planned} ${kind} ${plural(planned, 'network')}; ${device} has ${has === 0 ? 'no interface' : oneOr(has, 'one interface', 'interfaces')} for it.`,
  }),

  planRule<{ stations: number; most: number; device: string }>({
    code: 'network.stations',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { network, stations, own, device } of describedInterfaces(derived))
        if (own.maxStations !== null && stations.length > own.maxStations)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: { stations: stations.length, most: own.maxStations, device },
          }
    },
    say: ({ stations, most, device }, at) =>
      `${at.words} has ${stations} stations; its interface of ${device} takes at most ${most}.`,
  }),

  planRule<{ packets: number; most: number; device: string }>({
    code: 'network.packets',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { network, stations, own, device } of describedInterfaces(derived)) {
        if (own.maxPackets === null) continue
        const cycle = kindOf(network).times?.cycle?.(network.settings as never, stations)
        const packets = Math.round(cycle?.packetsPerSecond ?? 0)
        if (packets > own.maxPackets)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: { packets, most: own.maxPackets, device },
          }
      }
    },
    say: ({ packets, most, device }, at) =>
      `${at.words} has ${packets} packets a second; its interface of ${device} takes ${most}.`,
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
function* describedControllers({ plan, catalog, controllers }: Derived) {
  for (const { controller, networks } of controllers) {
    const described = describedController(plan, catalog, controller.id)
    if (described) yield { controller, networks, ...described, device: described.name }
  }
}

/** Networks with the interface that each has. */
function* describedInterfaces(derived: Derived) {
  for (const { networks, device, ...described } of describedControllers(derived))
    for (const { network, stations } of networks) {
      const own = interfaceOf(derived.plan.networks, described, network)
      if (own) yield { network, stations, own, device }
    }
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
