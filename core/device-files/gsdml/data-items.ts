import type { BitChannel, DataItem } from '../../catalog/model'
import type { Problems } from '../../problem'
import { children, type XmlElement } from '../xml-records'
import { Attributes } from './attributes'
import { dataTypeBytes, isBigEndianNumber } from './data-types'
import type { Texts } from './texts'

/** `Input` or `Output` of `IOData` as data items one after the other, and their length in octets. */
export function readDataItems(
  direction: XmlElement | undefined,
  attributes: Attributes,
  texts: Texts,
  problems: Problems,
): { items: DataItem[]; bytes: number } {
  const items: DataItem[] = []
  let offsetBytes = 0
  for (const element of children(direction, 'DataItem')) {
    const type = element.attributes['DataType'] ?? ''
    const bytes = lengthOf(element, type, attributes, problems)
    const asBits = attributes.boolean(element, 'UseAsBits')
    const item = {
      name: '',
      type,
      offsetBits: offsetBytes * 8,
      bits: bytes * 8,
      asBits,
      channels: readBits(element, offsetBytes, bytes, type, attributes, texts, problems),
    }
    texts.want(item, 'name', element.attributes['TextId'], element)
    items.push(item)
    offsetBytes += bytes
  }
  return { items, bytes: offsetBytes }
}

function lengthOf(element: XmlElement, type: string, attributes: Attributes, problems: Problems): number {
  const stated = attributes.number(element, 'Length', [0, 1440])
  const fixed = dataTypeBytes[type]
  if (fixed === undefined) {
    problems.error('data.type', `DataItem has the data type "${type}", which the format does not know${stated === null ? '' : `; its Length ${stated} is used`}.`, element)
    return stated ?? 0
  }
  if (fixed !== null) return fixed
  if (stated !== null) return stated
  if (type === 'TimeOfDay') return 6
  problems.error('data.length', `DataItem of type ${type} has no Length; it is needed.`, element)
  return 0
}

function readBits(
  element: XmlElement,
  offsetBytes: number,
  bytes: number,
  type: string,
  attributes: Attributes,
  texts: Texts,
  problems: Problems,
): BitChannel[] {
  const channels: BitChannel[] = []
  const backwards = isBigEndianNumber(type)
  for (const bit of element.children) {
    if (bit.name !== 'BitDataItem') continue
    const offset = attributes.required(bit, 'BitOffset', [0, 11519])
    if (offset >= bytes * 8) {
      problems.error('data.bit', `BitDataItem@BitOffset ${offset} lies outside its ${bytes * 8} bits.`, bit)
      continue
    }
    const byteInItem = offset >> 3
    const byte = offsetBytes + (backwards ? bytes - 1 - byteInItem : byteInItem)
    const channel = { name: '', offsetBits: byte * 8 + (offset & 7) }
    texts.want(channel, 'name', bit.attributes['TextId'], bit)
    channels.push(channel)
  }
  return channels
}
