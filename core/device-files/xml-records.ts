import { SaxesParser } from 'saxes'
import type { Position, Problem } from '../problem'

/** An element with everything below it; names without namespace prefix. */
export interface XmlElement extends Position {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly children: readonly XmlElement[]
}

interface OpenElement extends XmlElement {
  children: OpenElement[]
}

const noChildren: OpenElement[] = []
class Stop extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message)
  }
}

/** Streams XML and hands over one small tree for each element named in `handlers`, so that a large file never
 *  stands in memory as a whole. Elements outside those trees are passed to `outside`. Document type declarations are
 *  refused (entities are never expanded). Returns what made the text unreadable, or null. XML 1.0. */
export function readXmlRecords(
  text: string,
  handlers: Readonly<Record<string, (element: XmlElement) => void>>,
  outside: (name: string, attributes: Readonly<Record<string, string>>, at: Position) => void,
): Problem | null {
  const parser = new SaxesParser({ position: true })
  const open: OpenElement[] = []
  let depth = 0
  let line = 1
  let column = 1

  parser.on('error', (error) => {
    throw new Stop(fault('xml.malformed', `The file is not well-formed XML: ${plain(error.message)}`, parser))
  })
  parser.on('doctype', (doctype) => {
    if (/\[|\bSYSTEM\b|\bPUBLIC\b/.test(doctype)) {
      throw new Stop(fault('xml.doctype', 'The file declares a document type with entities or an outside reference; Kataxis never reads those.', parser))
    }
  })
  parser.on('opentagstart', (tag) => {
    line = parser.line
    column = parser.column - tag.name.length - 1
    if (column < 1) {
      line = Math.max(1, line - 1)
      column = 1
    }
  })
  parser.on('opentag', (tag) => {
    const attributes = tag.attributes as Record<string, string>
    const name = localName(tag.name)
    if (open.length === 0 && !Object.hasOwn(handlers, name)) {
      outside(name, attributes, { line, column })
      depth++
      return
    }
    const element: OpenElement = { name, attributes, children: noChildren, line, column }
    const parent = open.at(-1)
    if (parent) {
      if (parent.children === noChildren) parent.children = [element]
      else parent.children.push(element)
    }
    open.push(element)
  })
  parser.on('closetag', () => {
    const element = open.pop()
    if (!element) depth--
    else if (open.length === 0) handlers[element.name]!(element)
  })

  try {
    parser.write(text).close()
    return null
  } catch (error) {
    if (error instanceof Stop) return truncated(error.problem, open, depth)
    throw error
  }
}

/** "unclosed tag" at the very end means that the file was cut off; that is what the reader wants to know. */
function truncated(problem: Problem, open: readonly XmlElement[], depth: number): Problem {
  if (!/unclosed tag/.test(problem.message)) return problem
  const innermost = open.at(-1)
  const where = innermost ? `<${innermost.name}> opened in line ${innermost.line}` : `${depth} open element(s)`
  return { ...problem, code: 'xml.truncated', message: `The file is cut off: it ends in line ${problem.line} before ${where} is closed.` }
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
  return element?.children.find((candidate) => candidate.name === name)
}

export function children(element: XmlElement | undefined, name: string): readonly XmlElement[] {
  return element ? element.children.filter((candidate) => candidate.name === name) : []
}

/** The elements of a list element, e.g. all `ModuleItemRef` in `UseableModules`. */
export function listed(element: XmlElement | undefined, list: string, item: string): readonly XmlElement[] {
  return children(child(element, list), item)
}
