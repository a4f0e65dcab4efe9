import { nibbleOffset, nibbleTableBytes, rackOffset } from '../../addressing/slot-tables'
import type { DataItem, SlotPlace } from '../../catalog/model'
import { sheetTypes, unusedType, type DeviceSheet, type SheetData } from './schema'

/** Places of slots in the head's data, and how long those get by them. */
export interface SlotPlaces {
  readonly at: ReadonlyMap<number, { in: SlotPlace | null; out: SlotPlace | null }>
  readonly inputBytes: number
  readonly outputBytes: number
  /** What stands between the slots. */
  readonly flags: readonly DataItem[]
}

/** "Every slot 16 bytes in and 16 out": the octets are there whatever is plugged. */
export function rackPlaces({ head, slots: { count, first, everySlot } }: DeviceSheet): SlotPlaces {
  const { inputBytes, outputBytes } = everySlot!
  const [headerIn, headerOut] = [layOut(head.inputs).bytes, layOut(head.outputs).bytes]
  const place = (header: number, bytes: number, slot: number) =>
    bytes === 0 ? null : { offsetBits: rackOffset(header, bytes, slot), bits: bytes * 8 }
  return {
    at: new Map(
      Array.from({ length: count }, (_, i) => [
        first + i,
        { in: place(headerIn, inputBytes, i), out: place(headerOut, outputBytes, i) },
      ]),
    ),
    inputBytes: headerIn + count * inputBytes,
    outputBytes: headerOut + count * outputBytes,
    flags: [],
  }
}

/** A gateway's nodes in a table of nibbles, B nodes in a second one behind the first. */
export function nibblePlaces({ head, slots: { count, first, nibbles } }: DeviceSheet): SlotPlaces {
  const { order, secondFirst } = nibbles!
  const bytes = nibbleTableBytes(count)
  const blocks = [
    { name: secondFirst === null ? 'Flags' : 'Flags of A nodes', slot: first, byte: 0 },
    ...(secondFirst === null ? [] : [{ name: 'Flags of B nodes', slot: secondFirst, byte: bytes }]),
  ]
  const [headerIn, headerOut] = [layOut(head.inputs).bytes, layOut(head.outputs).bytes]
  const place = (header: number, byte: number, n: number) => ({
    offsetBits: (header + byte) * 8 + nibbleOffset(n, order),
    bits: 4,
  })
  return {
    at: new Map(
      blocks.flatMap(({ slot, byte }) =>
        Array.from(
          { length: count },
          (_, i) =>
            [
              slot + i,
              { in: place(headerIn, byte, i + 1), out: place(headerOut, byte, i + 1) },
            ] as const,
        ),
      ),
    ),
    inputBytes: headerIn + bytes * blocks.length,
    outputBytes: headerOut + bytes * blocks.length,
    flags: blocks.map(({ name, byte }) => ({
      name,
      type: 'uint4',
      holds: 'unsigned',
      ...place(headerIn, byte, 0),
      asBits: false,
      channels: [],
    })),
  }
}

/** Bits are packed from bit 0, half octets at bit 0 or 4, everything else begins at a whole
 *  octet. */
export function layOut(data: SheetData): { items: DataItem[]; bytes: number; bits: number } {
  const items: DataItem[] = []
  let offset = 0
  for (const { name, type, count, port, range, statusOf } of data) {
    if (type === unusedType) {
      offset += count
      continue
    }
    if (type === 'octets' || type === 'port') {
      offset = Math.ceil(offset / 8) * 8
      items.push({
        name: name || (type === 'port' ? `Port ${port ?? 1}` : 'Octets'),
        type: `${count} octets`,
        holds: 'other',
        offsetBits: offset,
        bits: count * 8,
        asBits: false,
        channels: [],
        ...(type === 'port' && { port: port ?? 1 }),
      })
      offset += count * 8
      continue
    }
    const { bits, kind } = sheetTypes[type]
    const step = Math.min(bits, 8)
    for (let i = 0; i < count; i++) {
      offset = Math.ceil(offset / step) * step
      items.push({
        name: count === 1 ? name : `${name} ${i + 1}`,
        type,
        holds: kind,
        offsetBits: offset,
        bits,
        asBits: false,
        channels: [],
        ...(range && { range }),
        ...(statusOf && { statusOf: count === 1 ? statusOf : `${statusOf} ${i + 1}` }),
      })
      offset += bits
    }
  }
  return { items, bytes: Math.ceil(offset / 8), bits: offset }
}
