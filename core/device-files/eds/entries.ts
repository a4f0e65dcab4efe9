import type { Position, Problems } from '../../vocabulary/problem'
import type { SourceText } from '../source-text'

/** `Name = field, field, …;` in its section. Empty fields keep their place; texts stand without
 *  quotes. */
export class Entry implements Position {
  constructor(
    readonly section: string,
    readonly name: string,
    readonly fields: readonly string[],
    private readonly source: SourceText,
    private readonly offset: number,
    private readonly fieldsAt: number,
  ) {}

  field(index: number): string {
    return this.fields[index] ?? ''
  }

  /** Where a field stands. */
  at(index: number): Position {
    return new FieldPlace(this, index)
  }

  placeOf(index: number): Position {
    const offsets: number[] = []
    readFields(this.source.text, this.fieldsAt, [], offsets)
    return this.source.placeAt(offsets[index] ?? this.offset)
  }

  get line(): number {
    return this.source.placeAt(this.offset).line
  }

  get column(): number {
    return this.source.placeAt(this.offset).column
  }
}

/** Found only when somebody asks. */
class FieldPlace implements Position {
  constructor(
    private readonly entry: Entry,
    private readonly index: number,
  ) {}

  get line(): number {
    return this.entry.placeOf(this.index).line
  }

  get column(): number {
    return this.entry.placeOf(this.index).column
  }
}

/** Where the text stops in the middle of an entry; null where it ends well. */
export interface Unfinished {
  readonly message: string
  readonly at: Position
}

const blank = (code: number) => code <= 0x20
const [quote, dollar, comma, equals, semicolon, open, close, backslash] = [
  0x22, 0x24, 0x2c, 0x3d, 0x3b, 0x5b, 0x5d, 0x5c,
]

/** Every entry of an EDS text; `$` comments are gone, adjacent texts are joined (CIP Vol. 1, ch. 7,
 *  from memory). */
export function readEntries(
  source: SourceText,
  problems: Problems,
  take: (entry: Entry) => void,
): Unfinished | null {
  const { text } = source
  let section = ''
  let at = skipBlanks(text, 0)
  while (at < text.length) {
    if (text.charCodeAt(at) === open) {
      const end = text.indexOf(']', at)
      if (end < 0)
        return { message: 'A section begins with [ and does not end.', at: source.placeAt(at) }
      section = text
        .slice(at + 1, end)
        .trim()
        .toLowerCase()
      at = skipBlanks(text, end + 1)
      continue
    }
    const start = at
    while (at < text.length && !endsName(text.charCodeAt(at))) at++
    const name = text.slice(start, at).trim()
    if (at >= text.length)
      return name === ''
        ? null
        : { message: `"${name.slice(0, 40)}" has no = and no fields.`, at: source.placeAt(start) }
    if (text.charCodeAt(at) !== equals) {
      problems.error(
        'eds.entry',
        `"${name.slice(0, 40)}" is no entry; Name = field, field; is needed.`,
        source.placeAt(start),
      )
      at =
        text.charCodeAt(at) === open
          ? at
          : skipBlanks(text, text.charCodeAt(at) === semicolon ? at + 1 : endOfLine(text, at))
      continue
    }
    const fields: string[] = []
    const assigned = at
    at = readFields(text, at + 1, fields)
    if (at >= text.length)
      return {
        message: `The file is cut off: the entry ${name} has no ; at its end.`,
        at: source.placeAt(start),
      }
    take(new Entry(section, name, fields, source, start, assigned + 1))
    const code = text.charCodeAt(at)
    if (code !== semicolon)
      problems.error(
        'eds.semicolon',
        `The entry ${name} has no ; at its end.`,
        source.placeAt(start),
      )
    const restart = code === equals ? startOfWord(text, at) : at
    at = skipBlanks(text, code === semicolon || restart <= assigned ? at + 1 : restart)
  }
  return null
}

/** Fields up to `;`, and where each begins if somebody asks; stops before a section or another
 *  entry's `=` too. */
function readFields(text: string, from: number, fields: string[], offsets?: number[]): number {
  let at = from
  let field = ''
  let begun = -1
  for (;;) {
    at = skipBlanks(text, at)
    const code = text.charCodeAt(at)
    if (at >= text.length) return at
    const isEnd =
      code === semicolon || code === equals || (code === open && startsSection(text, at))
    if (isEnd || code === comma) {
      fields.push(field)
      offsets?.push(begun < 0 ? at : begun)
      if (isEnd) return at
      field = ''
      begun = -1
      at++
    } else if (code === quote) {
      if (begun < 0) begun = at
      const end = endOfText(text, at + 1)
      if (end < 0) return text.length
      field += unescape(text.slice(at + 1, end))
      at = end + 1
    } else {
      if (begun < 0) begun = at
      const start = at
      while (at < text.length && !isDelimiter(text.charCodeAt(at))) at++
      if (at === start) at++
      field = field === '' ? text.slice(start, at) : `${field} ${text.slice(start, at)}`
    }
  }
}

function endsName(code: number): boolean {
  return code === equals || code === semicolon || code === open || code === dollar || code === quote
}

function isDelimiter(code: number): boolean {
  return (
    blank(code) ||
    code === comma ||
    code === semicolon ||
    code === quote ||
    code === dollar ||
    code === equals
  )
}

/** The closing quote, before which no backslash stands; -1 where there is none in this line. */
function endOfText(text: string, from: number): number {
  for (let at = from; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === backslash) at++
    else if (code === quote) return at
    else if (code === 0x0a || code === 0x0d) return -1
  }
  return -1
}

const unescape = (text: string) => (text.includes('\\') ? text.replace(/\\(["\\])/g, '$1') : text)

function skipBlanks(text: string, from: number): number {
  let at = from
  for (; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === dollar) at = endOfLine(text, at) - 1
    else if (!blank(code)) return at
  }
  return at
}

function endOfLine(text: string, from: number): number {
  let at = from
  while (at < text.length && text.charCodeAt(at) !== 0x0a && text.charCodeAt(at) !== 0x0d) at++
  return at
}

/** A `[` that begins a line and is no parameter in a path. */
function startsSection(text: string, at: number): boolean {
  if (/^\[\s*Param\d/i.test(text.slice(at, at + 20))) return false
  let before = at - 1
  while (before >= 0 && (text[before] === ' ' || text[before] === '\t')) before--
  return before < 0 || text.charCodeAt(before) === 0x0a || text.charCodeAt(before) === 0x0d
}

/** Back from an `=` to the name before it. */
function startOfWord(text: string, at: number): number {
  let start = at - 1
  while (start > 0 && blank(text.charCodeAt(start))) start--
  while (
    start > 0 &&
    !isDelimiter(text.charCodeAt(start - 1)) &&
    text.charCodeAt(start - 1) !== close
  )
    start--
  return start
}
