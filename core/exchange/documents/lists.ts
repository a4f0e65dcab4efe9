import { formatAddress } from '../../addressing/notations'
import { check, wordFinding } from '../../checks'
import { notationOf, type Derived } from '../../derive/derive'
import { kindOf } from '../../protocols/registry'
import { controllerIpOf, ipOf, roleNameOf } from '../../protocols/settings'
import { numbered } from '../../vocabulary/plural'
import { identityTable } from '../identity-list'
import { ioList, shownColumns, type IoRow } from '../io-list'
import { cableTable, failureTable, loadTable, supplyTable, wireTable } from '../network-list'
import type { ExportOptions } from '../options'
import type { SheetTable } from '../xlsx'
import { chosenStations } from './chosen'
import type { Block, Column } from './flow'
import { networkFigures } from './network-figure'

const printed: readonly (keyof IoRow)[] = [
  ...(['network', 'station', 'slot', 'module', 'channel', 'terminal', 'kind'] as const),
  ...(['address', 'tag', 'comment'] as const),
]
const monos: ReadonlySet<string> = new Set(['address', 'tag', 'terminal'])

/** The I/O list. */
export function ioListBlocks(derived: Derived, options: ExportOptions): Block[] {
  const columns = shownColumns(options.columns.length > 0 ? options.columns : printed)
  const keyOf = (network: string, station: string) => `${network}\n${station}`
  const chosen = new Set(
    chosenStations(derived, options).map(({ view, network }) =>
      keyOf(network.name, view.station.name),
    ),
  )
  const areas = new Set(options.areas)
  const isAll = options.controller === '' && options.stations.length === 0
  const rows = ioList(derived).filter(
    ({ network, station, area = '' }) =>
      (isAll || chosen.has(keyOf(network, station))) && (areas.size === 0 || areas.has(area)),
  )
  return [
    {
      kind: 'table',
      columns: columns.map(({ key, heading, width }): Column => ({
        heading,
        share: key === 'slot' || key === 'kind' ? 5 : Math.max(6, width),
        ...(monos.has(key) && { face: 'mono' }),
        ...(key === 'slot' && { align: 'right' }),
      })),
      rows: rows.map((row) => columns.map(({ key }) => row[key] ?? null)),
    },
  ]
}

/** Identities of all stations, and where each block of data stands in its controller's image. */
export function addressBlocks(derived: Derived, options: ExportOptions): Block[] {
  const chosen = chosenStations(derived, options)
  return derived.controllers.flatMap(({ controller, networks }): Block[] => {
    const own = chosen.filter((one) => one.controller.id === controller.id)
    if (own.length === 0) return []
    const identities = networks.flatMap(({ network }) => {
      const kind = kindOf(network)
      const ip = controllerIpOf(network)
      const stations = own.filter((one) => one.network.id === network.id)
      if (stations.length === 0) return []
      return [
        ...(ip === '' ? [] : [[network.name, kind.name, controller.name, '', ip, '', '']]),
        ...stations.map(({ view: { station, device } }) => [
          network.name,
          kind.name,
          station.name,
          station.deviceNumber,
          kind.hasIp ? ipOf(station) : '',
          roleNameOf(station),
          device?.name ?? '',
        ]),
      ]
    })
    const places = own.flatMap(({ view }) =>
      view.blocks.map(({ module, block, byte, bit, bits }) => {
        const notation = notationOf(derived.plan, view.station)
        const at = (offset: number) =>
          formatAddress(
            {
              direction: block.direction,
              byte: byte + (offset >> 3),
              bit: offset & 7,
              bits: bits < 8 ? 1 : 8,
            },
            notation,
          )
        return [
          view.station.name,
          module.slot,
          block.subslot,
          module.described?.name ?? '',
          block.direction === 'in' ? 'input' : 'output',
          at(bits < 8 ? bit : 0),
          at(bits < 8 ? bit + bits - 1 : (block.bytes - 1) * 8),
          block.bytes,
        ]
      }),
    )
    return [
      {
        kind: 'heading',
        text: controller.name,
        note: `${numbered(controller.inputBytes, 'input byte')}, ${numbered(controller.outputBytes, 'output byte')}`,
      },
      {
        kind: 'table',
        columns: [
          { heading: 'Network', share: 16 },
          { heading: 'Kind', share: 14 },
          { heading: 'Station', share: 22, face: 'mono' },
          { heading: 'Number', share: 8, align: 'right' },
          { heading: 'IP address', share: 16, face: 'mono' },
          { heading: 'Role name', share: 16, face: 'mono' },
          { heading: 'Device', share: 30 },
        ],
        rows: identities,
      },
      { kind: 'heading', text: `Image of ${controller.name}` },
      {
        kind: 'table',
        columns: [
          { heading: 'Station', share: 22, face: 'mono' },
          { heading: 'Slot', share: 6, align: 'right' },
          { heading: 'Subslot', share: 8, align: 'right' },
          { heading: 'Module', share: 32 },
          { heading: 'Direction', share: 10 },
          { heading: 'First', share: 13, face: 'mono' },
          { heading: 'Last', share: 13, face: 'mono' },
          { heading: 'Bytes', share: 7, align: 'right' },
        ],
        rows: places,
      },
      { kind: 'page' },
    ]
  })
}

/** A workbook's sheet as a printed table: the same columns in the same order. */
export function tableOf({ columns, rows }: SheetTable): Block {
  return {
    kind: 'table',
    columns: columns.map(([heading, width], i) => {
      const isNumber = rows.length > 0 && rows.every((row) => typeof (row[i] ?? 0) === 'number')
      return { heading, share: Math.max(7, width), ...(isNumber && { align: 'right' as const }) }
    }),
    rows,
  }
}

/** Each network drawn, then its cables. */
export function cableBlocks(derived: Derived): Block[] {
  return [
    ...networkFigures(derived),
    { kind: 'page' },
    { kind: 'heading', text: 'Cables' },
    tableOf(cableTable(derived)),
    { kind: 'heading', text: 'Identities' },
    tableOf(identityTable(derived)),
  ]
}

/** Load, times, failures and supplies of the networks, then every finding of the plan. */
export function networkFindingBlocks(derived: Derived): Block[] {
  const { all: findings } = check(derived)
  return [
    { kind: 'heading', text: 'Findings', note: numbered(findings.length, 'finding') },
    {
      kind: 'table',
      columns: [
        { heading: 'Severity', share: 9 },
        { heading: 'Place', share: 28 },
        { heading: 'What', share: 90 },
      ],
      rows: findings.map((finding) => [finding.severity, finding.at.words, wordFinding(finding)]),
    },
    ...[loadTable, wireTable, supplyTable, failureTable].flatMap((of): Block[] => {
      const table = of(derived)
      return table.rows.length === 0 ? [] : [{ kind: 'heading', text: table.name }, tableOf(table)]
    }),
  ]
}
