import { SaxesParser, type SaxesTagPlain } from 'saxes'

/** Where the tokenizer stands in the whole text. */
export interface XmlCursor {
  readonly position: number
}

/** Parts that need not be tokenized, because they are written exactly like one that was. */
export interface KnownParts {
  /** Local names of elements that may be such parts. */
  readonly names: ReadonlySet<string>
  /** Called where an element of these names begins; takes note of it and gives its end, or null
   *  where it has to be tokenized. */
  passOver(start: number, tagName: string): number | null
}

/** What is called while XML is read. */
export interface XmlEvents {
  open(tag: SaxesTagPlain): void
  close(tag: SaxesTagPlain): void
  /** Only where text is wanted; passing over it is faster. */
  text(part: string): void
  doctype(doctype: string): void
  error(error: Error): void
}

/** Tokenizing is synchronous, so there is one listener at a time. */
let events: XmlEvents

/** Its handlers stand once on the prototype: a parser that gets them one by one with `on` becomes a
 *  slow dictionary object, and reading takes five times as long from about the seventh parser of a
 *  process on. */
class Tokenizer extends SaxesParser {}
Tokenizer.prototype.on('opentag', (tag) => events.open(tag))
Tokenizer.prototype.on('closetag', (tag) => events.close(tag))
Tokenizer.prototype.on('doctype', (doctype) => events.doctype(doctype))
Tokenizer.prototype.on('error', (error) => events.error(error))

class TextTokenizer extends Tokenizer {}
TextTokenizer.prototype.on('text', (part) => events.text(part))
TextTokenizer.prototype.on('cdata', (part) => events.text(part))

/** Reads a whole text and calls what `listen` gives, with its text between tags if wanted. XML 1.0;
 *  entities are not expanded. */
export function tokenizeXml(
  text: string,
  withText: boolean,
  listen: (cursor: XmlCursor) => XmlEvents,
  known?: KnownParts,
): void {
  const before = events
  const parser = withText ? new TextTokenizer() : new Tokenizer()
  let from = 0
  let passed = 0
  events = listen({
    get position() {
      return parser.position + passed
    },
  })
  try {
    if (known) {
      for (const { start, tagName } of partStarts(text, known.names)) {
        if (start < from) continue
        parser.write(text.slice(from, start))
        from = start
        const end = known.passOver(start, tagName)
        if (end === null) continue
        from = end
        passed += end - start
      }
    }
    parser.write(from === 0 ? text : text.slice(from)).close()
  } finally {
    events = before
  }
}

interface PartStart {
  readonly start: number
  readonly tagName: string
}

/** What may hold something that looks like a tag and is none, and how it ends (XML 1.0). */
const hidden: ReadonlyMap<string, string> = new Map([
  ['<!--', '-->'],
  ['<![CDATA[', ']]>'],
  ['<?', '?>'],
])

/** Where elements of these names begin, in the order of the text; with the prefix of the root
 *  element, if it has one. */
function* partStarts(text: string, names: ReadonlySet<string>): Iterable<PartStart> {
  const prefix = /<([\w.-]+:)?[\w.-]+[\s/>]/.exec(text.slice(0, 10_000))?.[1] ?? ''
  const openings = [...hidden.keys(), ...[...names].map((name) => `<${prefix}${name}`)]
  const ahead = openings.map((opening) => text.indexOf(opening))
  for (;;) {
    let next = -1
    for (let i = 0; i < ahead.length; i++)
      if (ahead[i]! >= 0 && (next < 0 || ahead[i]! < ahead[next]!)) next = i
    if (next < 0) return
    const opening = openings[next]!
    const start = ahead[next]!
    const closing = hidden.get(opening)
    const end = closing === undefined ? start + opening.length : text.indexOf(closing, start)
    if (end < 0) return
    if (closing === undefined && /[\s>]/.test(text[end]!))
      yield { start, tagName: opening.slice(1) }
    for (let i = 0; i < ahead.length; i++)
      if (ahead[i]! >= 0 && ahead[i]! < end) ahead[i] = text.indexOf(openings[i]!, end)
  }
}
