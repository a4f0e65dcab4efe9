import { formatAddress } from '../../addressing/notations'
import { channelAddress, notationOf, type Derived } from '../../derive/derive'
import { wordsOfOrigin, type Origin } from '../origin'
import type { ExportOptions } from '../options'
import { chosenChannels, chosenStations } from './chosen'
import { draftMarks, sheetOf } from './frame'
import { mm, type Mark, type Measure, type PrintedDocument } from './marks'
import { printable, wrap } from './text'

interface Label {
  readonly lines: readonly string[]
}
/** Labels that are cut as one strip: those of a station's modules, of a module's terminals. */
interface Strip {
  readonly name: string
  readonly labels: readonly Label[]
}

const margin = 12 * mm
const captionHeight = 11
const markLength = 5
const sizes = [8, 7, 6, 5, 4]

/** Label strips for modules, then for terminals, in the size chosen, with marks to cut by. */
export function labelDocument(
  derived: Derived,
  options: ExportOptions,
  origin: Origin,
  measure: Measure,
): PrintedDocument {
  const { width, height } = sheetOf({ paper: options.paper })
  const [labelWidth, labelHeight] = options.label.map((size) => size * mm) as [number, number]
  const perRow = Math.max(1, Math.floor((width - 2 * margin) / labelWidth))
  const rowHeight = labelHeight + captionHeight + 2 * markLength
  const rowsPerPage = Math.max(1, Math.floor((height - 2 * margin - 14) / rowHeight))
  const rows = stripsOf(derived, options).flatMap(({ name, labels }) =>
    Array.from({ length: Math.ceil(labels.length / perRow) }, (_, i) => ({
      name,
      labels: labels.slice(i * perRow, (i + 1) * perRow),
    })),
  )
  const pageCount = Math.max(1, Math.ceil(rows.length / rowsPerPage))
  return {
    title: 'Label strips',
    pageCount,
    page: (index) => ({
      width,
      height,
      begins: [],
      marks: [
        ...(origin.blockers > 0 ? draftMarks(width, height) : []),
        ...rows
          .slice(index * rowsPerPage, (index + 1) * rowsPerPage)
          .flatMap((row, i) =>
            stripMarks(row, margin + i * rowHeight, { labelWidth, labelHeight, measure }),
          ),
        ...footer(origin, width, height, index + 1, pageCount),
      ],
    }),
  }
}

function stripsOf(derived: Derived, options: ExportOptions): Strip[] {
  const chosen = chosenStations(derived, options)
  const modules = chosen.map(({ view }): Strip => ({
    name: `${view.station.name}, modules`,
    labels: view.modules.map(({ slot, row, described }) => ({
      lines: [
        row === null ? view.station.name : `${view.station.name}.${slot}`,
        described?.orderNumber ?? described?.name ?? '',
      ],
    })),
  }))
  const terminals = chosen.flatMap(({ view }) => {
    const byModule = new Map<string, { name: string; labels: Label[] }>()
    for (const { module, channel, signal } of chosenChannels(view, options)) {
      if (!signal || signal.tag === '') continue
      const place = channelAddress(module, channel)
      const strip = byModule.get(module.id) ?? {
        name: `${view.station.name}, slot ${module.slot}, terminals`,
        labels: [],
      }
      byModule.set(module.id, strip)
      strip.labels.push({
        lines: [
          [
            signal.terminal,
            place ? formatAddress(place, notationOf(derived.plan, view.station)) : '',
          ]
            .filter(Boolean)
            .join(' · '),
          signal.tag,
        ].filter(Boolean),
      })
    }
    return [...byModule.values()]
  })
  return [...modules, ...terminals].filter(({ labels }) => labels.length > 0)
}

function stripMarks(
  { name, labels }: Strip,
  top: number,
  size: {
    readonly labelWidth: number
    readonly labelHeight: number
    readonly measure: Measure
  },
): Mark[] {
  const { labelWidth, labelHeight } = size
  const y = top + captionHeight
  const marks: Mark[] = [
    {
      kind: 'text',
      ...{ x: margin + 4, y: top + 5, face: 'narrow', size: 6, ink: 'quiet' },
      text: printable(name),
    },
  ]
  const cut = (from: readonly [number, number], to: readonly [number, number]) =>
    marks.push({ kind: 'line', points: [from, to], width: 0.4, ink: 'quiet' })
  for (let i = 0; i <= labels.length; i++) {
    const x = margin + i * labelWidth
    cut([x, y - markLength], [x, y - 1])
    cut([x, y + labelHeight + 1], [x, y + labelHeight + markLength])
  }
  const end = margin + labels.length * labelWidth
  for (const edge of [y, y + labelHeight]) {
    cut([margin - markLength, edge], [margin - 1, edge])
    cut([end + 1, edge], [end + markLength, edge])
  }
  for (const [i, label] of labels.entries())
    marks.push(...labelMarks(label, margin + i * labelWidth, y, size))
  return marks
}

/** The largest letters in which all of it has room; where none has, the smallest, as far as they
 *  go. */
function labelMarks(
  { lines }: Label,
  x: number,
  y: number,
  {
    labelWidth,
    labelHeight,
    measure,
  }: { readonly labelWidth: number; readonly labelHeight: number; readonly measure: Measure },
): Mark[] {
  const wrapped = (size: number) =>
    lines.flatMap((line) => wrap(line, labelWidth - 4, 'narrowStrong', size, measure))
  const size =
    sizes.find((points) => wrapped(points).length * points * 1.1 <= labelHeight - 2) ??
    sizes.at(-1)!
  const shown = wrapped(size).slice(0, Math.max(1, Math.floor((labelHeight - 1) / (size * 1.1))))
  const first = y + (labelHeight - shown.length * size * 1.1) / 2 + size * 0.85
  return shown.map((text, i) => ({
    kind: 'text',
    ...{ x: x + labelWidth / 2, y: first + i * size * 1.1, align: 'center' },
    ...{ text, face: 'narrowStrong', size },
  }))
}

function footer(
  origin: Origin,
  width: number,
  height: number,
  number: number,
  count: number,
): Mark[] {
  const y = height - margin + 6
  return [
    {
      kind: 'text',
      ...{ x: margin, y, face: 'narrow', size: 6, ink: 'quiet' },
      text: printable([origin.project, ...wordsOfOrigin(origin)].join(' · ')),
    },
    {
      kind: 'text',
      ...{ x: width - margin, y, align: 'right', face: 'narrow', size: 6, ink: 'quiet' },
      text: `Page ${number} of ${count}`,
    },
  ]
}
