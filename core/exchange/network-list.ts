import type { Derived } from '../derive/derive'
import { singleFailures, wiredNetworks, type NetNode, type WiredNetwork } from '../networks'
import type { Id, LinkEnd } from '../plan/model'
import { supplyFailures, suppliesOf, wordConsumer } from '../power'
import { kindOf } from '../protocols/registry'
import { media } from '../vocabulary/medium'
import type { SheetTable } from './xlsx'

const percent = (share: number | null) =>
  share === null ? null : Number((share * 100).toPrecision(3))
const nameOf = (nodes: readonly NetNode[], id: Id) => nodes.find((node) => node.id === id)?.name
const linkName = ({ nodes }: WiredNetwork, { from, to }: { from: LinkEnd; to: LinkEnd }) =>
  [from, to].map(({ node, port }) => `${nameOf(nodes, node)} port ${port}`).join(' – ')

/** Every link of a plan, once, to be pulled by. */
export function cableTable(derived: Derived): SheetTable {
  const seen = new Set<string>()
  return {
    name: 'Cables',
    columns: [
      ['Label', 12],
      ['Network', 20],
      ['From', 22],
      ['From port', 10],
      ['To', 22],
      ['To port', 10],
      ['Medium', 18],
      ['Length (m)', 11],
      ['Cable', 18],
      ['Connector pairs', 14],
    ],
    rows: wiredNetworks(derived).flatMap(({ network, nodes, links }) =>
      links.flatMap(({ id, from, to, link }) => {
        // Networks that share a switch have its links in common.
        if (seen.has(id)) return []
        seen.add(id)
        return [
          [
            ...[link.label, network.name],
            ...[nameOf(nodes, from.node) ?? '', from.port, nameOf(nodes, to.node) ?? '', to.port],
            ...[media[link.medium].word, link.lengthM, link.cable, link.connectors],
          ],
        ]
      }),
    ),
  }
}

/** Loads of all links. */
export function loadTable(derived: Derived): SheetTable {
  return {
    name: 'Load',
    columns: [
      ['Network', 20],
      ['Link', 44],
      ['Bit rate (bit/s)', 16],
      ['To the controller (%)', 20],
      ['From the controller (%)', 22],
    ],
    rows: wiredNetworks(derived).flatMap((wired) =>
      wired.links.map((one) => [
        ...[wired.network.name, linkName(wired, one), wired.bitRate],
        ...[percent(one.towards), percent(one.away)],
      ]),
    ),
  }
}

/** Ways, frames and times of all stations. */
export function wireTable(derived: Derived): SheetTable {
  return {
    name: 'Stations',
    columns: [
      ['Network', 20],
      ['Kind', 18],
      ['Station', 22],
      ['Switches on the way', 18],
      ['Octets in', 10],
      ['Octets out', 10],
      ['Update time in (µs)', 18],
      ['Update time out (µs)', 18],
      ['Watchdog (µs)', 14],
      ['Cycle (µs)', 12],
      ['When the ring changes over', 26],
    ],
    rows: wiredNetworks(derived).flatMap(({ network, stations, cycleUs }) =>
      stations.map(({ view, hops, frameBytes, updateTimeUs, watchdogUs, ridesThrough }) => [
        ...[network.name, kindOf(network).name, view.station.name, hops],
        ...[frameBytes.in, frameBytes.out, updateTimeUs.in, updateTimeUs.out, watchdogUs],
        cycleUs === null ? null : Number(cycleUs.toFixed(1)),
        ridesThrough === null ? null : ridesThrough ? 'rides through' : 'drops out',
      ]),
    ),
  }
}

/** Every single failure with its cost, worst first in each network. */
export function failureTable(derived: Derived): SheetTable {
  return {
    name: 'Failures',
    columns: [
      ['Network', 20],
      ['What fails', 48],
      ['Signals lost', 12],
      ['Unreachable', 12],
      ['Drop out', 10],
    ],
    rows: [
      ...wiredNetworks(derived).flatMap((wired) =>
        singleFailures(wired).map(({ link, node, signals, unreachable, drops }) => [
          wired.network.name,
          link ? `${link.link.label} ${linkName(wired, link)}`.trim() : node!.name,
          ...[signals, unreachable, drops],
        ]),
      ),
      ...supplyFailures(derived).map(({ supply, signals, unreachable, drops }) => [
        ...['all', supply.view.station.name, signals, unreachable, drops],
      ]),
    ],
  }
}

/** What hangs on each supply, over which cable, and what arrives. */
export function supplyTable(derived: Derived): SheetTable {
  const shortly = (value: number | null, digits: number) =>
    value === null ? null : Number(value.toFixed(digits))
  return {
    name: 'Supplies',
    columns: [
      ['Supply', 20],
      ['Gives (mA)', 11],
      ['Used (mA)', 11],
      ['Station', 22],
      ['Part', 20],
      ['Length (m)', 11],
      ['Conductor (mm²)', 15],
      ['Takes (mA)', 11],
      ['At start (mA)', 12],
      ['Volts', 8],
      ['Volts at start', 12],
      ['Volts needed', 12],
    ],
    rows: suppliesOf(derived).flatMap(({ view, source, usedMa, fed }) =>
      fed.map((one) => [
        ...[view.station.name, source.currentMa, usedMa, one.view.station.name, wordConsumer(one)],
        ...[one.feed.lengthM, one.feed.mm2, one.isUnsaid ? null : one.needMa],
        ...[one.isUnsaid ? null : one.inrushMa, shortly(one.volts, 2)],
        ...[shortly(one.startVolts, 2), one.minVolts],
      ]),
    ),
  }
}
