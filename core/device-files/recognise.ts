/** So far into a text its format is looked for. */
const lookedAt = 200_000

/** The first line of a text that is neither empty nor a comment, which `mark` begins; without space
 *  before it. */
export function firstLine(text: string, mark: string): string {
  for (let at = 0; at < Math.min(text.length, lookedAt);) {
    const end = endOfLine(text, at)
    const line = text.slice(at, Math.min(end, at + 1000)).trimStart()
    if (line !== '' && !line.startsWith(mark)) return line
    at = end + 1
  }
  return ''
}

function endOfLine(text: string, from: number): number {
  let at = from
  while (at < text.length && text[at] !== '\n' && text[at] !== '\r') at++
  return at
}

/** The root element of an XML text, without prefix, wherever it stands behind comments and
 *  declarations; null where none is found. */
export function rootElement(text: string): string | null {
  let at = text.charCodeAt(0) === 0xfeff ? 1 : 0
  while (at < Math.min(text.length, lookedAt)) {
    const space = /\s/y
    space.lastIndex = at
    if (space.test(text)) {
      at++
      continue
    }
    const end = endOfMarkup(text, at)
    if (end === null)
      return /^<(?:[\w.-]{1,200}:)?([\w.-]{1,200})/.exec(text.slice(at, at + 500))?.[1] ?? null
    at = end
  }
  return null
}

const markup: readonly [begin: string, end: string][] = [
  ['<?', '?>'],
  ['<!--', '-->'],
]

/** Behind a comment, declaration or document type; null where something else begins. */
function endOfMarkup(text: string, at: number): number | null {
  for (const [begin, end] of markup)
    if (text.startsWith(begin, at)) return behind(text, end, at + begin.length)
  if (!text.startsWith('<!DOCTYPE', at)) return null
  const close = behind(text, '>', at)
  const subset = text.indexOf('[', at)
  return subset === -1 || subset >= close ? close : behind(text, '>', behind(text, ']', subset))
}

function behind(text: string, end: string, from: number): number {
  const found = text.indexOf(end, from)
  return found === -1 ? text.length : found + end.length
}
