import type { BitChannel, DataItem } from '../../catalog/model'
import type { Problems } from '../../vocabulary/problem'
import { children, type XmlElement } from '../xml-records'
import type { Attributes } from '../xml-attributes'
import { bytesOfType, dataKindOf, isBigEndianNumber } from './data-types'
import type { Texts } from '../xml-texts'

interface DirectionData {
  readonly items: readonly DataItem[]
  readonly bytes: number
}

const nothing: DirectionData = { items: [], bytes: 0 }

/** Reads `Input` and `Output` of `IOData`. */
export class DataItems {
  /** Parts written alike are one element and read once. */
  private readonly known = new WeakMap<XmlElement, DirectionData>()

  constructor(
    private readonly attributes: Attributes,
    private readonly texts: Texts,
    private readonly problems: Problems,
  ) {}

  /** Data items one after the other, and their length in octets. */
  read(direction: XmlElement | undefined): DirectionData {
    if (!direction) return nothing
    let read = this.known.get(direction)
    if (!read) this.known.set(direction, (read = this.readItems(direction)))
    return read
  }

  private readItems(direction: XmlElement): DirectionData {
    const items: DataItem[] = []
    let offsetBytes = 0
    for (const element of children(direction, 'DataItem')) {
      const type = element.attributes['DataType'] ?? ''
      const bytes = this.lengthOf(element, type)
      const item = {
        name: '',
        type,
        holds: dataKindOf(type),
        offsetBits: offsetBytes * 8,
        bits: bytes * 8,
        asBits: this.attributes.boolean(element, 'UseAsBits'),
        channels: this.readBits(element, offsetBytes, bytes, isBigEndianNumber(type)),
      }
      this.texts.want(item, 'name', element.attributes['TextId'], element)
      items.push(item)
      offsetBytes += bytes
    }
    return { items, bytes: offsetBytes }
  }

  private lengthOf(element: XmlElement, type: string): number {
    const stated = this.attributes.number(element, 'Length', [0, 1440])
    const fixed = bytesOfType(type)
    if (fixed === undefined) {
      this.problems.error(
        'data.type',
        `DataItem has the data type "${type}", which the format does not know${stated === null ? '' : `; its Length ${stated} is used`}.`,
        element,
      )
      return stated ?? 0
    }
    if (fixed !== null) return fixed
    if (stated !== null) return stated
    if (type === 'TimeOfDay') return 6
    this.problems.error(
      'data.length',
      `DataItem of type ${type} has no Length; it is needed.`,
      element,
    )
    return 0
  }

  private readBits(
    element: XmlElement,
    offsetBytes: number,
    bytes: number,
    isBackwards: boolean,
  ): BitChannel[] {
    const channels: BitChannel[] = []
    for (const bit of element.children) {
      if (bit.name !== 'BitDataItem') continue
      const offset = this.attributes.required(bit, 'BitOffset', [0, 11519])
      if (offset >= bytes * 8) {
        this.problems.error(
          'data.bit',
          `BitDataItem@BitOffset ${offset} lies outside its ${bytes * 8} bits.`,
          bit,
        )
        continue
      }
      const byteInItem = offset >> 3
      const byte = offsetBytes + (isBackwards ? bytes - 1 - byteInItem : byteInItem)
      const channel = { name: '', offsetBits: byte * 8 + (offset & 7) }
      this.texts.want(channel, 'name', bit.attributes['TextId'], bit)
      channels.push(channel)
    }
    return channels
  }
}
