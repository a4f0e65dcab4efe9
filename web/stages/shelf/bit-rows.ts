import type { DataItem } from '@kataxis/core'

export interface BitCell {
  readonly bits: number
  readonly words: string
  readonly unused: boolean
}
export interface BitRow {
  readonly label: string
  readonly cells: readonly BitCell[]
}

interface Field {
  readonly words: string
  readonly offsetBits: number
  readonly bits: number
}

/** Data of one direction drawn to the bit: one row an octet, bit 7 left. `fromEnd`: bit offsets count from the last octet (IO-Link). */
export function bitRows(items: readonly DataItem[], bytes: number, label: string, fromEnd: boolean, mostRows: number): BitRow[] {
  const fields = items.flatMap(fieldsOf)
  const owner = new Map<number, Field>()
  for (const field of fields) for (let bit = 0; bit < field.bits; bit++) owner.set(field.offsetBits + bit, field)
  const told = new Set<Field>()
  return Array.from({ length: Math.min(bytes, mostRows) }, (_, octet) => {
    const first = (fromEnd ? bytes - 1 - octet : octet) * 8
    const cells: { bits: number; field: Field | undefined }[] = []
    for (let bit = 7; bit >= 0; bit--) {
      const field = owner.get(first + bit)
      const last = cells.at(-1)
      if (last && last.field === field) last.bits++
      else cells.push({ bits: 1, field })
    }
    return {
      label: `${label} ${octet}`,
      cells: cells.map(({ bits, field }) => {
        const words = !field ? '' : told.has(field) ? '…' : field.words
        if (field) told.add(field)
        return { bits, words, unused: !field }
      }),
    }
  })
}

function fieldsOf(item: DataItem): Field[] {
  const name = [item.group, item.name].filter(Boolean).join(' · ')
  if (item.channels.length > 0) return item.channels.map((channel) => ({ words: channel.name, offsetBits: channel.offsetBits, bits: 1 }))
  if (item.asBits) return Array.from({ length: item.bits }, (_, bit) => ({ words: String(bit), offsetBits: item.offsetBits + bit, bits: 1 }))
  return [{ words: item.bits > 1 ? `${name} · ${item.type}` : name, offsetBits: item.offsetBits, bits: item.bits }]
}
