import { SaxesParser, type SaxesTagPlain } from 'saxes'

/** Where the tokenizer stands; line from 1. */
export interface XmlCursor {
  readonly position: number
  readonly line: number
  readonly column: number
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

/** Its handlers stand once on the prototype: a parser that gets them one by one with `on` becomes a slow dictionary
 *  object, and reading takes five times as long from about the seventh parser of a process on. */
class Tokenizer extends SaxesParser {}
Tokenizer.prototype.on('opentag', (tag) => events.open(tag))
Tokenizer.prototype.on('closetag', (tag) => events.close(tag))
Tokenizer.prototype.on('doctype', (doctype) => events.doctype(doctype))
Tokenizer.prototype.on('error', (error) => events.error(error))

class TextTokenizer extends Tokenizer {}
TextTokenizer.prototype.on('text', (part) => events.text(part))
TextTokenizer.prototype.on('cdata', (part) => events.text(part))

/** Reads a whole text and calls what `listen` gives, with its text between tags if wanted. XML 1.0; entities are not expanded. */
export function tokenizeXml(text: string, withText: boolean, listen: (cursor: XmlCursor) => XmlEvents): void {
  const before = events
  const parser = withText ? new TextTokenizer() : new Tokenizer()
  events = listen(parser)
  try {
    parser.write(text).close()
  } finally {
    events = before
  }
}
