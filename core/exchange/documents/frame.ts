import { wordsOfOrigin, type Origin } from '../origin'
import { usualOptions, type ExportOptions } from '../options'
import type { Mark, Measure } from './marks'
import { printable, widthOf } from './text'

/** ISO 216, and the American letter, in points. */
const papers: Readonly<Record<ExportOptions['paper'], readonly [short: number, long: number]>> = {
  A4: [595.28, 841.89],
  A3: [841.89, 1190.55],
  Letter: [612, 792],
}

export interface Sheet {
  readonly width: number
  readonly height: number
  /** Where the content is. */
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

/** How a document is laid out. */
export interface DocumentLayout {
  readonly title: string
  readonly origin: Origin
  readonly measure: Measure
  readonly paper?: ExportOptions['paper'] | undefined
  readonly isLandscape?: boolean | undefined
}

const margin = 36
const head = 30
const foot = 22

export function sheetOf({
  paper = usualOptions.paper,
  isLandscape = false,
}: Pick<DocumentLayout, 'paper' | 'isLandscape'>): Sheet {
  const [short, long] = papers[paper]
  const [width, height] = isLandscape ? [long, short] : [short, long]
  return {
    width,
    height,
    left: margin,
    top: margin + head,
    right: width - margin,
    bottom: height - margin - foot,
  }
}

export interface PagePlace {
  readonly number: number
  readonly count: number
  /** The heading that goes on from the page before. */
  readonly continues: string | null
}

/** What each page says of itself: plan, title, revision, date, signature, its number; and across it,
 *  while blockers are open, that it is a draft. */
export function frameMarks(
  { title, origin, measure }: DocumentLayout,
  sheet: Sheet,
  { number, count, continues }: PagePlace,
): Mark[] {
  const { left, right, width, height } = sheet
  const [, ...rest] = wordsOfOrigin({ ...origin, safetySignature: null })
  const state = [`Revision ${origin.revision}`, ...rest].join(' · ')
  const marks: Mark[] = []
  if (origin.blockers > 0) marks.push(...draftMarks(width, height))
  marks.push(
    { kind: 'text', x: left, y: margin + 8, text: printable(title), face: 'strong', size: 12 },
    {
      kind: 'text',
      ...{ x: right, y: margin + 8, align: 'right', face: 'narrowStrong', size: 9 },
      text: shortened(origin.project, right - left - 200, measure),
    },
    {
      kind: 'text',
      ...{ x: right, y: margin + 19, align: 'right', face: 'narrow', size: 8, ink: 'quiet' },
      text: state,
    },
    {
      kind: 'line',
      points: [
        [left, margin + 24],
        [right, margin + 24],
      ],
      width: 0.8,
    },
    {
      kind: 'text',
      ...{ x: right, y: height - margin, align: 'right', face: 'narrow', size: 8, ink: 'quiet' },
      text: `Page ${number} of ${count}`,
    },
  )
  if (continues !== null)
    marks.push({
      kind: 'text',
      ...{ x: left, y: margin + 19, face: 'narrow', size: 8, ink: 'quiet' },
      text: `${shortened(continues, (right - left) / 2, measure)}, continued`,
    })
  if (origin.safetySignature !== null)
    marks.push({
      kind: 'text',
      ...{ x: left, y: height - margin, face: 'mono', size: 6, ink: 'quiet' },
      text: `fail-safe ${origin.safetySignature}`,
    })
  return marks
}

/** Across the page, beneath all else. */
export function draftMarks(width: number, height: number): Mark[] {
  const size = Math.min(width, height) / 4
  return [
    {
      kind: 'text',
      ...{ x: width / 2, y: height / 2 + size / 3, align: 'center', face: 'strong', size },
      text: 'DRAFT',
      ink: 'faint',
      turn: -30,
    },
  ]
}

/** A name that may be long, cut to its room in the head of a page; the whole stands in the title of
 *  the file. */
function shortened(text: string, width: number, measure: Measure): string {
  let line = printable(text)
  if (widthOf(line, 'narrowStrong', 9, measure) <= width) return line
  while (line !== '' && widthOf(`${line}…`, 'narrowStrong', 9, measure) > width)
    line = line.slice(0, -1)
  return `${line}…`
}
