import {
  findNodeAtLocation,
  getNodePath,
  parseTree,
  printParseErrorCode,
  type Node,
  type ParseError,
} from 'jsonc-parser'
import { blankFile } from '../../catalog/blank'
import type { Supplement } from '../../catalog/model'
import { Problems } from '../../vocabulary/problem'
import { wordIssue } from '../../vocabulary/schema-words'
import type { FormatReading } from '../format'
import { SourceText } from '../source-text'
import { catalogOf } from './build'
import { deviceSheet, supplementSheet } from './schema'

/** Reads a device sheet: JSON by the published schema. Each wrong value is told with its path and
 *  place. */
export function readSheet(text: string): FormatReading {
  const problems = new Problems()
  const source = new SourceText(text)
  const faults: ParseError[] = []
  const tree = parseTree(text, faults, { allowTrailingComma: false, disallowComments: true })
  const refused = {
    readable: false,
    file: { ...blankFile, format: 'sheet' as const, problems: problems.list },
  }
  const [fault] = faults
  if (fault || !tree) {
    const what = fault
      ? printParseErrorCode(fault.error)
          .replace(/(?<=[a-z])(?=[A-Z])/g, ' ')
          .toLowerCase()
      : 'nothing there'
    problems.error(
      'sheet.json',
      `The sheet is not JSON: ${what}.`,
      source.placeAt(fault?.offset ?? 0),
    )
    return refused
  }
  const json = JSON.parse(text) as unknown
  const isSupplement = typeof json === 'object' && json !== null && 'adds' in json
  const parsed = isSupplement ? supplementSheet.safeParse(json) : deviceSheet.safeParse(json)
  if (!parsed.success) {
    for (const issue of parsed.error.issues)
      problems.error(
        'sheet.value',
        wordIssue(issue),
        source.placeAt(nodeAt(tree, issue.path as (string | number)[]).offset),
      )
    return refused
  }
  const at = (path: (string | number)[]) => source.placeAt(nodeAt(tree, path).offset)
  const about = {
    ...blankFile,
    format: 'sheet' as const,
    formatVersion: String(parsed.data.kataxisSheet),
  }
  if ('adds' in parsed.data) {
    const { maker, name, adds } = parsed.data
    const seen = new Set<string>()
    for (const [i, { orderNumber, module }] of adds.entries()) {
      const key = (orderNumber || `name ${module}`).toLowerCase()
      if (seen.has(key))
        problems.error(
          'id.duplicate',
          orderNumber
            ? `The order number "${orderNumber}" stands more than once in the sheet.`
            : `The module "${module}" stands more than once in the sheet.`,
          at(['adds', i, 'orderNumber']),
        )
      seen.add(key)
    }
    return {
      readable: true,
      file: {
        ...about,
        vendor: { id: null, name: maker },
        family: { main: '', product: name },
        supplements: adds as Supplement[],
        problems: problems.list,
      },
    }
  }
  return {
    readable: true,
    file: {
      ...about,
      ...catalogOf(
        parsed.data,
        (code, message, path) => problems.error(code, message, at(path)),
        (code, message, path) => problems.warning(code, message, at(path)),
      ),
      problems: problems.list,
    },
  }
}

/** The innermost part that is there of what a path names. */
function nodeAt(tree: Node, path: (string | number)[]): Node {
  for (let length = path.length; length > 0; length--) {
    const node = findNodeAtLocation(tree, path.slice(0, length))
    if (node && getNodePath(node).length === length) return node
  }
  return tree
}
