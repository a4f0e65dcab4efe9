import type { DataItem, Pdo, Submodule } from '../../catalog/model'
import { makeSubmodule } from '../../catalog/blank'
import { portNumberIn } from '../../vocabulary/port'
import type { Attributes } from '../xml-attributes'
import { child, children, type XmlElement } from '../xml-records'
import { dataKindOf } from './data-types'
import type { LocalTexts } from './local-texts'

/** Process data can hardly be longer than one datagram (ETG.1000, from memory: 1486 octets). */
const mostBits = 8 * 65_535

/** Reads `RxPdo` and `TxPdo`. Parts written alike are one element and read once. */
export class Pdos {
  private readonly known = new WeakMap<XmlElement, Pdo>()

  constructor(
    private readonly attributes: Attributes,
    private readonly texts: LocalTexts,
  ) {}

  /** All process data of a device or module as one submodule, laid out as the file assigns them by
   *  default; none where it has no PDOs. */
  submodule(owner: XmlElement, key: string, name: string): Submodule[] {
    const pdos = owner.children.flatMap((element) =>
      element.name === 'RxPdo' || element.name === 'TxPdo' ? [this.read(element)] : [],
    )
    if (pdos.length === 0) return []
    const inputs = assigned(pdos, 'in')
    const outputs = assigned(pdos, 'out')
    return [
      makeSubmodule({
        key,
        name,
        inputBytes: inputs.bytes,
        outputBytes: outputs.bytes,
        inputs: inputs.items,
        outputs: outputs.items,
        pdos,
      }),
    ]
  }

  private read(element: XmlElement): Pdo {
    let pdo = this.known.get(element)
    if (!pdo) this.known.set(element, (pdo = this.readPdo(element)))
    return pdo
  }

  private readPdo(element: XmlElement): Pdo {
    const index = child(element, 'Index')
    const name = this.texts.of(element, 'Name')
    const items: DataItem[] = []
    const objects: { index: number; subindex: number }[] = []
    let bits = 0
    for (const entry of element.children) {
      if (entry.name !== 'Entry') continue
      const length = this.attributes.content(child(entry, 'BitLen'), [0, mostBits]) ?? 0
      // Index 0 is padding.
      const object = this.attributes.content(child(entry, 'Index')) ?? 0
      if (length > 0 && object !== 0) {
        objects.push({
          index: object,
          subindex: this.attributes.content(child(entry, 'SubIndex')) ?? 0,
        })
        const type = child(entry, 'DataType')?.text.trim() ?? ''
        items.push({
          name: this.texts.of(entry, 'Name'),
          group: name,
          type,
          holds: dataKindOf(type),
          offsetBits: bits,
          bits: length,
          asBits: false,
          channels: [],
          ...portOf(type, bits, length, `${name} ${this.texts.of(entry, 'Name')}`),
        })
      }
      bits += length
    }
    return {
      index: this.attributes.content(index) ?? 0,
      name,
      direction: element.name === 'TxPdo' ? 'in' : 'out',
      syncManager: this.attributes.number(element, 'Sm', [0, 255]),
      fixed: this.attributes.boolean(element, 'Fixed'),
      mandatory: this.attributes.boolean(element, 'Mandatory'),
      excludes: children(element, 'Exclude').map(
        (exclude) => this.attributes.content(exclude) ?? 0,
      ),
      dependsOnSlot: this.attributes.boolean(index, 'DependOnSlot'),
      bits,
      items,
      objects,
    }
  }
}

/** Whole octets without a type of a number that are named after a port are that port's. */
function portOf(type: string, offset: number, bits: number, name: string): { port?: number } {
  if (dataKindOf(type) !== 'other' || offset % 8 !== 0 || bits % 8 !== 0) return {}
  const port = portNumberIn(name)
  return port === null ? {} : { port }
}

/** PDOs with a sync manager make the default assignment, bit after bit, sync manager by sync
 *  manager (ETG.2000, from memory); where the file names no sync manager at all, all of them do. */
function assigned(
  pdos: readonly Pdo[],
  direction: Pdo['direction'],
): { items: DataItem[]; bytes: number } {
  const own = pdos.filter((pdo) => pdo.direction === direction)
  const chosen = own.some(({ syncManager }) => syncManager !== null)
    ? own.filter(({ syncManager, mandatory }) => syncManager !== null || mandatory)
    : own
  const ordered = [...chosen].sort((a, b) => (a.syncManager ?? 255) - (b.syncManager ?? 255))
  const items: DataItem[] = []
  let bits = 0
  for (const [i, pdo] of ordered.entries()) {
    // Each sync manager begins at an octet of its own.
    if (i > 0 && pdo.syncManager !== ordered[i - 1]!.syncManager) bits = Math.ceil(bits / 8) * 8
    for (const item of pdo.items)
      items.push(bits === 0 ? item : { ...item, offsetBits: item.offsetBits + bits })
    bits += pdo.bits
  }
  return { items, bytes: Math.ceil(bits / 8) }
}
