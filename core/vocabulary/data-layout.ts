import { z } from 'zod'

/** What a field of a data layout of one's own holds. `unused`: octets or bits that mean nothing and
 *  get no channel; `port`: octets that a device below that port gives a meaning. */
export const fieldTypes = [
  'bit',
  'unsigned',
  'signed',
  'float',
  'octets',
  'unused',
  'port',
] as const
export type FieldType = (typeof fieldTypes)[number]

/** Places in one block of data, in bits from its first octet: 8 × octet + bit, bit 0 the least
 *  significant. */
export const blockBits = 65_536

export const dataField = z
  .object({
    name: z.string().max(200).default(''),
    type: z.enum(fieldTypes),
    offsetBits: z
      .number()
      .int()
      .min(0)
      .max(blockBits - 1),
    bits: z.number().int().min(1).max(blockBits),
    /** In which order its octets travel, where that is not what the network asks. */
    order: z.enum(['big', 'little']).optional(),
    /** Its number, of octets of a port. */
    port: z.number().int().min(0).max(999).optional(),
  })
  .strict()
export type DataField = z.infer<typeof dataField>

export const layoutOwners = ['device', 'module', 'submodule', 'connection'] as const

/** What somebody named in data that a description leaves unnamed: fields over one direction of one
 *  subslot. `everywhere`: holds for all of that type, else where a head or module asks for it. */
export const dataLayout = z
  .object({
    name: z.string().min(1).max(200),
    /** The description file it was made for, and what in it: by its key there. */
    file: z.string().min(1).max(64),
    of: z.enum(layoutOwners),
    key: z.string().min(1).max(200),
    subslot: z.number().int().min(0).max(65_535),
    direction: z.enum(['in', 'out']),
    /** Octets of the data it was made for. */
    bytes: z
      .number()
      .int()
      .min(1)
      .max(blockBits / 8),
    everywhere: z.boolean().default(true),
    fields: z.array(dataField).max(10_000),
  })
  .strict()
export type DataLayout = z.infer<typeof dataLayout>

/** Layouts by their id. */
export type DataLayouts = Readonly<Record<string, DataLayout>>

const numberWords: Readonly<Partial<Record<FieldType, Readonly<Record<number, string>>>>> = {
  unsigned: { 8: 'USINT', 16: 'UINT', 32: 'UDINT', 64: 'ULINT' },
  signed: { 8: 'SINT', 16: 'INT', 32: 'DINT', 64: 'LINT' },
  float: { 32: 'REAL', 64: 'LREAL' },
}

/** The type of a field as IEC 61131-3 calls it, where it has a word for its width: `UINT`, else
 *  `UINT12`, `BOOL`, `6 octets`. */
export function wordFieldType({
  type,
  bits,
  port,
}: Pick<DataField, 'type' | 'bits' | 'port'>): string {
  if (type === 'bit') return 'BOOL'
  if (type === 'unused') return 'unused'
  if (type === 'port') return `port ${port ?? 0}`
  if (type === 'octets') return `${bits / 8} octets`
  const stem = { unsigned: 'UINT', signed: 'INT', float: 'REAL' }[type]
  return numberWords[type]?.[bits] ?? `${stem}${bits}`
}

const standard: Readonly<Record<string, readonly [FieldType, number]>> = {
  bool: ['bit', 1],
  bit: ['bit', 1],
  byte: ['unsigned', 8],
  word: ['unsigned', 16],
  dword: ['unsigned', 32],
  lword: ['unsigned', 64],
  usint: ['unsigned', 8],
  uint: ['unsigned', 16],
  udint: ['unsigned', 32],
  ulint: ['unsigned', 64],
  sint: ['signed', 8],
  int: ['signed', 16],
  dint: ['signed', 32],
  lint: ['signed', 64],
  real: ['float', 32],
  lreal: ['float', 64],
  float: ['float', 32],
}
const stems: Readonly<Record<string, FieldType>> = {
  u: 'unsigned',
  uint: 'unsigned',
  unsigned: 'unsigned',
  i: 'signed',
  s: 'signed',
  int: 'signed',
  integer: 'signed',
  signed: 'signed',
  f: 'float',
  float: 'float',
  real: 'float',
  bits: 'unsigned',
}

/** Reads a type as data sheets write it (IEC 61131-3, CIP, and words with a width such as `uint16`);
 *  `bits` where it says its width. Null where it is none. */
export function readFieldType(
  text: string,
): { type: FieldType; bits: number | null; port?: number } | null {
  const word = text.trim().toLowerCase().replace(/[\s_]/g, '')
  const known = standard[word]
  if (known) return { type: known[0], bits: known[1] }
  const port = /^port(\d{1,3})$/.exec(word)
  if (port) return { type: 'port', bits: null, port: Number(port[1]) }
  if (/^(unused|reserved|pad|padding|filler|fill|-)$/.test(word))
    return { type: 'unused', bits: null }
  const octets = /^(?:(\d+)octets?|(\d+)bytes?|octets?\[?(\d*)\]?|bytes\[?(\d*)\]?|string)$/.exec(
    word,
  )
  if (octets) {
    const count = octets.slice(1).find((one) => one)
    return { type: 'octets', bits: count ? Number(count) * 8 : null }
  }
  const sized = /^([a-z]+)(\d{1,2})$/.exec(word)
  const type = sized && stems[sized[1]!]
  if (type) return { type, bits: Number(sized[2]) }
  return stems[word] ? { type: stems[word], bits: null } : null
}

/** Whether a field of that type can be so wide, and where it has to begin; a clause, or null. */
export function widthFault({
  type,
  bits,
  offsetBits,
}: Pick<DataField, 'type' | 'bits' | 'offsetBits'>): string | null {
  if (type === 'bit') return bits === 1 ? null : 'a bit has one bit'
  if (type === 'float' && bits !== 32 && bits !== 64) return 'a float has 32 or 64 bits'
  if ((type === 'unsigned' || type === 'signed') && bits > 64) return 'a number has at most 64 bits'
  if (type === 'octets' || type === 'port')
    return bits % 8 === 0 && offsetBits % 8 === 0 ? null : 'octets begin and end at whole octets'
  if (bits > 8 && bits % 8 === 0 && offsetBits % 8 !== 0 && type !== 'unused')
    return 'a number of whole octets begins at a whole octet'
  return null
}
