/** What a printed page is made of, in points (1/72 inch) from its upper left corner. A page is data:
 *  the PDF is drawn from it, and so is the preview in the browser. */

export const faces = ['text', 'strong', 'narrow', 'narrowStrong', 'mono'] as const
export type Face = (typeof faces)[number]

/** Colours as they are printed. */
export const inks = {
  ink: '#1b2226',
  quiet: '#5b666c',
  line: '#b9c2c6',
  shade: '#eef1f2',
  faint: '#ece8e2',
  paper: '#ffffff',
} as const
export type Ink = keyof typeof inks

export interface TextMark {
  readonly kind: 'text'
  /** Of the baseline; `align` says which end of the text stands at `x`. */
  readonly x: number
  readonly y: number
  readonly text: string
  readonly face: Face
  readonly size: number
  readonly ink?: Ink
  readonly align?: 'left' | 'center' | 'right'
  /** Degrees, clockwise, around its place. */
  readonly turn?: number
}
export interface LineMark {
  readonly kind: 'line'
  readonly points: readonly (readonly [x: number, y: number])[]
  readonly width: number
  readonly ink?: Ink
  readonly dash?: number
}
export interface BoxMark {
  readonly kind: 'box'
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  readonly fill?: Ink
  readonly line?: Ink
}
export interface CircleMark {
  readonly kind: 'circle'
  readonly x: number
  readonly y: number
  readonly radius: number
  readonly fill?: Ink
  readonly line?: Ink
}
export type Mark = TextMark | LineMark | BoxMark | CircleMark

export interface Page {
  readonly width: number
  readonly height: number
  readonly marks: readonly Mark[]
  /** What begins on it, for the outline. */
  readonly begins: readonly string[]
}

/** A document as it will be printed; pages are made one by one, so that a long one needs no more room
 *  than a page. */
export interface PrintedDocument {
  readonly title: string
  readonly pageCount: number
  readonly page: (index: number) => Page
}

/** Width of one character, in units of its size. */
export type Measure = (sign: string, face: Face) => number

export const mm = 72 / 25.4

/** The same marks elsewhere. */
export function moved(marks: readonly Mark[], dx: number, dy: number): Mark[] {
  return marks.map((mark) =>
    mark.kind === 'line'
      ? { ...mark, points: mark.points.map(([x, y]) => [x + dx, y + dy] as const) }
      : { ...mark, x: mark.x + dx, y: mark.y + dy },
  )
}
