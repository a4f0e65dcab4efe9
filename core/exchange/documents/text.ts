import type { Face, Measure } from './marks'

/** Controls, and halves of pairs: nothing that can be printed. */
const unprintable = /[^\u0020-\u007e\u00a0-\ud7ff\ue000-\u{10ffff}]/gu

/** A text on one line, without what cannot be printed. */
export function printable(text: string): string {
  return text.replace(/\s+/g, ' ').replace(unprintable, '\ufffd')
}

export function widthOf(text: string, face: Face, size: number, measure: Measure): number {
  let width = 0
  for (const sign of text) width += measure(sign, face)
  return width * size
}

/** Lines of a text that are no wider; broken between words, after signs that join, or within a word
 *  that is too long. Nothing is left out. */
export function wrap(
  text: string,
  width: number,
  face: Face,
  size: number,
  measure: Measure,
): string[] {
  const whole = printable(text).trim()
  const most = width / size
  const lines: string[] = []
  let line = ''
  let used = 0
  for (const word of whole.split(/(?<=[ /_.:·-])/)) {
    const own = widthOf(word.trimEnd(), face, 1, measure)
    if (line !== '' && used + own > most) {
      lines.push(line.trimEnd())
      line = ''
      used = 0
    }
    for (const sign of word) {
      const more = measure(sign, face)
      if (line !== '' && used + more > most && sign !== ' ') {
        lines.push(line)
        line = ''
        used = 0
      }
      line += sign
      used += more
    }
  }
  lines.push(line.trimEnd())
  return lines
}
