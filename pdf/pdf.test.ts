import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, describe, expect, test } from 'vitest'
import {
  derive,
  documentNames,
  ioList,
  originOf,
  printDocument,
  usualOptions,
  type Derived,
  type DocumentName,
  type ExportOptions,
} from '@kataxis/core'
import { doAll, wholeDemo } from '../core/test/plans'
import { documentFonts, drawPdf } from '.'
import { visualParts } from './visual-order'

const { plan, catalog } = wholeDemo()
const demo = derive(plan, catalog)
const folder = mkdtempSync(join(tmpdir(), 'kataxis-pdf-'))
afterAll(() => rmSync(folder, { recursive: true }))

const { measure } = documentFonts()
function print(
  name: DocumentName,
  derived: Derived = demo,
  options: Partial<ExportOptions> = {},
  blockers = 0,
) {
  const origin = originOf(derived, 12, blockers, '2026-05-04T08:00:00Z')
  return printDocument(name, {
    ...{ derived, origin, measure },
    options: { ...usualOptions, ...options },
  })
}
async function file(...wanted: Parameters<typeof print>): Promise<string> {
  const path = join(folder, `${wanted[0]}.pdf`)
  const document = print(...wanted)
  writeFileSync(path, await drawPdf(document, { title: document.title, at: null }))
  return path
}
/** What Debian's poppler reads. */
function read(command: string, ...args: string[]): string {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 64e6 })
  if (status !== 0) throw new Error(stderr)
  return stdout
}
const textOf = (path: string) => read('pdftotext', '-layout', path, '-')
const pagesOf = (path: string) => Number(/Pages: +(\d+)/.exec(read('pdfinfo', path))![1])
const [first] = Object.values(plan.stations).flatMap(({ signals }) => Object.values(signals))
const commented = (comment: string) =>
  derive(
    doAll(plan, catalog, { type: 'editSignals', edits: [{ id: first!.id, comment }] }),
    catalog,
  )

describe.each(documentNames)('%s', (name) => {
  test('is read by somebody else’s program, with its pages numbered, plan and revision', async () => {
    const path = await file(name)
    const { pageCount } = print(name)
    expect(pagesOf(path)).toBe(pageCount)
    const pages = textOf(path).split('\f').slice(0, -1)
    expect(pages).toHaveLength(pageCount)
    for (const [i, page] of pages.entries()) {
      expect(page).toContain(`Page ${i + 1} of ${pageCount}`)
      expect(page).toContain(plan.project.name)
      expect(page).toMatch(/revision 12/i)
      expect(page).not.toContain('DRAFT')
    }
  }, 60_000)
  test('has a draft mark on every page while blockers are open', () => {
    const { pageCount, page } = print(name, demo, {}, 3)
    for (let i = 0; i < pageCount; i++)
      expect(page(i).marks.some((mark) => mark.kind === 'text' && mark.text === 'DRAFT')).toBe(true)
  })
  test('nothing stands beyond the edges of its pages', () => {
    const { pageCount, page } = print(name)
    for (let i = 0; i < pageCount; i++) {
      const { width, height, marks } = page(i)
      for (const mark of marks) {
        const points = mark.kind === 'line' ? mark.points : [[mark.x, mark.y] as const]
        const box =
          mark.kind === 'box' ? [[mark.x + mark.width, mark.y + mark.height] as const] : []
        for (const [x, y] of [...points, ...box])
          expect(x >= 0 && y >= 0 && x <= width && y <= height, JSON.stringify(mark)).toBe(true)
      }
    }
  })
})

describe('what the documents say', () => {
  test('I/O list: every cell of every row, in order', async () => {
    const columns = ['station', 'channel', 'address', 'tag', 'comment'] as const
    const text = textOf(await file('io-list-pdf', demo, { columns: [...columns], paper: 'A3' }))
    const lines = text.split('\n').map((line) => line.replace(/\s+/g, ' ').trim())
    const rows = ioList(demo).map((row) =>
      columns
        .map((key) => String(row[key] ?? ''))
        .filter(Boolean)
        .join(' ')
        .replace(/\s+/g, ' '),
    )
    let at = 0
    for (const row of rows) {
      const found = lines.indexOf(row, at)
      expect(found, row).toBeGreaterThanOrEqual(at)
      at = found + 1
    }
  })
  test('switch cards: every station’s name and address', async () => {
    const text = textOf(await file('switches-pdf'))
    for (const { station } of Object.values(plan.stations)) {
      const settings = station.settings as { kind: string; ip?: string }
      if (settings.kind === 'profinet') {
        expect(text).toContain(station.name)
        expect(text).toContain(settings.ip)
      }
    }
  })
  test('only what was chosen', async () => {
    const [one] = Object.values(plan.stations).filter(
      ({ signals }) => Object.keys(signals).length > 3,
    )
    const text = textOf(await file('terminals-pdf', demo, { stations: [one!.station.id] }))
    expect(text).toContain(one!.station.name)
    const others = Object.values(plan.stations).filter(
      ({ station }) => station.id !== one!.station.id,
    )
    for (const { signals } of others)
      for (const { tag } of Object.values(signals))
        if (tag.length > 6) expect(text).not.toContain(tag)
  })
  test('a page says which heading goes on from the one before', () => {
    const { page } = print('parameters-pdf')
    const words = page(1).marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : []))
    expect(words.some((text) => /^Slot \d+ · .*, continued$/.test(text))).toBe(true)
  })
  test('labels are as large as asked for', () => {
    const { page } = print('labels-pdf', demo, { label: [30, 10] })
    const cuts = page(0).marks.flatMap((mark) =>
      mark.kind === 'line' && mark.points[0]![0] === mark.points[1]![0] ? [mark.points[0]![0]] : [],
    )
    const [a, b] = [...new Set(cuts)].sort((x, y) => x - y)
    expect(((b! - a!) * 25.4) / 72).toBeCloseTo(30, 3)
  })
  test('is the same to the byte for the same plan', async () => {
    const draw = () => {
      const document = print('io-list-pdf', derive(plan, catalog), { controller: 'k1' })
      return drawPdf(document, { title: 'x', at: null })
    }
    expect(Buffer.compare(Buffer.from(await draw()), Buffer.from(await draw()))).toBe(0)
  })
})

describe('texts that are hard to print', () => {
  test('a long one goes on over lines and pages, and nothing of it is lost', async () => {
    const words = Array.from({ length: 330 }, (_, i) => `w${i}`).join(' ')
    const path = await file('io-list-pdf', commented(words), { columns: ['tag', 'comment'] })
    const found = [...read('pdftotext', '-raw', path, '-').matchAll(/\bw(\d+)\b/g)].map(([, n]) =>
      Number(n),
    )
    expect(found).toEqual(Array.from({ length: 330 }, (_, i) => i))
  })
  test('one without blanks, higher than a page', async () => {
    const path = await file('io-list-pdf', commented('x'.repeat(2000)), {
      columns: [
        'tag',
        'station',
        'module',
        'network',
        'channel',
        'terminal',
        'comment',
        'measures',
        'transmitter',
        'designation',
        'partner',
        'needs',
        'area',
        'wires',
      ],
    })
    expect(read('pdftotext', '-raw', path, '-').match(/x/g)!.length).toBeGreaterThanOrEqual(2000)
  })
  test.each([
    ['Greek and signs', 'Ω α ± ° µ ² … – “x”'],
    ['Cyrillic', 'Насос 1'],
    ['accents', 'Überlauf Łódź Çelik'],
  ])('%s come out as they went in', async (_, text) => {
    const path = await file('io-list-pdf', commented(text), { columns: ['comment'] })
    expect(textOf(path)).toContain(text)
  })
  test('Hebrew and Arabic are there, whichever way a reader turns them', async () => {
    for (const text of ['משאבה', 'مضخة']) {
      const path = await file('io-list-pdf', commented(text), { columns: ['comment'] })
      const letters = new Set(textOf(path).normalize('NFKC'))
      for (const letter of text) expect(letters.has(letter), letter).toBe(true)
    }
  })
  // Unicode Standard Annex 9, rule L2.
  test('from left to right as they are seen', () => {
    expect(visualParts('pump 1')).toEqual(['pump 1'])
    expect(
      visualParts('pump אבג דהו 1')
        .map((part) => part.trim())
        .filter(Boolean),
    ).toEqual(['pump', '1', 'דהו', 'אבג'])
  })
  test('whatever it is, a document is drawn', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 60 }), (text) => {
        const { page } = print('io-list-pdf', commented(text), { columns: ['comment'] })
        for (const mark of page(0).marks)
          if (mark.kind === 'text') expect(mark.text).not.toMatch(/\p{Cc}/u)
      }),
      { numRuns: 60 },
    )
  })
})
