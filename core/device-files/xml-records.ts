import type { SaxesTagPlain } from 'saxes'
import type { Position, Problem, Problems } from '../vocabulary/problem'
import { SourceText } from './source-text'
import { tokenizeXml, type XmlCursor } from './xml-tokenizer'

/** An element with everything below it; names without namespace prefix. Line and column are those
 *  of its `<`, counted only when asked for. */
export class XmlElement implements Position {
  children: readonly XmlElement[] = none
  text = ''

  constructor(
    readonly name: string,
    readonly attributes: Readonly<Record<string, string>>,
    readonly source: SourceText,
    readonly tagEnd: number,
  ) {}

  /** Its place alone: an element that is kept would keep its whole tree in memory. */
  get place(): Position {
    return tagPlace(this.source, this.tagEnd)
  }

  get line(): number {
    return this.place.line
  }

  get column(): number {
    return this.place.column
  }
}

/** Place of the tag that ends there. */
export function tagPlace(source: SourceText, tagEnd: number): Position {
  return new TagPlace(source, tagEnd)
}

/** Where a tag begins: at the `<` before its end, since none stands in an attribute value (XML 1.0,
 *  3.1). */
class TagPlace implements Position {
  constructor(
    private readonly source: SourceText,
    private readonly tagEnd: number,
  ) {}

  get line(): number {
    return this.source.placeAt(tagStart(this.source.text, this.tagEnd)).line
  }

  get column(): number {
    return this.source.placeAt(tagStart(this.source.text, this.tagEnd)).column
  }
}

function tagStart(text: string, tagEnd: number): number {
  return text.lastIndexOf('<', tagEnd - 1)
}

export interface XmlReading {
  /** Where what is wrong in a record is collected. */
  readonly problems: Problems
  /** Called with the finished tree of each element of these names. */
  readonly records: Readonly<Record<string, (element: XmlElement) => void>>
  /** Elements outside those trees, as they open. */
  readonly outside: (element: XmlElement) => void
  /** Names of parts that files repeat a thousand times: where one is written exactly like an
   *  earlier one, the earlier element stands for both, with the earlier one's place. */
  readonly shared?: ReadonlySet<string>
  /** Whether text between tags is collected. */
  readonly withText?: boolean
}

const none: readonly XmlElement[] = []

class Stop extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message)
  }
}

/** Streams XML and hands over one small tree for each element named in `records`, so that a large
 *  file never stands in memory as a whole. Document type declarations with content are refused
 *  (entities are never expanded). Returns what made the text unreadable, or null. XML 1.0. */
export function readXmlRecords(
  text: string,
  { problems, records, outside, shared, withText = false }: XmlReading,
): Problem | null {
  const source = new SourceText(text)
  const known = new SharedParts(text)
  const open: XmlElement[] = []
  let outsideDepth = 0
  let lastTagEnd = 0

  const listen = (cursor: XmlCursor) => ({
    error(error: Error) {
      throw new Stop(
        fault(
          'xml.malformed',
          `The file is not well-formed XML: ${plain(error.message)}`,
          source.placeAt(cursor.position),
        ),
      )
    },
    doctype(doctype: string) {
      if (/\[|\bSYSTEM\b|\bPUBLIC\b/.test(doctype)) {
        throw new Stop(
          fault(
            'xml.doctype',
            'The file declares a document type with entities or an outside reference; Kataxis never reads those.',
            source.placeAt(cursor.position),
          ),
        )
      }
    },
    open(tag: SaxesTagPlain) {
      const name = localName(tag.name)
      const element = new XmlElement(name, tag.attributes, source, (lastTagEnd = cursor.position))
      const parent = open.at(-1)
      if (parent) {
        attach(parent, element)
        open.push(element)
      } else if (Object.hasOwn(records, name)) {
        open.push(element)
      } else {
        outsideDepth++
        outside(element)
      }
    },
    close(tag: SaxesTagPlain) {
      lastTagEnd = cursor.position
      const element = open.pop()
      if (!element) outsideDepth--
      else if (open.length === 0) readRecord(element)
      else if (shared?.has(element.name) && !tag.isSelfClosing) known.add(element, lastTagEnd)
    },
    text(part: string) {
      const element = open.at(-1)
      if (element) element.text += part
    },
  })
  const readRecord = (element: XmlElement) => {
    const before = problems.list.length
    records[element.name]!(element)
    if (problems.list.length > before) known.forget(element)
  }
  /** Only below a record, since a record itself is always read, and only where no tag before is
   *  still open. */
  const passOver = (start: number, tagName: string) => {
    const parent = open.at(-1)
    const earlier = parent && tagStart(text, start) < lastTagEnd ? known.at(start, tagName) : null
    if (!parent || !earlier) return null
    attach(parent, earlier.element)
    return start + earlier.length
  }

  try {
    tokenizeXml(text, withText, listen, shared && { names: shared, passOver })
    return null
  } catch (error) {
    if (error instanceof Stop) return truncated(error.problem, open, outsideDepth)
    throw error
  }
}

function attach(parent: XmlElement, element: XmlElement): void {
  if (parent.children === none) parent.children = [element]
  else (parent.children as XmlElement[]).push(element)
}

/** Parts of a text by how they are written. */
class SharedParts {
  private static readonly longest = 16_000
  private static readonly most = 4000
  private readonly parts = new Map<string, XmlElement>()

  /** Parts of records in which something was wrong. */
  private readonly suspect = new WeakSet<XmlElement>()

  constructor(private readonly text: string) {}

  /** The earlier element that is written as what begins here. */
  at(offset: number, tagName: string): { element: XmlElement; length: number } | null {
    const ahead = this.text.slice(offset, offset + SharedParts.longest)
    const end = ahead.indexOf(`</${tagName}>`)
    if (end < 0) return null
    const length = end + tagName.length + 3
    const element = this.parts.get(ahead.slice(0, length))
    return element && !this.suspect.has(element) ? { element, length } : null
  }

  add(element: XmlElement, end: number): void {
    const start = tagStart(this.text, element.tagEnd)
    if (end - start <= SharedParts.longest && this.parts.size < SharedParts.most)
      this.parts.set(this.text.slice(start, end), element)
  }

  /** Nothing in this record stands for others any more, so that what is wrong is told at each
   *  place. */
  forget(record: XmlElement): void {
    for (const part of record.children) {
      this.suspect.add(part)
      this.forget(part)
    }
  }
}

/** "unclosed tag" at the very end means that the file was cut off; that is what the reader wants to
 *  know. */
function truncated(problem: Problem, open: readonly XmlElement[], outsideDepth: number): Problem {
  if (!/unclosed tag/.test(problem.message)) return problem
  const innermost = open.at(-1)
  const where = innermost
    ? `<${innermost.name}> opened in line ${innermost.line}`
    : `${outsideDepth} open element(s)`
  return {
    ...problem,
    code: 'xml.truncated',
    message: `The file is cut off: it ends in line ${problem.line} before ${where} is closed.`,
  }
}

function localName(name: string): string {
  const colon = name.indexOf(':')
  return colon < 0 ? name : name.slice(colon + 1)
}

function plain(message: string): string {
  return message.replace(/^(?:[^:]*:)?\d+:\d+: /, '').replace(/\.?$/, '.')
}

function fault(code: string, message: string, at: Position): Problem {
  return { severity: 'error', code, message, line: at.line, column: at.column }
}

export function child(element: XmlElement | undefined, name: string): XmlElement | undefined {
  if (element)
    for (const candidate of element.children) if (candidate.name === name) return candidate
  return undefined
}

export function children(element: XmlElement | undefined, name: string): readonly XmlElement[] {
  return element ? element.children.filter((candidate) => candidate.name === name) : []
}

/** The elements of a list element, e.g. all `ModuleItemRef` in `UseableModules`. */
export function listed(
  element: XmlElement | undefined,
  list: string,
  item: string,
): readonly XmlElement[] {
  return children(child(element, list), item)
}
