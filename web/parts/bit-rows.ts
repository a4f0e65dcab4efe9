import { typeName, type DataItem } from '@kataxis/core'

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

/** Data of one direction drawn to the bit: one row an octet, bit 7 left; octets that only go on
 *  with a longer value share its row. `fromEnd`: bit offsets count from the last octet
 *  (IO-Link). */
export function bitRows(
  items: readonly DataItem[],
  bytes: number,
  label: string,
  fromEnd: boolean,
  mostRows: number,
): BitRow[] {
  const fields = items.flatMap(fieldsOf)
  const owner = new Map<number, Field>()
  for (const field of fields)
    for (let bit = 0; bit < field.bits; bit++) owner.set(field.offsetBits + bit, field)
  const told = new Set<Field>()
  const rows = Array.from({ length: Math.min(bytes, mostRows) }, (_, octet) => {
    const first = (fromEnd ? bytes - 1 - octet : octet) * 8
    const cells: { bits: number; field: Field | undefined }[] = []
    for (let bit = 7; bit >= 0; bit--) {
      const field = owner.get(first + bit)
      const last = cells.at(-1)
      if (last && last.field === field) last.bits++
      else cells.push({ bits: 1, field })
    }
    return {
      octet,
      cells: cells.map(({ bits, field }) => {
        const words = !field ? '' : told.has(field) ? '…' : field.words
        if (field) told.add(field)
        return { bits, words, unused: !field }
      }),
    }
  })
  const goesOn = (row: (typeof rows)[number] | undefined) =>
    row?.cells.length === 1 && row.cells[0]!.words === '…'
  return rows.flatMap(({ octet, cells }) => {
    if (goesOn(rows[octet]) && rows[octet - 1]?.cells.length === 1) return []
    let last = octet
    while (cells.length === 1 && goesOn(rows[last + 1])) last++
    return [{ label: last > octet ? `${label} ${octet}–${last}` : `${label} ${octet}`, cells }]
  })
}

function fieldsOf(item: DataItem): Field[] {
  const name = [item.group, item.name].filter(Boolean).join(' · ')
  if (item.channels.length > 0)
    return item.channels.map((channel) => ({
      words: channel.name,
      offsetBits: channel.offsetBits,
      bits: 1,
    }))
  if (item.asBits)
    return Array.from({ length: item.bits }, (_, bit) => ({
      words: String(bit),
      offsetBits: item.offsetBits + bit,
      bits: 1,
    }))
  return [
    {
      words: item.bits > 1 ? `${name} · ${typeName(item.type)}` : name,
      offsetBits: item.offsetBits,
      bits: item.bits,
    },
  ]
}
