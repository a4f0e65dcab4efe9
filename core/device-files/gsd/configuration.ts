import type { DataItem } from '../../catalog/model'
import type { DataKind } from '../../vocabulary/data-kind'
import { hexOctet } from '../../vocabulary/hex'

export type Unit = 'byte' | 'word'

/** What one identifier of the configuration says, per direction. */
export interface Identifier {
  readonly inputs: Part | null
  readonly outputs: Part | null
}

export interface Part {
  readonly count: number
  readonly unit: Unit
  /** Consistent over the whole instead of within each byte or word. */
  readonly isWhole: boolean
}

/** Decodes PROFIBUS configuration bytes; a string says what is wrong. EN 50170-2 / IEC 61158-6-3,
 *  general identifier format. */
export function decodeConfiguration(bytes: readonly number[]): readonly Identifier[] | string {
  const identifiers: Identifier[] = []
  for (let at = 0; at < bytes.length;) {
    const head = bytes[at++]!
    if ((head & 0x30) !== 0) {
      const part: Part = {
        count: (head & 0x0f) + 1,
        unit: (head & 0x40) === 0 ? 'byte' : 'word',
        isWhole: (head & 0x80) !== 0,
      }
      identifiers.push({
        inputs: (head & 0x10) === 0 ? null : part,
        outputs: (head & 0x20) === 0 ? null : part,
      })
      continue
    }
    // Special format: the output's length octet stands before the input's.
    const hasInputs = (head & 0x40) !== 0
    const hasOutputs = (head & 0x80) !== 0
    const lengths = Number(hasInputs) + Number(hasOutputs)
    const makers = (head & 0x0f) === 15 ? 0 : head & 0x0f
    if (at + lengths + makers > bytes.length)
      return `identifier 0x${hexOctet(head)} announces ${lengths + makers} more octets, but ${bytes.length - at} follow`
    const outputs = hasOutputs ? lengthOctet(bytes[at++]!) : null
    const inputs = hasInputs ? lengthOctet(bytes[at++]!) : null
    at += makers
    identifiers.push({ inputs, outputs })
  }
  return identifiers
}

function lengthOctet(octet: number): Part {
  return {
    count: (octet & 0x3f) + 1,
    unit: (octet & 0x40) === 0 ? 'byte' : 'word',
    isWhole: (octet & 0x80) !== 0,
  }
}

const bytesOf = ({ count, unit }: Part) => count * (unit === 'word' ? 2 : 1)

export interface DirectionData {
  readonly bytes: number
  readonly items: readonly DataItem[]
}

/** Data items of one direction: words one by one, single bytes as rows of bits, longer consistent
 *  bytes as one string of octets (common practice). */
export function dataItemsOf(
  identifiers: readonly Identifier[],
  direction: 'inputs' | 'outputs',
): DirectionData {
  const items: DataItem[] = []
  let bytes = 0
  const put = (type: string, holds: DataKind, length: number) => {
    items.push({
      name: `${direction === 'inputs' ? 'Input' : 'Output'} ${items.length}`,
      type,
      holds,
      offsetBits: bytes * 8,
      bits: length * 8,
      asBits: type === 'Byte',
      channels: [],
    })
    bytes += length
  }
  for (const identifier of identifiers) {
    const part = identifier[direction]
    if (!part) continue
    if (part.unit === 'byte' && part.isWhole && part.count > 1)
      put('OctetString', 'other', bytesOf(part))
    else
      for (let i = 0; i < part.count; i++)
        if (part.unit === 'word') put('Word', 'word', 2)
        else put('Byte', 'other', 1)
  }
  return { bytes, items }
}
