import { formatAddress } from '../../addressing/notations'
import { kindOfChannel } from '../../catalog/words'
import { channelAddress, notationOf, type Derived } from '../../derive/derive'
import { rightScaling } from '../../scaling/chain'
import { chainOf } from '../../signals'
import { numbered } from '../../vocabulary/plural'
import type { ExportOptions } from '../options'
import { parameterTable, recordTable } from '../parameter-list'
import { cipSafetyTable, fParameterTable, safetyTable } from '../safety/tables'
import { chosenChannels, chosenStations } from './chosen'
import type { Block, Cell } from './flow'
import { tableOf } from './lists'

const wordModule = (slot: number, name: string, orderNumber: string | null) =>
  `Slot ${slot} · ${name}${orderNumber === null ? '' : ` · ${orderNumber}`}`

/** Station by station and module by module: which signal is on which terminal. */
export function terminalBlocks(derived: Derived, options: ExportOptions): Block[] {
  return chosenStations(derived, options).flatMap(({ view, network }): Block[] => {
    const tables = view.modules.flatMap(({ id, slot, row, described }): Block[] => {
      const terminals = described && 'terminals' in described ? (described.terminals ?? []) : []
      const rows = [...chosenChannels(view, options)]
        .filter(({ module }) => module.id === id)
        .map(({ module, channel, signal }): Cell[] => {
          const place = channelAddress(module, channel)
          return [
            terminals
              .filter((one) => one.channel === channel.name)
              .map(({ terminal, function: use }) => `${terminal} ${use}`.trim())
              .join(', '),
            signal?.terminal ?? '',
            channel.name,
            kindOfChannel(channel),
            place ? formatAddress(place, notationOf(derived.plan, view.station)) : '',
            signal?.tag ?? '',
            signal?.comment ?? '',
          ]
        })
      const others = terminals
        .filter(({ channel }) => channel === '')
        .map(({ terminal, function: use }): Cell[] => [
          `${terminal} ${use}`,
          '',
          '',
          '',
          '',
          '',
          '',
        ])
      if (rows.length + others.length === 0) return []
      return [
        {
          kind: 'heading',
          text: wordModule(
            slot,
            described?.name ?? row?.module ?? 'unknown',
            described?.orderNumber ?? null,
          ),
          note: `${view.station.name} · ${network.name}`,
        },
        {
          kind: 'table',
          columns: [
            { heading: 'Terminal of the module', share: 22, face: 'mono' },
            { heading: 'Terminal', share: 14, face: 'mono' },
            { heading: 'Channel', share: 16 },
            { heading: 'Kind', share: 6 },
            { heading: 'Address', share: 13, face: 'mono' },
            { heading: 'Tag', share: 24, face: 'mono' },
            { heading: 'Comment', share: 34 },
          ],
          rows: [...rows, ...others],
        },
      ]
    })
    return tables.length === 0 ? [] : [...tables, { kind: 'page' }]
  })
}

/** Every parameter as it is set, and every record as the device gets it, module by module; then what
 *  is fail-safe. */
export function parameterBlocks(derived: Derived, options: ExportOptions): Block[] {
  const keyOf = (row: readonly Cell[]) => `${row[0]}\n${row[1]}`
  const grouped = (rows: readonly (readonly Cell[])[]) => {
    const groups = new Map<string, (readonly Cell[])[]>()
    for (const row of rows) {
      const group = groups.get(keyOf(row))
      if (group) group.push(row)
      else groups.set(keyOf(row), [row])
    }
    return groups
  }
  const parameters = grouped(parameterTable(derived).rows)
  const records = grouped(recordTable(derived).rows)
  const modules = chosenStations(derived, options).flatMap(({ view, network }) =>
    view.modules.flatMap(({ slot, described }): Block[] => {
      const key = `${view.station.name}\n${slot}`
      const own = parameters.get(key) ?? []
      const sent = records.get(key) ?? []
      if (own.length + sent.length === 0) return []
      return [
        {
          kind: 'heading',
          text: wordModule(slot, described?.name ?? '', described?.orderNumber ?? null),
          note: `${view.station.name} · ${network.name}`,
        },
        ...(own.length === 0
          ? []
          : [
              {
                kind: 'table' as const,
                columns: [
                  { heading: 'Parameter', share: 60 },
                  { heading: 'Value', share: 26 },
                  { heading: 'Proposed', share: 26 },
                  { heading: '', share: 9 },
                ],
                rows: own.map((row): Cell[] => [
                  [row[3] === described?.name ? '' : row[3], row[5]].filter(Boolean).join(' › '),
                  row[7] ?? row[6] ?? '',
                  row[8] ?? '',
                  row[9] ?? '',
                ]),
              },
            ]),
        {
          kind: 'table',
          columns: [
            { heading: 'Record', share: 10, align: 'right' },
            { heading: 'Octets', share: 8, align: 'right' },
            { heading: 'As sent', share: 100, face: 'mono' },
          ],
          rows: sent.map((row): Cell[] => [row[4] ?? '', row[5] ?? '', row[6] ?? '']),
        },
      ]
    }),
  )
  return [...modules, ...safetyBlocks(derived)]
}

/** What is fail-safe: addresses, times and check sums of modules, and configuration signatures. */
function safetyBlocks(derived: Derived): Block[] {
  return [safetyTable, fParameterTable, cipSafetyTable].flatMap((of): Block[] => {
    const table = of(derived)
    return table.rows.length === 0 ? [] : [{ kind: 'heading', text: table.name }, tableOf(table)]
  })
}

/** What is fail-safe in the plan, on its own: who released what, and each item. */
export function safetyDocument(derived: Derived, signature: string | null): Block[] {
  const release = derived.plan.project.safetyRelease
  const state =
    signature === null
      ? 'Nothing in this plan is fail-safe.'
      : !release
        ? 'Not released.'
        : release.signature === signature
          ? `Released by ${release.by}, ${release.at}.`
          : `STALE: ${release.by} released another signature, ${release.signature}, ${release.at}.`
  return [
    ...(signature === null
      ? []
      : [{ kind: 'text' as const, text: `Signature ${signature}`, face: 'mono' as const }]),
    { kind: 'text', text: state },
    ...safetyBlocks(derived),
  ]
}

const box = '[ ]'

/** The form of the signal check, station by station: what is to be seen, and room for what was. */
export function protocolBlocks(derived: Derived, options: ExportOptions): Block[] {
  const stations = chosenStations(derived, options)
  const rowHeight = 20
  const begin: Block[] = [
    {
      kind: 'text',
      text: 'Form of the check before start-up. Enter what is seen; sign each station when all of it is done.',
    },
    {
      kind: 'table',
      columns: [
        { heading: 'Plant', share: 40 },
        { heading: 'Date', share: 20 },
        { heading: 'Checked by', share: 30 },
        { heading: 'Signature', share: 40 },
      ],
      rows: [[derived.plan.project.name, '', '', '']],
      rowHeight: 26,
    },
  ]
  return [
    ...begin,
    ...stations.flatMap(({ controller, view, network }): Block[] => {
      const rows = [...chosenChannels(view, options)]
        .filter(({ signal }) => signal && signal.tag !== '')
        .map(({ module, channel, signal }): Cell[] => {
          const place = channelAddress(module, channel)
          return [
            signal!.tag,
            place ? formatAddress(place, notationOf(derived.plan, view.station)) : '',
            signal!.terminal,
            expectation(derived, view, module, channel, signal!),
            '',
            box,
            box,
            '',
          ]
        })
      return [
        {
          kind: 'heading',
          text: view.station.name,
          note: `${controller.name} · ${network.name} · ${numbered(rows.length, 'signal')}`,
        },
        {
          kind: 'table',
          columns: [
            { heading: 'Device', share: 50 },
            { heading: 'is there', share: 10, face: 'mono' },
            { heading: 'modules as planned', share: 16, face: 'mono' },
            { heading: 'address as planned', share: 16, face: 'mono' },
            { heading: 'parameters loaded', share: 16, face: 'mono' },
            { heading: 'Date, signature', share: 40 },
          ],
          rows: [
            [
              [view.device?.name, view.device?.orderNumber].filter(Boolean).join(' · '),
              ...[box, box, box, box, ''],
            ],
          ],
          rowHeight,
        },
        ...(rows.length === 0
          ? []
          : [
              {
                kind: 'table' as const,
                columns: [
                  { heading: 'Tag', share: 26, face: 'mono' as const },
                  { heading: 'Address', share: 13, face: 'mono' as const },
                  { heading: 'Terminal', share: 13, face: 'mono' as const },
                  { heading: 'To be seen', share: 46 },
                  { heading: 'Seen', share: 22 },
                  { heading: 'ok', share: 7, face: 'mono' as const },
                  { heading: 'failed', share: 7, face: 'mono' as const },
                  { heading: 'Remark', share: 26 },
                ],
                rows,
                rowHeight,
              },
            ]),
      ]
    }),
  ]
}

/** What has to be seen at the ends of an analog signal, from process to program; of a bit, what its
 *  comment says. */
function expectation(
  { catalog, plan }: Derived,
  ...[view, module, channel, signal]: [
    Parameters<typeof chainOf>[2],
    Parameters<typeof chainOf>[3],
    Parameters<typeof chainOf>[4],
    Parameters<typeof chainOf>[5] & { readonly comment: string },
  ]
): string {
  if (channel.kind !== 'analog') return signal.comment
  const rules = plan.project
  const known = chainOf(catalog, rules, view, module, channel, signal)
  const right = typeof known === 'string' ? null : rightScaling(known.chain)
  if (typeof known === 'string' || !right) return signal.comment
  const { unit } = known.chain.process
  return `${right.low} ${unit} = ${right.rawLow}; ${right.high} ${unit} = ${right.rawHigh}. ${signal.comment}`
}
