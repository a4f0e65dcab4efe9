import type { Position, Problems } from '../../vocabulary/problem'
import type { SourceText } from '../source-text'

/** One logical line of a GSD file: `Keyword(argument) = value`. */
export class Statement implements Position {
  constructor(
    /** In lower case; keywords are not case-sensitive. */
    readonly keyword: string,
    readonly written: string,
    readonly argument: string | null,
    readonly value: string,
    private readonly source: SourceText,
    private readonly offset: number,
  ) {}

  get line(): number {
    return this.source.placeAt(this.offset).line
  }

  get column(): number {
    return this.source.placeAt(this.offset).column
  }
}

/** Every statement of the text: comments (`;`) gone, lines that end with `\` joined (IEC 61784 CPF
 *  3 / EN 50170, from memory). */
export function* statements(source: SourceText, problems: Problems): Generator<Statement> {
  const { text } = source
  const lefts = new Lefts()
  for (let start = 0; start < text.length;) {
    let end = endOfLine(text, start)
    let line = withoutComment(text.slice(start, end))
    const offset = start
    start = nextLine(text, end)
    while (line.charCodeAt(line.length - 1) === 0x5c && start < text.length) {
      end = endOfLine(text, start)
      line = `${line.slice(0, -1)} ${withoutComment(text.slice(start, end))}`
      start = nextLine(text, end)
    }
    if (line !== '') yield parse(line, lefts, source, offset, problems)
  }
}

/** Lines end with LF, CR LF, or CR alone. */
function endOfLine(text: string, start: number): number {
  const newline = text.indexOf('\n', start)
  const end = newline < 0 ? text.length : newline
  const carriage = text.slice(start, end).indexOf('\r')
  return carriage < 0 ? end : start + carriage
}

function nextLine(text: string, end: number): number {
  return text.charCodeAt(end) === 0x0d && text.charCodeAt(end + 1) === 0x0a ? end + 2 : end + 1
}

function withoutComment(line: string): string {
  const comment = line.indexOf(';')
  if (comment < 0) return line.trim()
  let isQuoted = false
  for (let i = 0; i < line.length; i++) {
    const code = line.charCodeAt(i)
    if (code === 0x22) isQuoted = !isQuoted
    else if (code === 0x3b && !isQuoted) return line.slice(0, i).trim()
  }
  return line.trim()
}

/** What stands left of `=`; files repeat the same ones in every module. */
interface Left {
  readonly keyword: string
  readonly written: string
  readonly argument: string | null
}

class Lefts {
  private static readonly most = 5000
  private readonly known = new Map<string, Left>()

  of(left: string): Left {
    let parsed = this.known.get(left)
    if (!parsed) {
      parsed = parseLeft(left)
      if (this.known.size < Lefts.most) this.known.set(left, parsed)
    }
    return parsed
  }
}

function parseLeft(left: string): Left {
  const bracket = left.indexOf('(')
  const isIndexed = bracket > 0 && left.endsWith(')')
  const written = isIndexed ? left.slice(0, bracket).trimEnd() : left
  return {
    keyword: written.toLowerCase(),
    written,
    argument: isIndexed ? left.slice(bracket + 1, -1).trim() : null,
  }
}

function parse(
  line: string,
  lefts: Lefts,
  source: SourceText,
  offset: number,
  problems: Problems,
): Statement {
  const quote = line.indexOf('"')
  if (quote >= 0 && line.indexOf('"', quote + 1) < 0)
    problems.error(
      'gsd.quote',
      'A text begins with " and does not end in this line.',
      source.placeAt(offset),
    )
  const equals = line.indexOf('=')
  if (equals < 0 || (quote >= 0 && quote < equals))
    return new Statement(line.toLowerCase(), line, null, '', source, offset)
  const { keyword, written, argument } = lefts.of(line.slice(0, equals).trimEnd())
  return new Statement(keyword, written, argument, line.slice(equals + 1).trim(), source, offset)
}

/** A whole number, decimal or `0x…`; null where it is none. */
export function parseNumber(text: string): number | null {
  const trimmed = text.trim()
  if (/^[+-]?\d+$/.test(trimmed)) return Number(trimmed)
  return /^0x[0-9a-f]+$/i.test(trimmed) ? Number(trimmed) : null
}

/** `"text"` without its quotes; a text that was never quoted is taken as it is. */
export function parseText(value: string): string {
  const open = value.indexOf('"')
  if (open < 0) return value
  const close = value.indexOf('"', open + 1)
  return close < 0 ? value.slice(open + 1) : value.slice(open + 1, close)
}

/** What follows the quoted text. */
export function afterText(value: string): string {
  const open = value.indexOf('"')
  return open < 0 ? '' : value.slice(value.indexOf('"', open + 1) + 1).trim()
}

/** `1-3,7` or `1,2,5` as ranges, also `-20-20` and `0x10-0x1f`; null where a part is none. */
export function parseRanges(text: string): [number, number][] | null {
  const ranges: [number, number][] = []
  for (const part of text.split(',')) {
    const match = /^\s*(-?\d+|0x[0-9a-f]+)\s*(?:-\s*(-?\d+|0x[0-9a-f]+)\s*)?$/i.exec(part)
    if (!match) return null
    const from = Number(match[1])
    const to = match[2] === undefined ? from : Number(match[2])
    if (to < from) return null
    ranges.push([from, to])
  }
  return ranges
}

/** Octets of `0x10, 0x20`; null where one is none. */
export function parseOctetList(text: string): number[] | null {
  const octets: number[] = []
  for (const part of text.split(',')) {
    if (part.trim() === '') continue
    const octet = parseNumber(part)
    if (octet === null || octet < 0 || octet > 255) return null
    octets.push(octet)
  }
  return octets
}
