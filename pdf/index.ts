import type { ExportInput } from '@kataxis/core'
import { drawPdf } from './draw'
import { documentFonts } from './fonts'

export { documentFonts, type DocumentFonts } from './fonts'
export { drawPdf } from './draw'

/** A document of a plan as PDF, laid out with the widths of the program's fonts. */
export const drawDocument: NonNullable<ExportInput['draw']> = (make, { project, at }, progress) => {
  const document = make(documentFonts().measure)
  return drawPdf(document, { title: `${document.title}, ${project}`, at }, progress)
}
