import { z } from 'zod'
import { modbusTableNames } from '../../vocabulary/modbus-table'
import { nibbleOrders } from '../../addressing/slot-tables'
import { switchBank } from '../../vocabulary/switch-bank'
import { rawFormat } from '../../vocabulary/raw-format'
import { networkKindNames, sheetProtocols } from '../../protocols/registry'
import { mediumNames } from '../../vocabulary/medium'
import { commonFormats } from '../../scaling/raw-formats'
import { readRange, type ElectricalRange } from '../../vocabulary/electrical-range'
import { valueListText as valueList } from '../../vocabulary/value-list'

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

const key = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[\w.-]+$/, 'letters, digits, dot, dash and underscore')
const words = z.string().max(2000)
/** Bits that travel and mean nothing; they get no channel. */
export const unusedType = 'unused'
/** So many octets as one value, and those of a port, which a device below gives a meaning. */
export const octetTypes = ['octets', 'port'] as const
/** Sheets of the first version are read as well. */
const version = z.union([z.literal(1), z.literal(2)])
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
const data = z
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
const record = z
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
const kinds = z.array(kind.min(1)).max(50).default([])
const millimetres = z.number().min(0).max(10_000).default(0)
const milliamperes = z.number().int().min(0).max(1_000_000)

/** Where a module may stand among others: common practice of modular stations, as data. */
const placement = z
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

const terminals = z
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
const electrical = z
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

const octets = z.number().int().min(0).max(65_535)

/** What a fail-safe module is told by F parameters (PROFIsafe profile, from memory). */
const failSafe = z
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
const moduleInterface = z
  .object({
    name: words.min(1),
    kind: z.enum(networkKindNames),
    maxStations: z.number().int().min(1).max(65_535).nullable().default(null),
  })
  .strict()
/** Another order number of the same device, and what is other about it. */
const variant = z
  .object({
    orderNumber: words.min(1),
    name: words.default(''),
    slots: z.number().int().min(0).max(4096).optional().describe('Slots it has'),
    supplyMa: z.number().int().min(0).max(1_000_000).nullable().optional(),
    widthMm: millimetres.optional(),
  })
  .strict()

const headPlacement = z
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
const powerNeed = z
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
const powerSource = z
  .object({
    volts: volts.default(24),
    currentMa: milliamperes.min(1),
    peakMa: milliamperes.optional().describe('For a moment, where that is more'),
  })
  .strict()

/** A device sheet: what a device has that comes without an open description file. Written by hand
 *  or by the form on the Shelf. */
export const deviceSheet = z
  .object({
    $schema: z.string().optional(),
    kataxisSheet: version,
    maker: words.min(1),
    name: words.min(1),
    orderNumber: words.default(''),
    info: words.default(''),
    network: z.enum(sheetProtocols).describe('"local": a controller with its own slots'),
    switches: switchBank.optional().describe('Address switches on the housing'),
    dataOrder: z
      .enum(['big', 'little'])
      .nullable()
      .default(null)
      .describe(
        'In which order the octets of numbers travel, where that is not what the network asks',
      ),
    addressing: words
      .default('')
      .describe('How the address is set on the device, e.g. "two rotary switches, 1 to 63"'),
    identity: z
      .object({
        vendorCode: octets,
        productType: octets,
        productCode: octets,
        majorRevision: octets,
        minorRevision: octets,
      })
      .partial()
      .strict()
      .default({})
      .describe('EtherNet/IP only'),
    head: z
      .object({ inputs: data, outputs: data, parameters: z.array(record).max(200).default([]) })
      .strict()
      .prefault({})
      .describe('What the head itself sends and takes before all modules, e.g. six status bytes'),
    supplyMa: z
      .number()
      .int()
      .min(0)
      .max(1_000_000)
      .nullable()
      .default(null)
      .describe('What the head supplies to its modules'),
    placement: headPlacement.optional().describe('What the head asks of the row of modules'),
    power: powerNeed.optional().describe('What the head takes of its supply'),
    source: powerSource.optional().describe('Supplies: what it gives to other devices'),
    controller: z
      .object({
        inputBytes: z.number().int().min(0).max(1_048_576),
        outputBytes: z.number().int().min(0).max(1_048_576),
        interfaces: z.array(moduleInterface).max(64).default([]),
      })
      .strict()
      .optional()
      .describe('Only with the network "local": what the controller has room for'),
    networkPorts: z
      .array(
        z
          .object({
            name: words,
            medium: z.enum(mediumNames).default('copper'),
            segment: z
              .number()
              .int()
              .min(1)
              .max(16)
              .optional()
              .describe('Repeaters: ports with the same number are one line'),
            terminates: z
              .literal(true)
              .optional()
              .describe('It has a terminating resistor that is always on'),
          })
          .strict(),
      )
      .max(64)
      .default([])
      .describe(
        'Its ports for cables, in order; left out, as many as are usual on its network. Switches, repeaters and converters have the network "passive"',
      ),
    slots: z
      .object({
        count: z.number().int().min(0).max(4096),
        first: z.number().int().min(0).max(4096).default(1),
        everySlot: z
          .object({ inputBytes: octets, outputBytes: octets })
          .strict()
          .nullable()
          .default(null)
          .describe('Set where every slot has these octets, whatever stands in it'),
        nibbles: z
          .object({
            order: z.enum(nibbleOrders).default('words-low-first'),
            secondFirst: z
              .number()
              .int()
              .min(1)
              .max(8192)
              .nullable()
              .default(null)
              .describe(
                'Number of the first B node, where B nodes stand in a block of their own behind the A nodes',
              ),
          })
          .strict()
          .nullable()
          .default(null)
          .describe(
            'A gateway: slots are nodes of four bits each way, in a table that begins with a nibble of flags',
          ),
      })
      .strict()
      .prefault({ count: 0 }),
    modules: z
      .array(
        z
          .object({
            key,
            name: words,
            orderNumber: words.default(''),
            info: words.default(''),
            category: words.default(''),
            slots: valueList.default('').describe('Slots it fits; empty means all'),
            currentMa: z.number().int().min(-1_000_000).max(1_000_000).nullable().default(null),
            placement: placement.optional(),
            terminals: terminals.default([]),
            electrical: electrical.optional().describe('What its channels are electrically'),
            failSafe: failSafe.optional().describe('Set on fail-safe modules'),
            interfaces: z
              .array(moduleInterface)
              .max(16)
              .default([])
              .describe('Networks that the module brings to its controller'),
            changesRunning: z
              .boolean()
              .default(false)
              .describe('Whether its type may be changed while the station runs'),
            inputs: data,
            outputs: data,
            parameters: z.array(record).max(200).default([]),
          })
          .strict(),
      )
      .max(5000)
      .default([]),
    dataSets: z
      .array(
        z
          .object({
            key,
            name: words,
            info: words.default(''),
            outputInstance: octets,
            outputBytes: octets,
            inputInstance: octets,
            inputBytes: octets,
            configInstance: octets.default(0),
            configBytes: octets.default(0),
            runIdleHeader: z
              .boolean()
              .default(true)
              .describe('Whether four octets run/idle stand before the outputs'),
            contents: z
              .array(
                z
                  .object({
                    name: words.min(1).describe('What it is: a network, analogs, a mailbox …'),
                    direction: z.enum(['in', 'out']),
                    byte: octets,
                    bytes: z.number().int().min(1).max(65_535),
                  })
                  .strict(),
              )
              .max(500)
              .default([])
              .describe(
                'What it contains behind the head’s data, so that it can be chosen by that',
              ),
          })
          .strict(),
      )
      .max(200)
      .default([])
      .describe(
        'Connections to choose from, with assembly instances; the head’s data, tables of slots and then the modules’ data stand inside them',
      ),
    variants: z
      .array(variant)
      .max(100)
      .default([])
      .describe('Other order numbers of the same device: rack sizes, with or without supply'),
    registerCounting: z
      .enum(['from-0', 'reference'])
      .default('from-0')
      .describe(
        '"reference": addresses are written as references, 40001 the first holding register',
      ),
    registers: z
      .array(
        z
          .object({
            name: words,
            table: z.enum(modbusTableNames),
            address: octets,
            type: z.enum(Object.keys(sheetTypes) as [SheetType, ...SheetType[]]),
            access: z
              .enum(['read', 'write', 'both'])
              .optional()
              .describe('Left out: what can be written is written, the rest read'),
          })
          .strict(),
      )
      .max(10_000)
      .default([])
      .describe('Modbus: where the head has no data of its own these are its data'),
    modbus: z
      .object({
        maxGap: z
          .number()
          .int()
          .min(0)
          .max(2000)
          .default(0)
          .describe('So many unlisted registers may be read along to save a request'),
        readsAndWrites: z.boolean().default(false).describe('Takes function 23'),
        bauds: z.array(z.number().int().min(300).max(12_000_000)).max(30).default([]),
        watchdog: z
          .object({ address: octets, periodMs: z.number().int().min(1).max(3_600_000) })
          .strict()
          .nullable()
          .default(null)
          .describe('Holding register that has to be written at least so often'),
        startSequence: z
          .array(
            z
              .object({
                table: z.enum(['coil', 'holding-register']),
                address: octets,
                value: octets,
                note: words.default(''),
              })
              .strict(),
          )
          .max(50)
          .default([])
          .describe('What has to be written first, in this order'),
      })
      .strict()
      .prefault({}),
  })
  .strict()

/** A sheet that adds to what other files describe, and changes none of them: what stands in the
 *  manual and not in the file. */
export const supplementSheet = z
  .object({
    $schema: z.string().optional(),
    kataxisSheet: version,
    maker: words.min(1).describe('As the described file names it'),
    name: words.min(1),
    info: words.default(''),
    adds: z
      .array(
        z
          .object({
            orderNumber: words.default('').describe('Of the head or module it adds to'),
            module: words
              .default('')
              .describe('Its name, where the description gives it no order number'),
            currentMa: z
              .number()
              .int()
              .min(-1_000_000)
              .max(1_000_000)
              .optional()
              .describe('Taken from the backplane; negative supplies'),
            switches: switchBank.optional(),
            placement: placement.optional().describe('Where a module may stand among others'),
            headPlacement: headPlacement
              .optional()
              .describe('What a head asks of the row of modules'),
            power: powerNeed.optional().describe('What a head takes of its supply'),
            terminals: terminals.optional(),
            electrical: electrical
              .optional()
              .describe('What the channels of a module are electrically'),
          })
          .strict()
          .refine(
            ({ orderNumber, module }) => orderNumber + module !== '',
            'an order number or the name of a module is needed',
          ),
      )
      .min(1)
      .max(5000),
  })
  .strict()

/** Both kinds of sheet, as published. */
export const sheetFile = z.union([deviceSheet, supplementSheet])

export type DeviceSheet = z.infer<typeof deviceSheet>
/** As somebody writes it: what has a default may be left out. */
export type WrittenSheet = z.input<typeof deviceSheet>
export type SheetData = DeviceSheet['head']['inputs']
