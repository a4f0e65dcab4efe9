import type { ListTable } from '../list-table'
import { walkXml, type XmlElement } from '../xml-walk'

const headings = ['Tag', 'Comment', 'Address', 'Controller'] as const

interface Found {
  name: string
  comment: string
  address: string
  type: string
  readonly controller: string
  readonly line: number
}

/** Global variables of a PLCopen TC6 or IEC 61131-10 file as a table: name, comment, address, and the
 *  resource they belong to. Values that a scaling block makes are not signals and are left out. A
 *  sentence where it cannot be read. */
export function readVariables(text: string, fileName: string): ListTable | string {
  const found: Found[] = []
  let current: Found | null = null
  let owner: XmlElement | null = null
  const resourceOf = (path: readonly XmlElement[]) =>
    path.findLast(({ name }) => name.toLowerCase() === 'resource')?.attributes['name'] ?? ''
  const fault = walkXml(text, {
    open(element, path) {
      const { name, attributes, line } = element
      const within = path.at(-1)?.name.toLowerCase()
      if (name.toLowerCase() === 'variable' && within === 'globalvars') {
        owner = element
        current = {
          name: attributes['name'] ?? '',
          comment: '',
          address: attributes['address'] ?? '',
          type: '',
          controller: resourceOf(path),
          line,
        }
        found.push(current)
      } else if (current && name === 'Address' && attributes['address'])
        current.address = attributes['address']
      else if (current && within === 'type') current.type ||= name
    },
    close(element, path, content) {
      if (!current) return
      if (element === owner) current = owner = null
      else if (
        element.name.toLowerCase() === 'documentation' ||
        path.some(({ name }) => name.toLowerCase() === 'documentation')
      )
        current.comment = [current.comment, content.trim()].filter(Boolean).join(' ')
      else if (element.name === 'TypeName') current.type = content.trim()
    },
  })
  if (fault) return `${fileName}: ${fault}`
  const names = new Set(found.map(({ name }) => name))
  const isScaled = ({ name, address, type }: Found) => {
    const of = /^(.+)_value(?:_\d+)?$/i.exec(name)?.[1]
    return of !== undefined && address === '' && type === 'REAL' && names.has(of)
  }
  return {
    name: fileName,
    headings,
    rows: found
      .filter((one) => !isScaled(one))
      .map(({ name, comment, address, controller, line }) => ({
        line,
        cells: [name, comment, address, controller],
      })),
    notes: [],
    holds: 'variables',
  }
}
