import type { Position } from '../vocabulary/problem'

/** The text of a description file; finds line and column of an offset. Lines end with LF, CR LF or
 *  CR. */
export class SourceText {
  private starts: number[] | null = null

  constructor(readonly text: string) {}

  /** Line and column of an offset, both from 1. */
  placeAt(offset: number): Position {
    const starts = (this.starts ??= lineStarts(this.text))
    let low = 0
    let high = starts.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (starts[middle]! <= offset) low = middle
      else high = middle - 1
    }
    return { line: low + 1, column: offset - starts[low]! + 1 }
  }
}

function lineStarts(text: string): number[] {
  const starts = [0]
  for (const { index, 0: end } of text.matchAll(/\r\n?|\n/g)) starts.push(index + end.length)
  return starts
}
