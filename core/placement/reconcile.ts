import type { Channel } from '../catalog/layout'
import type { SlotPlace } from '../catalog/model'
import { signalOn, type DerivedModule, type DerivedStation } from '../derive/derive'
import type { SingleCommand } from '../plan/commands'
import type { DeviceIdentity, ReportedDevice, SignalRow } from '../plan/model'

/** How a device below a gateway stands: planned, and nobody said which one; bound to its place;
 *  bound, but answering elsewhere or under another tag; not among those reported; reported, and
 *  planned nowhere. */
export type DeviceState = 'planned' | 'bound' | 'elsewhere' | 'missing' | 'surplus'

export interface ReconcileRow {
  readonly state: DeviceState
  /** Null for what is planned nowhere. */
  readonly module: DerivedModule | null
  readonly planned: DeviceIdentity | null
  /** What answers: the device itself, or what stands at the place of one that nobody bound. */
  readonly reported: ReportedDevice | null
  /** What is odd about it; empty where nothing is. */
  readonly why: string
}

const isSame = (a: string, b: string) => a !== '' && a.toLowerCase() === b.toLowerCase()
const isThisDevice = (identity: DeviceIdentity, reported: ReportedDevice) =>
  isSame(identity.address, reported.address) || isSame(identity.serial, reported.serial)

/** Planned devices of a gateway against those it reports, by address or serial number; places that
 *  nobody bound by node or tag. In the order of the nodes, what is planned nowhere last. */
export function reconcile({ modules, station }: DerivedStation): ReconcileRow[] {
  const left = new Set(station.reported ?? [])
  const own = modules.filter(({ row }) => row !== null)
  const take = (one: ReportedDevice | undefined) => {
    if (one) left.delete(one)
    return one ?? null
  }
  const known = new Map(
    own.map((module) => {
      const { identity } = module.row!
      const found = identity && [...left].find((one) => isThisDevice(identity, one))
      return [module, take(found ?? undefined)] as const
    }),
  )
  const rows = own.map((module): ReconcileRow => {
    const planned = module.row!.identity
    const reported = known.get(module) ?? null
    if (reported) return boundRow(module, planned!, reported)
    if (planned && planned.address + planned.serial !== '')
      return {
        state: station.reported ? 'missing' : 'planned',
        module,
        planned,
        reported: null,
        why: station.reported ? 'the gateway does not report it' : '',
      }
    const there = [...left].find(
      (one) => one.slot === module.slot || (planned !== null && isSame(planned.tag, one.tag)),
    )
    return { state: 'planned', module, planned, reported: take(there), why: '' }
  })
  const surplus = [...left].map((reported): ReconcileRow => ({
    state: 'surplus',
    module: null,
    planned: null,
    reported,
    why: 'it is planned nowhere below this gateway',
  }))
  return [...rows, ...surplus]
}

function boundRow(
  module: DerivedModule,
  planned: DeviceIdentity,
  reported: ReportedDevice,
): ReconcileRow {
  const elsewhere =
    reported.slot !== null && reported.slot !== module.slot
      ? `it answers as node ${reported.slot}`
      : planned.tag !== '' && reported.tag !== '' && !isSame(planned.tag, reported.tag)
        ? `it is bound to ${reported.tag}`
        : ''
  return {
    state: elsewhere === '' ? 'bound' : 'elsewhere',
    module,
    planned,
    reported,
    why: elsewhere,
  }
}

/** Ties a reported device to a planned place; the place keeps its tag. */
export function bindCommand(module: DerivedModule, reported: ReportedDevice): SingleCommand {
  const { address, serial } = reported
  const tag = module.row?.identity?.tag || reported.tag
  return {
    type: 'setDeviceIdentities',
    edits: [{ moduleId: module.id, identity: { tag, address, serial } }],
  }
}

/** Any device may be there again; the tag stays. */
export function unbindCommand({ id, row }: DerivedModule): SingleCommand {
  const identity = { tag: row?.identity?.tag ?? '', address: '', serial: '' }
  return { type: 'setDeviceIdentities', edits: [{ moduleId: id, identity }] }
}

/** Two places change their devices; tags and signals stay where they are. */
export function swapCommand(a: DerivedModule, b: DerivedModule): SingleCommand {
  const of = ({ row }: DerivedModule) => row?.identity ?? { tag: '', address: '', serial: '' }
  const { address, serial } = of(a)
  return {
    type: 'setDeviceIdentities',
    edits: [
      { moduleId: a.id, identity: { ...of(b), tag: of(a).tag } },
      { moduleId: b.id, identity: { tag: of(b).tag, address, serial } },
    ],
  }
}

/** One node of a gateway's table: the word and bits of its data, and the signals on them. */
export interface NodeRow {
  readonly slot: number
  readonly module: DerivedModule | null
  readonly direction: 'in' | 'out'
  readonly word: number
  /** Of that word, from the least significant. */
  readonly firstBit: number
  readonly bits: number
  readonly channels: readonly { readonly channel: Channel; readonly signal: SignalRow | null }[]
}

/** The table of a gateway whose nodes have a fixed place in words of 16 bits, node by node; empty
 *  for all other heads. */
export function nodeRows({ device, modules }: DerivedStation): NodeRow[] {
  const bySlot = new Map(modules.filter(({ row }) => row).map((module) => [module.slot, module]))
  return (device?.slots ?? []).flatMap(({ slot, at }) => {
    if (!at) return []
    const module = bySlot.get(slot) ?? null
    const row = (direction: 'in' | 'out', place: SlotPlace | null): NodeRow[] =>
      place === null
        ? []
        : [
            {
              slot,
              module,
              direction,
              word: Math.floor(place.offsetBits / 16),
              firstBit: place.offsetBits % 16,
              bits: place.bits,
              channels: (module?.layout?.channels ?? [])
                .filter((channel) => channel.direction === direction)
                .map((channel) => ({ channel, signal: signalOn(module!, channel) })),
            },
          ]
    return [...row('in', at.in), ...row('out', at.out)]
  })
}
