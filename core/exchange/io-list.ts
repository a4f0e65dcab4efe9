import { register } from '../protocols/modbus/notation'
import { isEmpty } from '../vocabulary/records'
import { formatAddress, type NotationName } from '../addressing/notations'
import { findDevice } from '../catalog/catalog'
import type { Channel, Layout } from '../catalog/layout'
import { portKey } from '../catalog/placed'
import { kindOfChannel } from '../catalog/words'
import {
  channelAddress,
  notationOf,
  signalOn,
  type Derived,
  type DerivedModule,
  type DerivedNetwork,
  type DerivedStation,
} from '../derive/derive'
import type { SignalRow } from '../plan/model'
import { CannotExport } from './options'
import { factColumns, factNames, type FactName } from '../signals/facts'

/** One row of the I/O list: a channel with its signal, or a signal that has no channel. */
export interface IoRow extends Readonly<Partial<Record<FactName, string>>> {
  readonly network: string
  readonly station: string
  readonly slot: number | null
  /** Where a module has several; what hangs on the port there; and what the device itself calls the
   *  place, where it counts registers. */
  readonly subslot: number | null
  readonly port: string
  readonly register: string
  readonly module: string
  readonly channel: string
  readonly terminal: string
  readonly kind: string
  readonly type: string
  readonly address: string
  readonly tag: string
  readonly comment: string
}

/** Columns in order, with their headings. */
export const ioColumns: readonly {
  readonly key: keyof IoRow
  readonly heading: string
  readonly width: number
}[] = [
  { key: 'network', heading: 'Network', width: 14 },
  { key: 'station', heading: 'Station', width: 18 },
  { key: 'slot', heading: 'Slot', width: 6 },
  { key: 'subslot', heading: 'Subslot', width: 8 },
  { key: 'module', heading: 'Module', width: 28 },
  { key: 'port', heading: 'Below its port', width: 20 },
  { key: 'channel', heading: 'Channel', width: 16 },
  { key: 'terminal', heading: 'Terminal', width: 10 },
  { key: 'kind', heading: 'Kind', width: 6 },
  { key: 'type', heading: 'Type', width: 12 },
  { key: 'address', heading: 'Address', width: 12 },
  { key: 'register', heading: 'Register of the device', width: 24 },
  { key: 'tag', heading: 'Tag', width: 28 },
  { key: 'comment', heading: 'Comment', width: 40 },
  ...factNames.map((key) => ({
    key,
    heading: factColumns[key].heading,
    width: Math.round(factColumns[key].width / 7),
  })),
]

/** The columns that somebody chose, in that order; all of them where nobody did. */
export function shownColumns(chosen: readonly string[]): typeof ioColumns {
  if (chosen.length === 0) return ioColumns
  return chosen.map((key) => {
    const column = ioColumns.find((one) => one.key === key)
    if (column) return column
    const known = ioColumns.map((one) => one.key).join(', ')
    throw new CannotExport(`The I/O list has no column "${key}"; there are ${known}.`)
  })
}

/** One channel wherever it is listed: Ledger, I/O list, patterns. */
export interface ListedChannel extends StationChannel {
  readonly network: DerivedNetwork
}

export interface StationChannel {
  readonly view: DerivedStation
  readonly module: DerivedModule
  readonly channel: Channel
  /** Number of the channel on its module, from 0. */
  readonly number: number
  readonly signal: SignalRow | null
}

/** All channels in the order of the Board: network, station, slot, channel. */
export function* listChannels(derived: Derived): Generator<ListedChannel> {
  for (const { networks } of derived.controllers) {
    for (const network of networks) {
      for (const view of network.stations)
        for (const one of channelsOfStation(view)) yield { ...one, network }
    }
  }
}

/** The channels of one station in the order of its slots. */
export function* channelsOfStation(view: DerivedStation): Generator<StationChannel> {
  for (const module of view.modules) {
    let number = 0
    for (const channel of module.layout?.channels ?? [])
      yield { view, module, channel, number: number++, signal: signalOn(module, channel) }
  }
}

/** Facts in words, where any are known. */
function wordFacts(signal: SignalRow | null): Partial<Record<FactName, string>> {
  if (!signal || isEmpty(signal.facts)) return {}
  return Object.fromEntries(factNames.map((name) => [name, factColumns[name].word(signal.facts)]))
}

const several = new WeakMap<Layout, boolean>()
function hasSeveral({ layout }: DerivedModule): boolean {
  if (!layout) return false
  let known = several.get(layout)
  if (known === undefined)
    several.set(layout, (known = new Set(layout.channels.map(({ subslot }) => subslot)).size > 1))
  return known
}

/** The device below a port. */
function portDevice(
  { catalog }: Derived,
  { plugged }: DerivedModule,
  { subslot, belowPort }: Channel,
): string {
  const part = plugged[belowPort === undefined ? subslot : portKey(belowPort)]
  return part && part.file !== '' ? (findDevice(catalog, part.file, part.device)?.name ?? '') : ''
}

/** Every channel in the Board's order; addresses in the notation given, else in that of each
 *  controller. */
export function ioList(derived: Derived, notation?: NotationName): IoRow[] {
  const rows: IoRow[] = []
  for (const { view, network, module, channel, signal } of listChannels(derived)) {
    const place = channelAddress(module, channel)
    rows.push({
      network: network.network.name,
      station: view.station.name,
      slot: module.slot,
      subslot: hasSeveral(module) ? channel.subslot : null,
      port: portDevice(derived, module, channel),
      register: register.format(view, { module, channel }) ?? '',
      module: module.described?.name ?? '',
      channel: channel.name,
      terminal: signal?.terminal ?? '',
      kind: kindOfChannel(channel),
      type: channel.type,
      address: place
        ? formatAddress(place, notation ?? notationOf(derived.plan, view.station))
        : '',
      tag: signal?.tag ?? '',
      comment: signal?.comment ?? '',
      ...wordFacts(signal),
    })
  }
  for (const signal of Object.values(derived.plan.unplaced)) {
    const { tag, comment, terminal } = signal
    rows.push({
      network: '',
      station: '',
      slot: null,
      subslot: null,
      port: '',
      register: '',
      module: '',
      channel: '',
      terminal,
      kind: '',
      type: '',
      address: '',
      tag,
      comment,
      ...wordFacts(signal),
    })
  }
  return rows
}
