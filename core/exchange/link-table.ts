import type { LinkEnd, PortLink } from '../plan/model'
import { media, mediumNames, type Medium } from '../vocabulary/medium'
import { pastedRows, type PastedFault } from './pasted-table'
import { writeCells } from './cell-text'

/** A link as a row of a table names it. */
export interface LinkTableRow {
  readonly from: LinkEnd
  readonly to: LinkEnd
  readonly set: Partial<Omit<PortLink, 'to'>>
}

const usual = ['from', 'fromPort', 'to', 'toPort', 'medium', 'length', 'cable', 'label'] as const
type Column = (typeof usual)[number]
const headings: Readonly<Record<Column, RegExp>> = {
  from: /^(from|source|device|station)$/i,
  fromPort: /^(from ?port|source ?port|port|port ?1)$/i,
  to: /^(to|target|partner|destination)$/i,
  toPort: /^(to ?port|target ?port|partner ?port|port ?2)$/i,
  medium: /^(medium|media|kind)$/i,
  length: /^(length|length ?\(m\)|length ?\[m\]|m)$/i,
  cable: /^(cable|cable ?type|type)$/i,
  label: /^(label|name|mark|cable ?no\.?)$/i,
}
export const linkColumns = [
  ...['From', 'From port', 'To', 'To port'],
  ...['Medium', 'Length (m)', 'Cable', 'Label'],
] as const

/** Links as they are pasted from a spreadsheet: from, port, to, port, medium, length, cable, label; by
 *  headings in any order. Nodes by their names; `nodes` says which id has which name. Rows that name
 *  no link are told by their line. */
export function readLinkTable(
  text: string,
  nodes: readonly { readonly id: string; readonly name: string }[],
): { readonly links: readonly LinkTableRow[]; readonly faults: readonly PastedFault[] } {
  const byName = new Map(nodes.map(({ id, name }) => [name.toLowerCase(), id]))
  const links: LinkTableRow[] = []
  const faults: PastedFault[] = []
  const taken = new Map<string, number>()
  for (const { line, cell } of pastedRows(text, headings, usual)) {
    const row = rowOf(cell, byName)
    const keys =
      typeof row === 'string' ? [] : [row.from, row.to].map(({ node, port }) => `${node}:${port}`)
    const before = keys.map((key) => taken.get(key)).find((one) => one !== undefined)
    if (typeof row === 'string') faults.push({ line, sentence: `Line ${line}: ${row}.` })
    else if (before !== undefined)
      faults.push({
        line,
        sentence: `Line ${line}: one of its ports has a partner in line ${before} already.`,
      })
    else {
      links.push(row)
      for (const key of keys) taken.set(key, line)
    }
  }
  return { links, faults }
}

/** One link, or a clause why it is none. */
function rowOf(
  cell: (column: Column) => string,
  byName: ReadonlyMap<string, string>,
): LinkTableRow | string {
  const ends = [endOf('from', 'fromPort'), endOf('to', 'toPort')] as const
  const fault = ends.find((end) => typeof end === 'string')
  if (fault !== undefined) return fault as string
  const [from, to] = ends as readonly [LinkEnd, LinkEnd]
  if (from.node === to.node) return `${cell('from')} is linked to itself`
  const medium = cell('medium') === '' ? null : mediumOf(cell('medium'))
  if (medium === undefined)
    return `"${cell('medium')}" is no medium; ${mediumNames.map((one) => media[one].word).join(', ')} are`
  const lengthM = cell('length') === '' ? null : lengthOf(cell('length'))
  if (lengthM === undefined) return `"${cell('length')}" is no length in metres; 35 and 12.5 m are`
  return {
    from,
    to,
    set: {
      ...(medium && { medium }),
      ...(lengthM !== null && { lengthM }),
      ...(cell('cable') !== '' && { cable: cell('cable').slice(0, 100) }),
      ...(cell('label') !== '' && { label: cell('label').slice(0, 100) }),
    },
  }

  function endOf(nodeColumn: Column, portColumn: Column): LinkEnd | string {
    const node = byName.get(cell(nodeColumn).toLowerCase())
    const [, digits = ''] = /(\d{1,2})$/.exec(cell(portColumn)) ?? []
    const port = Number(digits)
    if (node === undefined) return `"${cell(nodeColumn)}" is no node of this network`
    if (port < 1) return `"${cell(portColumn)}" is no number of a port`
    return { node, port }
  }
}

function mediumOf(word: string): Medium | undefined {
  const plain = word.toLowerCase()
  return mediumNames.find((one) => one === plain || media[one].word.toLowerCase() === plain)
}

/** Metres; `35 m` and `12,5` too. */
function lengthOf(text: string): number | undefined {
  const [, digits] = /^(\d+(?:[.,]\d+)?)\s*(?:m|metres?|meters?)?$/i.exec(text) ?? []
  const metres = digits === undefined ? NaN : Number(digits.replace(',', '.'))
  return metres >= 0 && metres <= 100_000 ? metres : undefined
}

/** The same as a table for a spreadsheet. */
export function writeLinkTable(
  links: readonly {
    readonly from: { readonly name: string; readonly port: number }
    readonly to: { readonly name: string; readonly port: number }
    readonly link: PortLink
  }[],
): string {
  return writeCells([
    linkColumns,
    ...links.map(({ from, to, link }) => [
      ...[from.name, String(from.port), to.name, String(to.port)],
      ...[media[link.medium].word, link.lengthM === null ? '' : String(link.lengthM)],
      ...[link.cable, link.label],
    ]),
  ])
}
