import { tokenizeXml, type XmlCursor } from '../device-files/xml-tokenizer'

/** Longest text that is read, in characters. */
export const mostCharacters = 256 * 1024 * 1024

export interface XmlElement {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly line: number
}

/** What is called as elements open and close, outermost first in `path`; names without prefixes. */
export interface XmlVisitor {
  open(element: XmlElement, path: readonly XmlElement[]): void
  /** With the text that stands in it, without that of elements inside. */
  close(element: XmlElement, path: readonly XmlElement[], text: string): void
}

const local = (name: string) => name.slice(name.indexOf(':') + 1)

class Fault extends Error {}

/** Goes through a whole text; a sentence with the line where it is no XML, or has declarations of
 *  its own: entities are never expanded. */
export function walkXml(text: string, visitor: XmlVisitor): string | null {
  if (text.length > mostCharacters)
    return `The file has ${Math.round(text.length / 1e6)} million characters; ${Math.round(mostCharacters / 1e6)} million are read.`
  const path: XmlElement[] = []
  const texts: string[] = []
  let line = 1
  let counted = 0
  const lineAt = ({ position }: XmlCursor) => {
    for (let at = text.indexOf('\n', counted); at >= 0 && at < position;) {
      line++
      counted = at + 1
      at = text.indexOf('\n', counted)
    }
    return line
  }
  let unknown: string | null = null
  try {
    tokenizeXml(text, true, (cursor) => ({
      open({ name, attributes }) {
        const element = {
          name: local(name),
          attributes: attributes as Readonly<Record<string, string>>,
          line: lineAt(cursor),
        }
        visitor.open(element, path)
        path.push(element)
        texts.push('')
      },
      close() {
        const element = path.pop()!
        visitor.close(element, path, texts.pop()!)
      },
      text(part) {
        if (texts.length > 0) texts[texts.length - 1] += part
      },
      doctype() {
        throw new Fault(
          `Line ${lineAt(cursor)}: the file has a DOCTYPE; declarations of its own are not read.`,
        )
      },
      error(error) {
        throw new Fault(
          `Line ${lineAt(cursor)}: this is no well-formed XML: ${error.message.replace(/^\S*?\d+:\d+: /, '').replace(/\.$/, '')}.`,
        )
      },
    }))
  } catch (error) {
    if (!(error instanceof Fault)) throw error
    unknown = error.message
  }
  return unknown
}
