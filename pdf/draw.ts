import PDFDocument from 'pdfkit'
import { inks, type PageMark, type PrintedDocument } from '@kataxis/core'
import { documentFonts, type DocumentFonts } from './fonts'

type Pdf = InstanceType<typeof PDFDocument>

export interface PdfFacts {
  readonly title: string
  /** When the revision was made; null: a time that is the same in all files. */
  readonly at: string | null
}

/** Pages between two words of how far it is, and a breath for whoever else uses the thread. */
const pagesBetween = 20

/** A document as PDF 1.7 (ISO 32000-1), the same to the byte for the same pages. */
export async function drawPdf(
  document: PrintedDocument,
  { title, at }: PdfFacts,
  progress?: (done: number, of: number) => void,
): Promise<Uint8Array> {
  const fonts = documentFonts()
  const moment = new Date(at ?? '2000-01-01T00:00:00Z')
  const pdf = new PDFDocument({
    autoFirstPage: false,
    pdfVersion: '1.7',
    font: null as unknown as string,
    lang: 'en',
    displayTitle: true,
    info: {
      Title: title,
      Creator: 'Kataxis',
      Producer: 'Kataxis',
      CreationDate: moment,
      ModDate: moment,
    },
  })
  const chunks: Uint8Array[] = []
  pdf.on('data', (chunk: Uint8Array) => chunks.push(chunk))
  const ended = new Promise<void>((resolve, reject) => {
    pdf.on('end', resolve)
    pdf.on('error', reject)
  })
  const registered = new Set<string>()
  for (let i = 0; i < document.pageCount; i++) {
    const { width, height, marks, begins } = document.page(i)
    pdf.addPage({ size: [width, height], margin: 0 })
    for (const heading of begins) pdf.outline.addItem(heading)
    for (const mark of marks) draw(pdf, mark, fonts, registered)
    if (i % pagesBetween !== pagesBetween - 1) continue
    progress?.(i + 1, document.pageCount)
    await new Promise((resolve) => setImmediate(resolve))
  }
  pdf.end()
  await ended
  return Buffer.concat(chunks)
}

function draw(pdf: Pdf, mark: PageMark, fonts: DocumentFonts, registered: Set<string>): void {
  switch (mark.kind) {
    case 'text':
      return drawText(pdf, mark, fonts, registered)
    case 'line': {
      const [first, ...rest] = mark.points
      if (!first) return
      pdf.lineWidth(mark.width).strokeColor(inks[mark.ink ?? 'ink'])
      if (mark.dash !== undefined) pdf.dash(mark.dash, { space: mark.dash })
      pdf.moveTo(...first)
      for (const point of rest) pdf.lineTo(...point)
      pdf.stroke()
      if (mark.dash !== undefined) pdf.undash()
      return
    }
    case 'box':
      pdf.rect(mark.x, mark.y, mark.width, mark.height)
      return paint(pdf, mark)
    case 'circle':
      pdf.circle(mark.x, mark.y, mark.radius)
      return paint(pdf, mark)
  }
}

function paint(pdf: Pdf, { fill, line }: Extract<PageMark, { kind: 'box' | 'circle' }>): void {
  pdf.lineWidth(0.7)
  if (fill && line) pdf.fillAndStroke(inks[fill], inks[line])
  else if (fill) pdf.fill(inks[fill])
  else pdf.stroke(inks[line ?? 'ink'])
}

function drawText(
  pdf: Pdf,
  {
    text,
    x,
    y,
    face,
    size,
    ink = 'ink',
    align = 'left',
    turn,
  }: Extract<PageMark, { kind: 'text' }>,
  fonts: DocumentFonts,
  registered: Set<string>,
): void {
  if (text === '') return
  const runs = fonts.runs(text, face)
  const use = ({ name, bytes }: (typeof runs)[number]['file']) => {
    if (registered.has(name)) return pdf.font(name, size)
    registered.add(name)
    pdf.registerFont(name, bytes)
    return pdf.font(name, size)
  }
  const widths =
    runs.length === 1 && align === 'left'
      ? [0]
      : runs.map(({ file, text: part }) => use(file).widthOfString(part))
  const whole = widths.reduce((sum, width) => sum + width, 0)
  if (turn !== undefined) pdf.save().rotate(turn, { origin: [x, y - size / 3] })
  pdf.fillColor(inks[ink])
  let at = align === 'left' ? x : align === 'right' ? x - whole : x - whole / 2
  for (const [i, { file, text: part }] of runs.entries()) {
    use(file).text(part, at, y, { lineBreak: false, baseline: 'alphabetic' })
    at += widths[i]!
  }
  if (turn !== undefined) pdf.restore()
}
