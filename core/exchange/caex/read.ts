import { factColumns, factNames } from '../../signals/facts'
import type { ListTable } from '../list-table'
import { walkXml, type XmlElement } from '../xml-walk'

const facts = factNames.map((name) => factColumns[name].heading)
const ownHeadings = ['Tag', 'Comment', 'Terminal', 'Station', 'Slot', 'Channel', 'Address'] as const
const headings = [...ownHeadings, ...facts]

interface Tag {
  readonly name: string
  readonly line: number
  readonly attributes: Map<string, string>
}

interface Place {
  readonly station: string
  readonly slot: string
  readonly channel: string
}

const isOf = ({ attributes }: XmlElement, wanted: string) =>
  (attributes['RefBaseClassPath'] ?? '').split('/').at(-1) === wanted

/** Tags of a CAEX 3.0 or 2.15 file as a table, each with the channel that a link joins it with. A
 *  sentence where it cannot be read. */
export function readCaex(text: string, fileName: string): ListTable | string {
  const tags = new Map<string, Tag>()
  const places = new Map<string, Place>()
  const links: (readonly [string, string])[] = []
  /** Position of the module that is open, and the number of the channel. */
  const positions = new Map<XmlElement, string>()
  const numbers = new Map<XmlElement, string>()
  let tag: { readonly element: XmlElement; readonly tag: Tag } | null = null
  const keyOf = ({ attributes, line }: XmlElement) => attributes['ID'] ?? `line ${line}`

  const fault = walkXml(text, {
    open(element) {
      const { name, attributes, line } = element
      if (name === 'ExternalInterface' && isOf(element, 'Tag'))
        tag = { element, tag: { name: attributes['Name'] ?? '', line, attributes: new Map() } }
      else if (name === 'InternalLink')
        links.push([attributes['RefPartnerSideA'] ?? '', attributes['RefPartnerSideB'] ?? ''])
    },
    close(element, path, content) {
      const { name } = element
      const owner = path.at(-1)
      if (name === 'Value' && owner?.name === 'Attribute') {
        const [of, attribute] = [path.at(-2), owner.attributes['Name'] ?? '']
        if (tag && of === tag.element) tag.tag.attributes.set(attribute, content)
        else if (of?.name === 'InternalElement' && attribute === 'PositionNumber')
          positions.set(of, content.trim())
        else if (of?.name === 'ExternalInterface' && attribute === 'Number')
          numbers.set(of, content.trim())
      } else if (name === 'ExternalInterface' && isOf(element, 'Channel')) {
        const [station, module] = path.filter((one) => one.name === 'InternalElement').slice(-2)
        places.set(keyOf(element), {
          station: station?.attributes['Name'] ?? '',
          slot: (module && positions.get(module)) ?? '',
          channel: numbers.get(element) ?? '',
        })
      } else if (tag && element === tag.element) {
        tags.set(keyOf(element), tag.tag)
        tag = null
      }
    },
  })
  if (fault) return `${fileName}: ${fault}`
  const placeOf = new Map<string, Place>()
  for (const [a, b] of links) {
    const [of, place] = tags.has(a) ? [a, places.get(b)] : [b, places.get(a)]
    if (place) placeOf.set(of, place)
  }
  return {
    name: fileName,
    headings,
    rows: [...tags].map(([id, { name, line, attributes }]) => {
      const place = placeOf.get(id)
      const of = (key: string) => attributes.get(key) ?? ''
      return {
        line,
        cells: [
          name,
          of('Comment'),
          of('Terminal'),
          place?.station ?? '',
          place?.slot ?? '',
          place?.channel ?? '',
          of('LogicalAddress'),
          ...facts.map(of),
        ],
      }
    }),
    notes: [],
  }
}
