import { frameMarks, sheetOf, type DocumentLayout, type Sheet } from './frame'
import { moved, type Face, type Mark, type PrintedDocument } from './marks'
import { printable, wrap } from './text'

export interface Column {
  readonly heading: string
  /** Its share of the width, against the others'. */
  readonly share: number
  readonly face?: Face
  readonly align?: 'left' | 'right'
}
export type Cell = string | number | null

/** What stands on the pages one after the other. */
export type Block =
  | { readonly kind: 'heading'; readonly text: string; readonly note?: string }
  | { readonly kind: 'text'; readonly text: string; readonly face?: Face }
  | {
      readonly kind: 'table'
      readonly columns: readonly Column[]
      readonly rows: readonly (readonly Cell[])[]
      /** Higher rows, to be written into by hand. */
      readonly rowHeight?: number
    }
  /** Kept together, one beside the other as far as they fit. */
  | { readonly kind: 'figures'; readonly figures: readonly Figure[] }
  | { readonly kind: 'page' }

export interface Figure {
  readonly width: number
  readonly height: number
  readonly marks: readonly Mark[]
}

const size = { heading: 11, text: 8.5, cell: 7.5, columnHeading: 7 } as const
const lineHeight = 1.28
const gap = { heading: 12, block: 8, cell: 3 } as const
const columnHead = size.columnHeading * lineHeight + 2 * gap.cell

/** A block, or part of it, at its height on a page. */
interface Part {
  readonly block: Block
  readonly y: number
  /** Of a table: rows, of which the first may begin within its lines; of figures: which. */
  readonly from: number
  readonly to: number
  readonly skip?: number
  readonly lines?: number
}

interface TableBlock {
  readonly block: Extract<Block, { kind: 'table' }>
  readonly widths: readonly number[]
  readonly x: readonly number[]
}

/** Lays blocks out on pages. Tables repeat their headings, and rows that are higher than a page go on
 *  on the next. */
export function flowDocument(layout: DocumentLayout, blocks: readonly Block[]): PrintedDocument {
  const sheet = sheetOf(layout)
  const tables = new Map<Block, TableBlock>()
  for (const block of blocks) if (block.kind === 'table') tables.set(block, columnsOf(block, sheet))
  const pages = placed(layout, sheet, blocks, tables)
  return {
    title: layout.title,
    pageCount: pages.length,
    page: (index) => {
      const parts = pages[index]!
      return {
        width: sheet.width,
        height: sheet.height,
        begins: parts.flatMap(({ block }) => (block.kind === 'heading' ? [block.text] : [])),
        marks: [
          ...frameMarks(layout, sheet, {
            number: index + 1,
            count: pages.length,
            continues: continued(pages, index),
          }),
          ...parts.flatMap((part) => marksOf(part, layout, sheet, tables)),
        ],
      }
    },
  }
}

/** The heading on an earlier page that the first thing on this one still belongs to. */
function continued(pages: readonly (readonly Part[])[], index: number): string | null {
  const [first] = pages[index]!
  if (!first || first.block.kind === 'heading') return null
  for (let i = index - 1; i >= 0; i--) {
    const heading = pages[i]!.findLast(({ block }) => block.kind === 'heading')?.block
    if (heading?.kind === 'heading') return heading.text
  }
  return null
}

function columnsOf(block: TableBlock['block'], { left, right }: Sheet): TableBlock {
  const all = block.columns.reduce((sum, { share }) => sum + share, 0)
  const widths = block.columns.map(({ share }) => ((right - left) * share) / all)
  const x: number[] = []
  let at = left
  for (const width of widths) {
    x.push(at)
    at += width
  }
  return { block, widths, x }
}

function linesOf(
  { block: { columns }, widths }: TableBlock,
  row: readonly Cell[],
  { measure }: DocumentLayout,
): string[][] {
  return row.map((cell, i) =>
    cell === null || cell === ''
      ? []
      : wrap(
          String(cell),
          widths[i]! - 2 * gap.cell,
          columns[i]!.face ?? 'narrow',
          size.cell,
          measure,
        ),
  )
}

const textLines = (
  { text, face = 'text' }: Extract<Block, { kind: 'text' }>,
  { left, right }: Sheet,
  { measure }: DocumentLayout,
) => text.split('\n').flatMap((line) => wrap(line, right - left, face, size.text, measure))

/** What is on which page, and where. */
function placed(
  layout: DocumentLayout,
  sheet: Sheet,
  blocks: readonly Block[],
  tables: ReadonlyMap<Block, TableBlock>,
): Part[][] {
  const pages: Part[][] = [[]]
  let y = sheet.top
  const isFresh = () => pages.at(-1)!.length === 0
  const next = () => {
    if (isFresh()) return
    pages.push([])
    y = sheet.top
  }
  const put = (part: Omit<Part, 'y'>, height: number) => {
    pages.at(-1)!.push({ ...part, y })
    y += height
  }
  for (const [i, block] of blocks.entries()) {
    if (block.kind === 'page') next()
    else if (block.kind === 'heading') {
      const height = gap.heading + size.heading * lineHeight
      // A heading stays with what it heads.
      if (y + height + leastAfter(blocks[i + 1], sheet) > sheet.bottom) next()
      put({ block, from: 0, to: 1 }, height)
    } else if (block.kind === 'text') {
      const lines = textLines(block, sheet, layout)
      for (let from = 0; from < lines.length;) {
        const room = Math.floor((sheet.bottom - y) / (size.text * lineHeight))
        if (room < 1) {
          next()
          continue
        }
        const to = Math.min(lines.length, from + room)
        put({ block, from, to }, (to - from) * size.text * lineHeight)
        from = to
      }
      y += gap.block
    } else if (block.kind === 'figures') {
      for (let from = 0; from < block.figures.length;) {
        const to = endOfRow(block.figures, from, sheet)
        const height = Math.max(...block.figures.slice(from, to).map((one) => one.height))
        if (y + height > sheet.bottom) next()
        put({ block, from, to }, height + gap.block)
        from = to
      }
    } else {
      y = placeTable(tables.get(block)!, layout, sheet, y, {
        put: (part, at) => pages.at(-1)!.push({ ...part, y: at }),
        next: () => {
          next()
          return y
        },
      })
      y += gap.block
    }
  }
  return pages
}

/** The least room that what follows a heading takes. */
function leastAfter(block: Block | undefined, sheet: Sheet): number {
  if (block?.kind === 'figures')
    return Math.max(
      ...block.figures.slice(0, endOfRow(block.figures, 0, sheet)).map(({ height }) => height),
    )
  return 40
}

/** How many figures stand beside each other. */
function endOfRow(figures: readonly Figure[], from: number, { left, right }: Sheet): number {
  let width = 0
  let to = from
  while (to < figures.length && (to === from || width + figures[to]!.width <= right - left))
    width += figures[to++]!.width + gap.block
  return to
}

function placeTable(
  table: TableBlock,
  layout: DocumentLayout,
  sheet: Sheet,
  start: number,
  pages: {
    readonly put: (part: Omit<Part, 'y'>, y: number) => void
    readonly next: () => number
  },
): number {
  const { block } = table
  const { rows, rowHeight = 0 } = block
  const line = size.cell * lineHeight
  const heightOf = (lines: number) => Math.max(rowHeight, lines * line + gap.cell)
  let y = start
  let top = y
  let [from, skip] = [0, 0]
  if (y + columnHead + heightOf(1) > sheet.bottom) y = top = pages.next()
  y += columnHead
  for (let at = 0; at < rows.length;) {
    const lines = Math.max(1, ...linesOf(table, rows[at]!, layout).map((all) => all.length))
    const left = lines - (at === from ? skip : 0)
    const height = heightOf(left)
    if (y + height <= sheet.bottom) {
      y += height
      at++
      continue
    }
    // A row higher than a page is broken, others go to the next one.
    const isTall = height > sheet.bottom - sheet.top - columnHead
    const room = isTall ? Math.floor((sheet.bottom - y - gap.cell) / line) : 0
    if (room >= 1) {
      const shown = lines - left + room
      pages.put({ block, from, to: at + 1, skip, lines: shown }, top)
      ;[from, skip] = [at, shown]
    } else {
      if (at > from) pages.put({ block, from, to: at, skip }, top)
      ;[from, skip] = [at, 0]
    }
    y = top = pages.next()
    y += columnHead
  }
  pages.put({ block, from, to: rows.length, skip }, top)
  return y
}

function marksOf(
  part: Part,
  layout: DocumentLayout,
  sheet: Sheet,
  tables: ReadonlyMap<Block, TableBlock>,
): Mark[] {
  const { block, y, from, to } = part
  const { left, right } = sheet
  switch (block.kind) {
    case 'page':
      return []
    case 'heading': {
      const base = y + gap.heading + size.heading * 0.8
      const heading: Mark[] = [
        {
          kind: 'text',
          ...{ x: left, y: base, face: 'strong', size: size.heading },
          text: printable(block.text),
        },
      ]
      return block.note === undefined
        ? heading
        : [
            ...heading,
            {
              kind: 'text',
              ...{ x: right, y: base, align: 'right', face: 'narrow', size: 8, ink: 'quiet' },
              text: printable(block.note),
            },
          ]
    }
    case 'text':
      return textLines(block, sheet, layout)
        .slice(from, to)
        .map((text, i): Mark => ({
          kind: 'text',
          ...{ x: left, y: y + (i + 0.8) * size.text * lineHeight },
          ...{ text, face: block.face ?? 'text', size: size.text },
        }))
    case 'figures': {
      let x = left
      return block.figures.slice(from, to).flatMap(({ width, marks }) => {
        const shown = moved(marks, x, y)
        x += width + gap.block
        return shown
      })
    }
    case 'table':
      return tableMarks(part, tables.get(block)!, layout, sheet)
  }
}

function tableMarks(
  { y: top, from, to, skip = 0, lines: shownLines }: Part,
  table: TableBlock,
  layout: DocumentLayout,
  { left, right }: Sheet,
): Mark[] {
  const { block, widths, x } = table
  const line = size.cell * lineHeight
  const marks: Mark[] = [
    { kind: 'box', x: left, y: top, width: right - left, height: columnHead, fill: 'shade' },
  ]
  const put = (i: number, text: string, y: number, face: Face, points: number) => {
    const { align = 'left' } = block.columns[i]!
    marks.push({
      kind: 'text',
      x: align === 'left' ? x[i]! + gap.cell : x[i]! + widths[i]! - gap.cell,
      ...{ y, text, face, size: points, align },
    })
  }
  for (const [i, { heading }] of block.columns.entries())
    put(i, heading, top + gap.cell + size.columnHeading, 'narrowStrong', size.columnHeading)
  let y = top + columnHead
  for (let at = from; at < to; at++) {
    const isBroken = at === to - 1 && shownLines !== undefined
    const all = linesOf(table, block.rows[at]!, layout)
    const first = at === from ? skip : 0
    const last = isBroken ? shownLines : Math.max(1, ...all.map(({ length }) => length))
    for (const [i, lines] of all.entries())
      for (const [n, text] of lines.slice(first, last).entries())
        put(i, text, y + n * line + size.cell, block.columns[i]!.face ?? 'narrow', size.cell)
    y += Math.max(block.rowHeight ?? 0, (last - first) * line + gap.cell)
    marks.push({
      kind: 'line',
      points: [
        [left, y - 1],
        [right, y - 1],
      ],
      ...{ width: 0.4, ink: 'line' as const },
    })
  }
  return marks
}
