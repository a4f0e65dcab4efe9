import { oneOr, plural } from '../vocabulary/plural'
import { timesOfConnection } from '../protocols/ethernet-ip/times'
import { protocolOf, wireOrderOf } from '../protocols/registry'
import {
  hasByteOrder,
  passage,
  sameTurn,
  turnNeeded,
  turnOf,
  turnWords,
} from '../addressing/byte-order'
import type { Turn } from '../vocabulary/byte-order'
import { numberKindOf } from '../vocabulary/data-kind'
import { placeOf } from '../vocabulary/data-place'
import { areaFor } from '../image/image'
import { gapBefore, standsRight, wordAlignment, type Alignment } from '../catalog/alignment'
import { carriesModules, hasRoomFor, neededInside } from '../catalog/inside'
import type { Channel } from '../catalog/layout'
import type { Direction } from '../vocabulary/direction'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import { namedOn, suggestConnection } from '../placement/connections'
import {
  atModule,
  atStation,
  stationRule,
  type FindingPlace,
  type Fix,
  type StationScope,
} from './finding'

const readdress = (moduleId: string, label = 'Move it to free bytes'): Fix => ({
  label,
  command: { type: 'readdress', moduleId },
})
const sides = { in: 'input', out: 'output' } as const

/** Where the data of one station stand in the image, how they get there, and its connection. */
export const imageRules = [
  stationRule<{ direction: 'in' | 'out'; bytes: number; moduleId: string }>({
    code: 'image.noAddress',
    severity: 'blocker',
    find: function* ({ view }) {
      // What stands in the head's data has no address of its own.
      const { device, modules } = view
      const owners = carriesModules(device) ? modules.slice(0, 1) : modules
      const all = owners.reduce((sum, { layout }) => sum + (layout?.blocks.length ?? 0), 0)
      if (all === view.blocks.length) return
      const placed = new Set(
        view.blocks.map(({ module, block }) => `${module.id}/${block.subslot}/${block.direction}`),
      )
      for (const module of owners) {
        for (const { subslot, direction, bytes } of module.layout?.blocks ?? []) {
          if (!placed.has(`${module.id}/${subslot}/${direction}`))
            yield { at: atModule(view, module), facts: { direction, bytes, moduleId: module.id } }
        }
      }
    },
    say: ({ direction, bytes }, at) =>
      `${bytes} ${sides[direction]} ${plural(bytes, 'byte')} of ${at.words} have no address.`,
    fixes: ({ moduleId }) => [readdress(moduleId, 'Give it free bytes')],
  }),

  stationRule<{
    direction: 'in' | 'out'
    byte: number
    from: number
    to: number
    controller: string
  }>({
    code: 'image.area',
    severity: 'warning',
    find: function* ({ view, network, controller }) {
      if (
        !controller ||
        !network ||
        (controller.areas.length === 0 &&
          controller.firstInput === 0 &&
          controller.firstOutput === 0)
      )
        return
      for (const { module, block, byte } of view.blocks) {
        const { from, to } = areaFor(controller, network.id, block.content, block.direction)
        if (byte < from || byte + block.bytes > Math.max(to, from))
          yield {
            at: atModule(view, module),
            facts: {
              direction: block.direction,
              byte,
              from,
              to: to - 1,
              controller: controller.name,
            },
          }
      }
    },
    say: ({ direction, byte, from, to, controller }, at) =>
      `${at.words} stands at ${sides[direction]} byte ${byte}; ${controller} keeps its kind of data from ${from} to ${to}.`,
    fixes: (_, { id }) => [readdress(id, 'Move it there')],
  }),

  stationRule<{ byte: number; align: Alignment }>({
    code: 'image.alignment',
    severity: 'note',
    find: function* ({ view, controller }) {
      if (!controller?.aligned) return
      for (const {
        module,
        block: { align },
        byte,
      } of view.blocks)
        if (gapBefore(byte, align) !== 0)
          yield { at: atModule(view, module), facts: { byte, align } }
    },
    say: ({ byte, align }, at) =>
      `${at.words} begins at byte ${byte}; its numbers want ${wordAlignment(align)}.`,
    fixes: (_, { id }) => [readdress(id)],
  }),

  stationRule<{ names: readonly string[]; controller: string }>({
    code: 'image.alignmentForced',
    severity: 'note',
    find: function* ({ view, controller }) {
      if (!controller?.aligned) return
      for (const { module, block, byte } of view.blocks) {
        if (block.align.forced === 0) continue
        const numbers = module.layout!.channels.filter(
          (channel) =>
            channel.kind === 'analog' &&
            channel.subslot === block.subslot &&
            channel.direction === block.direction,
        )
        yield {
          at: atModule(view, module),
          facts: {
            names: numbers.filter((number) => !standsRight(number, byte)).map(({ name }) => name),
            controller: controller.name,
          },
        }
      }
    },
    say: ({ names, controller }, at) =>
      `${at.words} lays its data out so that ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''} cannot be aligned as ${controller} asks, wherever it begins; its program has to put ${plural(names.length, 'that number', 'those numbers')} together from bytes.`,
  }),

  stationRule<{ way: string; bytes: number; most: number }>({
    code: 'station.largeOpen',
    severity: 'warning',
    find: (scope) => sizesOver(scope, 'large'),
    say: ({ way, bytes, most }, at) =>
      `${at.words} carries ${bytes} bytes of ${way} data in one connection; above ${most} it has to be opened by Large_Forward_Open, which controller and device both have to know.`,
  }),

  stationRule<{ way: string; bytes: number; most: number }>({
    code: 'station.fragments',
    severity: 'blocker',
    find: (scope) => sizesOver(scope, 'frame'),
    say: ({ way, bytes, most }, at) =>
      `${at.words} carries ${bytes} bytes of ${way} data in one connection; above ${most} they do not fit one Ethernet frame, and cyclic data are not sent in pieces.`,
  }),

  stationRule<TurnedValues>({
    code: 'image.byteOrder',
    severity: 'warning',
    find: function* ({ view, controller }) {
      if (!controller || !view.device) return
      for (const module of view.modules) {
        const wrong = turnedValues(view, module, controller.byteOrder)
        if (wrong) yield { at: atModule(view, module), facts: wrong }
      }
    },
    say: ({ values, example, seen }, at) =>
      `${oneOr(values.length, 'A number', 'numbers')} of ${at.words} reach the program with their octets in another order: ${example} shows as ${seen}.`,
    fixes: ({ values, turn }, { id }) => [
      {
        label: `Take them ${turnWords[turn]}`,
        command: {
          type: 'setByteOrder',
          moduleId: id,
          values: values.map(placeOf),
          turn,
        },
      },
    ],
  }),

  stationRule<{ intervalUs: number; from: number; to: number; set: object }>({
    code: 'station.interval',
    severity: 'blocker',
    find: function* ({ view }) {
      const { device, station } = view
      const connection = device?.connections.find(({ key }) => key === station.connection)
      const limits = connection?.intervalLimitsUs
      if (!limits) return
      const [from, to] = limits
      for (const key of ['outputIntervalUs', 'inputIntervalUs'] as const) {
        const intervalUs = timesOfConnection(station, connection)[key]
        if (intervalUs === null || (intervalUs >= from && intervalUs <= to)) continue
        const nearest = Math.min(to, Math.max(from, intervalUs))
        yield { at: atStation(view), facts: { intervalUs, from, to, set: { [key]: nearest } } }
        return
      }
    },
    say: ({ intervalUs, from, to }, at) =>
      `${at.words} is asked for data every ${intervalUs / 1000} ms; its description allows ${from / 1000} to ${to / 1000} ms.`,
    fixes: ({ set }, { id }) => [
      {
        label: `Ask every ${Object.values(set)[0] / 1000} ms`,
        command: { type: 'updateStation', id, set: { settings: set } },
      },
    ],
  }),

  stationRule<{ baud: number; bauds: readonly number[] }>({
    code: 'station.baud',
    severity: 'blocker',
    find: function* ({ view, network }) {
      if (!view.device || !network || !('line' in network.settings)) return
      const { baud } = network.settings.line
      const bauds = protocolOf(view.device).bitRates?.(view.device) ?? []
      if (bauds.length > 0 && !bauds.includes(baud))
        yield { at: atStation(view), facts: { baud, bauds } }
    },
    say: ({ baud, bauds }, at) =>
      `The line runs at ${baud} bit/s, which ${at.words} does not know; it takes ${bauds.join(', ')}.`,
  }),

  stationRule<{
    connection: string
    direction: Direction
    needed: number
    has: number
    larger: { key: string; name: string } | null
    file: string
    device: string
  }>({
    code: 'station.connectionRoom',
    severity: 'blocker',
    find: function* ({ view }) {
      const { device, station, modules } = view
      const chosen = device?.connections.find(({ key }) => key === station.connection)
      const needed = device && neededInside(device, modules)
      if (!device || !chosen || !needed) return
      const larger = device.connections.find((one) => hasRoomFor(one, needed)) ?? null
      for (const [direction, bytes, has] of [
        ['in', needed.inputBytes, chosen.inputBytes],
        ['out', needed.outputBytes, chosen.outputBytes],
      ] as const) {
        if (bytes > has)
          yield {
            at: atStation(view),
            facts: {
              connection: chosen.name,
              direction,
              needed: bytes,
              has,
              larger,
              file: station.file,
              device: station.device,
            },
          }
      }
    },
    say: ({ connection, direction, needed, has }, at) =>
      `${at.words} has ${needed} ${sides[direction]} ${plural(needed, 'byte')} of data, and its connection "${connection}" carries ${has}.`,
    fixes: ({ larger, file, device }, { id }) =>
      larger
        ? [
            {
              label: `Choose ${larger.name}`,
              command: { type: 'replaceHead', id, file, device, connection: larger.key },
            },
          ]
        : [],
  }),

  stationRule<{
    connection: string
    now: number
    then: number
    key: string
    file: string
    device: string
  }>({
    code: 'station.connection',
    severity: 'note',
    find: function* ({ view }) {
      const { device, station, modules } = view
      const chosen = device?.connections.find(({ key }) => key === station.connection)
      const [head] = modules
      if (!device || !chosen || !head?.layout || device.connections.length < 2) return
      const wanted = new Set(namedOn(chosen, head))
      if (wanted.size === 0) return
      const smaller = suggestConnection(device, wanted, neededInside(device, modules))
      const [now, then] = [chosen, smaller ?? chosen].map(
        ({ inputBytes, outputBytes }) => inputBytes + outputBytes,
      ) as [number, number]
      if (smaller && then < now)
        yield {
          at: atStation(view),
          facts: {
            connection: smaller.name,
            now,
            then,
            key: smaller.key,
            file: station.file,
            device: station.device,
          },
        }
    },
    say: ({ connection, now, then }, at) =>
      `All that is named of ${at.words} is also carried by "${connection}", with ${then} bytes instead of ${now}.`,
    fixes: ({ connection, key, file, device }, { id }) => [
      {
        label: `Take ${connection}`,
        command: { type: 'replaceHead', id, file, device, connection: key },
      },
    ],
  }),
]

/** Data of a connection beyond what its protocol has room for, to the controller and from it. */
function* sizesOver(
  { view }: StationScope,
  which: 'large' | 'frame',
): Iterable<{ at: FindingPlace; facts: { way: string; bytes: number; most: number } }> {
  const most = view.device && protocolOf(view.device).connectionLimits?.[which]
  const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
  if (!most || !connection) return
  for (const [way, bytes, limit] of [
    ['input', connection.inputBytes, most.in],
    ['output', connection.outputBytes, most.out],
  ] as const) {
    if (bytes > limit) yield { at: atStation(view), facts: { way, bytes, most: limit } }
  }
}

interface TurnedValues {
  readonly values: readonly Channel[]
  readonly turn: Turn
  readonly example: string
  readonly seen: string
}

/** Numbers of a module that the program would read with their octets in another order; those of the
 *  first width, so that one turn mends them. */
function turnedValues(
  view: DerivedStation,
  module: DerivedModule,
  program: 'network' | 'little' | 'big',
): TurnedValues | null {
  const orders = ordersOf(view, module)
  if (program === 'network' && Object.keys(orders).length === 0) return null
  const numbers = (module.layout?.channels ?? []).filter(
    (channel) => channel.kind === 'analog' && hasByteOrder(channel),
  )
  const wireOf = ({ order }: Channel) => order ?? wireOrderOf(view.device!)
  const wrong = numbers.filter(
    (channel) =>
      !sameTurn(
        channel.bits,
        turnOf(orders, channel),
        turnNeeded(channel.bits, wireOf(channel), program),
      ),
  )
  const [first] = wrong
  if (!first) return null
  const values = wrong.filter(
    (channel) => channel.bits === first.bits && wireOf(channel) === wireOf(first),
  )
  const kind = numberKindOf(first.holds)
  const { seen } = passage(kind === 'float' ? 20 : 1000, first.bits, kind, {
    wire: wireOf(first),
    turn: turnOf(orders, first),
    program,
  })
  return {
    values,
    turn: turnNeeded(first.bits, wireOf(first), program),
    example: kind === 'float' ? '20' : '1000',
    seen: String(kind === 'float' ? Number(seen.toPrecision(4)) : seen),
  }
}

function ordersOf(view: DerivedStation, module: DerivedModule) {
  return module.row?.orders ?? view.station.orders
}
