import { z } from 'zod'
import { switchBank } from '../../vocabulary/switch-bank'
import { rawFormat } from '../../vocabulary/raw-format'
import { networkKindNames } from '../../protocols/registry'
import { commonFormats } from '../../scaling/raw-formats'
import { readRange, type ElectricalRange } from '../../vocabulary/electrical-range'
import { valueListText as valueList } from '../../vocabulary/value-list'

/** What a device sheet is put together from; the whole stands in `schema.ts`. */

/** Value types of a sheet: bits, what they hold. */
export const sheetTypes = {
  bit: { bits: 1, kind: 'unsigned' },
  uint4: { bits: 4, kind: 'unsigned' },
  uint8: { bits: 8, kind: 'unsigned' },
  int8: { bits: 8, kind: 'signed' },
  uint16: { bits: 16, kind: 'unsigned' },
  int16: { bits: 16, kind: 'signed' },
  uint32: { bits: 32, kind: 'unsigned' },
  int32: { bits: 32, kind: 'signed' },
  float32: { bits: 32, kind: 'float' },
} as const
export type SheetType = keyof typeof sheetTypes

export const key = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[\w.-]+$/, 'letters, digits, dot, dash and underscore')
export const words = z.string().max(2000)
/** Bits that travel and mean nothing; they get no channel. */
export const unusedType = 'unused'
/** So many octets as one value, and those of a port, which a device below gives a meaning. */
export const octetTypes = ['octets', 'port'] as const
/** Sheets of the first version are read as well. */
export const version = z.union([z.literal(1), z.literal(2)])
const isLasting = (range: ElectricalRange | null) => range !== null && range.kind !== 'off'
const lasting = (what: string) =>
  words
    .refine(
      (text) => text === '' || isLasting(readRange(text)),
      'it is no range; 4…20 mA, 0…10 V, Pt100 and type K are some',
    )
    .optional()
    .describe(what)
const dataItem = z
  .object({
    name: words.default('').describe('What the value means'),
    type: z
      .enum([
        ...(Object.keys(sheetTypes) as [SheetType, ...SheetType[]]),
        ...octetTypes,
        unusedType,
      ])
      .describe(
        '"unused": bits that mean nothing and get no channel; "octets": so many as one value; "port": octets of a port',
      ),
    count: z
      .number()
      .int()
      .min(1)
      .max(2048)
      .default(1)
      .describe('That many of them, one behind the other; of octets and ports: how many octets'),
    port: z.number().int().min(0).max(999).optional().describe('Number of the port, of its octets'),
    range: lasting('The range of an analog channel that no parameter sets, e.g. 4…20 mA'),
    statusOf: words
      .optional()
      .describe('The value whose quality this bit says; behind a count, each belongs to one'),
  })
  .strict()
export const data = z
  .array(dataItem)
  .max(2000)
  .default([])
  .describe(
    'In the order in which they travel; bits are packed from bit 0, everything else begins at a whole octet, four-bit values at a half one',
  )
/** `{n}` is the number of the signal, where a parameter is repeated. */
const parameterKey = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[\w.{}-]+$/, 'letters, digits, dot, dash, underscore and {n}')
const parameter = z
  .object({
    key: parameterKey,
    name: words,
    type: z.enum(Object.keys(sheetTypes) as [SheetType, ...SheetType[]]),
    byte: z.number().int().min(0).max(65_535),
    bit: z.number().int().min(0).max(7).default(0),
    bits: z
      .number()
      .int()
      .min(1)
      .max(32)
      .optional()
      .describe('Width, where it is not that of the type'),
    default: z.number().default(0),
    allowed: valueList.default(''),
    texts: z.record(z.string().regex(/^-?\d+$/), words).default({}),
    unit: words.default(''),
    repeat: z
      .object({
        count: z.number().int().min(1).max(512),
        everyBytes: z.number().int().min(0).max(4096).default(0),
        everyBits: z.number().int().min(0).max(4096).default(0),
        from: z.number().int().min(0).max(9999).default(0),
      })
      .strict()
      .optional()
      .describe('One for each signal: {n} in key, name and heading is its number'),
    group: words.default('').describe('Heading it is shown under'),
  })
  .strict()
export const record = z
  .object({
    index: z.number().int().min(0).max(65_535).nullable().default(null),
    length: z.number().int().min(1).max(65_535),
    byteOrder: z.enum(['big', 'little']).default('big'),
    constant: z.string().max(4000).default('').describe('Octets in hex beneath the values'),
    parameters: z.array(parameter).max(2000).default([]),
  })
  .strict()
const kind = z
  .string()
  .max(60)
  .regex(/^[\w.-]*$/, 'letters, digits, dot, dash and underscore')
export const kinds = z.array(kind.min(1)).max(50).default([])
const millimetres = z.number().min(0).max(10_000).default(0)
const milliamperes = z.number().int().min(0).max(1_000_000)

/** Where a module may stand among others: common practice of modular stations, as data. */
export const placement = z
  .object({
    kind: kind.default('').describe('What rules call it, e.g. "supply", "io", "end"'),
    widthMm: millimetres,
    firstOfKind: z
      .boolean()
      .default(false)
      .describe('Stands before all others of its kind; without a kind, before all'),
    lastOfKind: z
      .boolean()
      .default(false)
      .describe('Stands behind all others of its kind; without a kind, behind all'),
    nextToHead: z
      .boolean()
      .default(false)
      .describe('Nothing but its like stands between it and the head'),
    requiresBefore: kinds.describe('Kinds or keys of which one has to stand somewhere before it'),
    maxModules: z
      .number()
      .int()
      .min(1)
      .max(4096)
      .nullable()
      .default(null)
      .describe('How many of it a station takes'),
    maxAfterExtension: z
      .number()
      .int()
      .min(0)
      .max(4096)
      .nullable()
      .default(null)
      .describe('Makes it an extension: so many modules stand behind it'),
    fieldCurrentMa: milliamperes
      .default(0)
      .describe('Taken from the field supply of its potential group'),
    fieldSupplyMa: milliamperes
      .default(0)
      .describe('Begins a new potential group and feeds so much into it'),
  })
  .strict()

export const terminals = z
  .array(
    z
      .object({
        terminal: z.string().min(1).max(40),
        function: words.default(''),
        channel: words.default('').describe('As the description calls it; empty for supplies'),
      })
      .strict(),
  )
  .max(2000)

const quantity = z.number().min(0).max(1_000_000)
export const electrical = z
  .object({
    takes: z
      .enum(['pnp', 'npn', 'both'])
      .optional()
      .describe('Switching sensors that its inputs take: sourcing, sinking, or either'),
    delayMs: quantity.optional().describe('Delay of its inputs, where no parameter sets it'),
    loadMa: quantity.optional().describe('What one output gives at most'),
    inrushMa: quantity.optional().describe('The same for the moment in which something starts'),
    feeds: z.boolean().optional().describe('Whether its inputs feed a transmitter'),
    hart: z.boolean().optional().describe('Whether its channels carry HART'),
    intrinsicallySafe: z.boolean().optional(),
    entity: z
      .object({ u0: quantity, i0: quantity, p0: quantity, c0: quantity, l0: quantity })
      .partial()
      .strict()
      .optional()
      .describe('What an intrinsically safe channel gives at most: V, mA, mW, nF, mH'),
    range: words
      .refine(
        (text) => isLasting(readRange(text)),
        'it is no range; 4…20 mA, 0…10 V, Pt100 and type K are some',
      )
      .optional()
      .describe('The range of analog channels that no parameter sets, e.g. 4…20 mA'),
    counts: z
      .union([z.enum(Object.keys(commonFormats) as [string, ...string[]]), rawFormat])
      .optional()
      .describe('How it counts: a common raw format, or one of its own'),
  })
  .strict()

export const octets = z.number().int().min(0).max(65_535)

/** What a fail-safe module is told by F parameters (PROFIsafe profile, from memory). */
export const failSafe = z
  .object({
    index: octets.default(1).describe('Number of the record with the F parameters'),
    sil: z.number().int().min(1).max(3).default(3),
    watchdogMs: z.number().int().min(1).max(65_535).default(150),
    watchdogAllowed: valueList.default('1..65535'),
    addressAllowed: valueList.default('1..65534').describe('Destination addresses it takes'),
    ownParametersSum: z
      .boolean()
      .default(false)
      .describe('Whether the block holds a check sum over its own parameters'),
    trailerOctets: z
      .union([z.literal(0), z.literal(4), z.literal(5)])
      .default(4)
      .describe('Octets of the fail-safe layer behind the data each way'),
    switches: switchBank.optional().describe('Switches that set its destination address'),
  })
  .strict()
export const moduleInterface = z
  .object({
    name: words.min(1),
    kind: z.enum(networkKindNames),
    maxStations: z.number().int().min(1).max(65_535).nullable().default(null),
    ports: z.number().int().min(1).max(16).nullable().default(null).describe('Ports for cables'),
    maxPackets: z
      .number()
      .int()
      .min(1)
      .max(10_000_000)
      .nullable()
      .default(null)
      .describe('EtherNet/IP: packets a second that it takes, both ways together'),
  })
  .strict()
/** Another order number of the same device, and what is other about it. */
export const variant = z
  .object({
    orderNumber: words.min(1),
    name: words.default(''),
    slots: z.number().int().min(0).max(4096).optional().describe('Slots it has'),
    supplyMa: z.number().int().min(0).max(1_000_000).nullable().optional(),
    widthMm: millimetres.optional(),
  })
  .strict()

export const headPlacement = z
  .object({
    widthMm: millimetres,
    requires: kinds.describe('Kinds or keys of modules that every station with modules needs'),
    maxBeforeExtension: z
      .number()
      .int()
      .min(1)
      .max(4096)
      .nullable()
      .default(null)
      .describe('So many modules stand on the head before an extension is needed'),
    fieldSupplyMa: milliamperes.default(0),
  })
  .strict()

const volts = z.number().min(0).max(1000)

/** What a device takes of its supply; 24 V devices take −15 % to +20 % (IEC 61131-2, from
 *  memory). */
export const powerNeed = z
  .object({
    currentMa: milliamperes,
    inrushMa: milliamperes.optional().describe('While it starts, where that is more'),
    minVolts: volts.default(20.4),
    maxVolts: volts.default(28.8),
    second: z
      .boolean()
      .default(false)
      .describe('Whether it takes a second supply beside the first'),
  })
  .strict()
export const powerSource = z
  .object({
    volts: volts.default(24),
    currentMa: milliamperes.min(1),
    peakMa: milliamperes.optional().describe('For a moment, where that is more'),
  })
  .strict()
