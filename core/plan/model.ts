import { z } from 'zod'
import { turnNames } from '../vocabulary/byte-order'
import { notationNames } from '../addressing/notations'
import { switchBank } from '../vocabulary/switch-bank'
import { dataContents } from '../vocabulary/direction'
import { tableFault } from '../scaling/characteristic'
import { rawFormat, rawTypes } from '../vocabulary/raw-format'
import { dataLayout } from '../vocabulary/data-layout'
import { meanings } from '../vocabulary/meaning'
import { valueListText } from '../vocabulary/value-list'
import { networkSettings, stationSettings } from '../protocols/registry'
import { byKey, id, keyed, keyText, type Id } from './keys'
import { feed } from './feed'
import { portLinks, ports } from './port-links'

export { id, type Id } from './keys'
export * from './feed'
export * from './port-links'

/** What the engineer decided: entity tables of plain rows. The same rows stand in PostgreSQL, on
 *  the wire, in the project file and in the browser. Nothing here can be computed from something
 *  else. */

const label = z.string().max(200)
const byteAddress = z.number().int().min(0).max(1_048_575)

const bitInByte = z.number().int().min(1).max(7).optional()

/** First byte of each data block in the controller's image, by subslot; the bit where it shares its
 *  byte with others, and whether somebody chose the place, so that nothing moves it. */
export const addressMap = z.record(
  z.string(),
  z
    .object({
      in: byteAddress.optional(),
      out: byteAddress.optional(),
      inBit: bitInByte,
      outBit: bitInByte,
      inFixed: z.literal(true).optional(),
      outFixed: z.literal(true).optional(),
    })
    .strict(),
)

/** What is plugged into a head's or module's subslots: a submodule of its file (empty: what is
 *  built in there), and the device below a port, with the description file it stands in and the
 *  cycle time the port is planned with (left out: as fast as the device can). Ports whose octets
 *  stand among other data go by their number after a `p`. */
export const plugged = byKey(
  z.record(
    z.string().regex(/^p?\d+$/),
    z
      .object({
        submodule: z.string().max(200),
        file: z.string().max(64).default(''),
        device: z.string().max(200).default(''),
        cycleUs: z.number().int().positive().max(132_800).optional(),
      })
      .strict(),
  ),
)

/** How the octets of single values are turned on their way into the image, by
 *  `subslot.direction.offset`; not listed: as they come. */
export const byteOrders = byKey(
  z.record(z.string().regex(/^\d+\.(in|out)\.\d+$/), z.enum(turnNames)),
)

/** Data layouts of a head or module of its own, by `subslot.direction`: the id of one in the project;
 *  empty: as the description says, whatever holds for its type. */
export const chosenLayouts = byKey(
  z.record(z.string().regex(/^\d+\.(in|out)$/), z.union([z.literal(''), id])),
)

/** What a record of a placed head or module is called: subslot, then index and subindex, see
 *  `recordsOfPlaced`. */
export const recordKey = keyText(
  z
    .string()
    .min(1)
    .max(80)
    .regex(/^[\w.:#-]+$/),
)
export const parameterKey = keyText(z.string().min(1).max(200))
/** Texts and octets as a description may hold them. */
export const parameterValue = z.union([z.number(), z.string().max(2000)])

/** Values that somebody chose, by record and parameter; what is not listed is as the description
 *  says. */
export const parameterValues = byKey(z.record(recordKey, z.record(parameterKey, parameterValue)))

/** Check sums over a fail-safe module's own parameters as the maker's tool gave them, by subslot:
 *  with a signature of the octets they were given for, so that a later change shows, and who
 *  entered them when. */
export const iParameterSums = byKey(
  z.record(
    z.string().regex(/^\d+$/),
    z
      .object({
        crc: z.number().int().min(0).max(0xffffffff),
        over: z.string().max(64),
        by: z.string().max(200),
        at: z.string().max(40),
      })
      .strict(),
  ),
)

const timeMs = z.number().min(0).max(60_000)
/** Times of a fail-safe connection as somebody measured or looked them up, in ms: how often its data
 *  travel, how long its device and the controller take, a ring that closes again (0: none), sensor
 *  and output. */
export const monitoredTimes = z
  .object({
    updateMs: timeMs,
    deviceMs: timeMs,
    hostMs: timeMs,
    ringMs: timeMs,
    sensorMs: timeMs,
    outputMs: timeMs,
  })
  .strict()
/** Of the connections of a head or module, by subslot. */
export const monitored = byKey(z.record(z.string().regex(/^\d+$/), monitoredTimes))

/** The safety-relevant part of the plan as somebody released it. */
export const safetyRelease = z
  .object({ signature: z.string().max(64), by: z.string().max(200), at: z.string().max(40) })
  .strict()

/** Values under a name, to be put on other modules of the same type. */
export const parameterSet = z
  .object({
    name: label.min(1),
    file: z.string().max(64),
    type: z.string().max(200),
    values: parameterValues,
  })
  .strict()

export const projectRow = z
  .object({
    id,
    name: label.min(1),
    /** Longest tag the target language takes. */
    tagLength: z.number().int().min(8).max(255),
    tagCase: z.enum(['any', 'upper', 'lower']).default('any'),
    /** Words of the target that no tag may be, beside those of IEC 61131-3. */
    reservedWords: z.array(z.string().min(1).max(200)).max(2000).default([]),
    /** Share of each kind of channel that a controller is to keep free; 0: nobody said. */
    sparePercent: z.number().int().min(0).max(90).default(0),
    /** Length of the rails that stations stand on, in millimetres; 0 where nobody said. */
    railMm: z.number().int().min(0).max(100_000).default(0),
    /** Modules of up to four bits stand side by side in one byte of their station. */
    packsBits: z.boolean().default(false),
    /** Device sheets that add to what other files describe, by their hash; a later one lies over an
     *  earlier one. */
    supplements: z.array(z.string().min(1).max(64)).max(100).default([]),
    parameterSets: z.array(parameterSet).max(500).default([]),
    safetyRelease: safetyRelease.nullable().default(null),
    /** What parameters mean whose names the common rules do not know; these come first. */
    meanings: z
      .array(z.object({ meaning: z.enum(meanings), words: z.string().min(1).max(300) }).strict())
      .max(200)
      .default([]),
    ownFormats: byKey(z.record(z.string().regex(/^own-[\w-]{1,40}$/), rawFormat)).default({}),
    /** In which raw format a type of module counts, by its order number or key. */
    moduleFormats: byKey(
      z.record(keyText(z.string().min(1).max(200)), z.string().min(1).max(60)),
    ).default({}),
    /** Names for octets and bits that descriptions leave unnamed. */
    dataLayouts: byKey(z.record(id, dataLayout)).default({}),
  })
  .strict()

/** From which byte on a kind of data, of one network or of all, gets its addresses; null: this
 *  direction is not kept apart. */
export const imageArea = z
  .object({
    content: z.enum(['any', ...dataContents]),
    networkId: z.union([z.literal(''), id]),
    in: byteAddress.nullable(),
    out: byteAddress.nullable(),
  })
  .strict()

export const controllerRow = z
  .object({
    id,
    name: label,
    position: z.number(),
    inputBytes: z.number().int().min(0).max(1_048_576),
    outputBytes: z.number().int().min(0).max(1_048_576),
    /** 16- and 32-bit values start at even and 4-divisible bytes. */
    aligned: z.boolean(),
    /** How addresses of its image are written. */
    notation: z.enum(notationNames).default('iec'),
    /** First bytes that may be given out. */
    firstInput: byteAddress.default(0),
    firstOutput: byteAddress.default(0),
    /** Kept free behind each station for modules to come. */
    reserveBytes: z.number().int().min(0).max(65_535).default(0),
    reservePercent: z.number().int().min(0).max(400).default(0),
    areas: z.array(imageArea).max(64).default([]),
    /** In which order its program reads the octets of a number; `network`: it turns them as the
     *  network asks, and nobody has to care. */
    byteOrder: z.enum(['network', 'little', 'big']).default('network'),
  })
  .strict()

/** The numbers that stations of a network get: last octets on networks with IP, node numbers
 *  elsewhere. */
export const numberPool = z
  .object({
    first: z.number().int().min(0).max(65_535),
    last: z.number().int().min(0).max(65_535),
    step: z.number().int().min(1).max(1000),
    /** Kept out, e.g. `200..220 254`. */
    reserved: valueListText,
  })
  .strict()

export const networkRow = z
  .object({
    id,
    controllerId: id,
    name: label,
    position: z.number(),
    /** Networks with the same word share a cable; without one they share the plant's. */
    cable: z.string().max(60).default(''),
    pool: numberPool.nullable().default(null),
    /** Names of new stations, e.g. `intake-{n:03}`; empty: after the device. */
    namePattern: z.string().max(200).default(''),
    /** Name, address and number of a station follow one number. */
    tied: z.boolean().default(false),
    /** Ports of the controller's interface. */
    ports: ports.default({}),
    /** Its kind, and what networks of that kind have beyond all this; see `core/protocols/`. */
    settings: byKey(networkSettings),
  })
  .strict()

const identityText = z.string().max(100).default('')
/** Who a device below a gateway is: its own tag, the address it has on its radio or bus, and its
 *  serial number; empty: nobody said, so that any device may be there. */
export const deviceIdentity = z
  .object({ tag: identityText, address: identityText, serial: identityText })
  .strict()

/** A device as a gateway reported it: where it says it stands, and who it is. */
export const reportedDevice = z
  .object({
    slot: z.number().int().min(0).max(65_535).nullable().default(null),
    tag: identityText,
    address: identityText,
    serial: identityText,
  })
  .strict()

export const stationRow = z
  .object({
    id,
    networkId: id,
    position: z.number(),
    name: z.string().max(500),
    /** Its number on the network: device number, bus address, unit or node; see `networkKinds`. */
    deviceNumber: z.number().int().min(0).max(65_535),
    /** The kind of its network, and what stations there have beyond all this. */
    settings: byKey(stationSettings),
    /** SHA-256 of the description file, and the head's key in it. */
    file: z.string().min(1).max(64),
    device: z.string().min(1),
    /** The connection that carries its data, where the head offers several; empty: its built-in
     *  data. */
    connection: z.string().max(200).default(''),
    comment: z.string().max(2000),
    /** Of its rail, in millimetres; 0: as the project says. */
    railMm: z.number().int().min(0).max(100_000).default(0),
    plugged: plugged.default({}),
    layouts: chosenLayouts.default({}),
    /** Small modules side by side in a byte; null: as the project says. */
    packsBits: z.boolean().nullable().default(null),
    /** Devices that it reported last, where it is a gateway; null: nobody asked it. */
    reported: z.array(reportedDevice).max(10_000).nullable().default(null),
    /** Its address switches, where the device sheet says nothing of them. */
    switches: switchBank.nullable().default(null),
    links: portLinks.default({}),
    ports: ports.default({}),
    /** Supply of the head, and of its second input where it has one. */
    feed: feed.nullable().default(null),
    secondFeed: feed.nullable().default(null),
    orders: byteOrders.default({}),
    values: parameterValues.default({}),
    iParameterSums: iParameterSums.default({}),
    monitored: monitored.default({}),
    /** Of the head's own data, where it has any. */
    addresses: addressMap,
  })
  .strict()

export const moduleRow = z
  .object({
    id,
    stationId: id,
    slot: z.number().int().min(0).max(65535),
    /** The module's key in the station's description file. */
    module: z.string().min(1),
    plugged: plugged.default({}),
    layouts: chosenLayouts.default({}),
    identity: deviceIdentity.nullable().default(null),
    /** How often a device below a gateway sends, in seconds; null: nobody said. */
    sendsEveryS: z.number().positive().max(86_400).nullable().default(null),
    /** Supply of the potential group that it feeds. */
    feed: feed.nullable().default(null),
    orders: byteOrders.default({}),
    values: parameterValues.default({}),
    iParameterSums: iParameterSums.default({}),
    monitored: monitored.default({}),
    addresses: addressMap,
  })
  .strict()

/** Points of a curve that is given by a table. */
export const mostPoints = 200

const characteristic = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('linear') }).strict(),
  z.object({ kind: z.literal('root') }).strict(),
  z
    .object({
      kind: z.literal('table'),
      points: z
        .array(z.tuple([z.number(), z.number()]))
        .min(2)
        .max(mostPoints)
        .refine(
          (points) => tableFault(points) === null,
          'the signals of its points have to rise, and the values to rise or to fall throughout',
        ),
    })
    .strict(),
])

/** What is known of a signal apart from its name; all of it goes along wherever the signal is
 *  put. */
/** Characters that the texts of a signal hold. */
export const longest = {
  tag: 500,
  comment: 2000,
  terminal: 100,
  unit: 20,
  area: 100,
  designation: 200,
  partner: 500,
} as const

export const signalFacts = z
  .object({
    /** The kind of channel it needs. */
    kind: z.enum(['DI', 'DO', 'AI', 'AO']),
    /** Measuring range in the process’s unit. */
    low: z.number(),
    high: z.number(),
    unit: z.string().max(longest.unit),
    /** What the transmitter gives or the actuator takes, in everybody’s words: `4…20 mA`,
     *  `Pt100`. */
    transmitter: z.string().max(60),
    /** What its channel takes, where neither a parameter nor a sheet says it. */
    channelRange: z.string().max(60),
    characteristic,
    /** Where a thermocouple meets the channel, °C. */
    coldEnd: z.number().min(-100).max(200),
    /** What stands in the program’s scaling block, and the type it reads. */
    scaling: z
      .object({ rawLow: z.number(), rawHigh: z.number(), low: z.number(), high: z.number() })
      .strict(),
    readAs: z.enum(rawTypes),
    wires: z.union([z.literal(2), z.literal(3), z.literal(4)]),
    /** Who feeds the loop: the channel, a supply in series, or the device itself. */
    supply: z.enum(['channel', 'external', 'device']),
    hart: z.boolean(),
    switching: z.enum(['pnp', 'npn', 'contact']),
    /** The shortest pulse that is not to be missed, ms; the current of a load, lasting and while it
     *  starts, mA. */
    pulseMs: z.number().positive(),
    loadMa: z.number().min(0),
    inrushMa: z.number().min(0),
    /** Intrinsic safety: what the channel's side can give, what device and cable take or store. V,
     *  mA, mW, nF, mH. */
    ex: z
      .object({
        u0: z.number(),
        i0: z.number(),
        p0: z.number(),
        c0: z.number(),
        l0: z.number(),
        ui: z.number(),
        ii: z.number(),
        pi: z.number(),
        ci: z.number(),
        li: z.number(),
        cableC: z.number(),
        cableL: z.number(),
      })
      .partial()
      .strict(),
    area: z.string().max(longest.area),
    designation: z.string().max(longest.designation),
    /** The tag of the signal that belongs to it, such as the feedback of a command. */
    partner: z.string().max(longest.partner),
  })
  .partial()
  .strict()

/** Where a signal sits: `moduleId` is the station's id for the head's own channels. Offset in bits
 *  within the data of that submodule and direction. */
export const signalPlace = z
  .object({
    moduleId: id,
    subslot: z.number().int().min(0).max(65535),
    direction: z.enum(['in', 'out']),
    offsetBits: z.number().int().min(0).max(65535),
    /** Named bits of a number that has a channel of its own. */
    part: z.literal(true).optional(),
  })
  .strict()

export const signalRow = z
  .object({
    id,
    place: signalPlace.nullable(),
    tag: z.string().max(longest.tag),
    comment: z.string().max(longest.comment),
    terminal: z.string().max(longest.terminal),
    facts: byKey(signalFacts).default({}),
  })
  .strict()

export const tables = {
  controllers: controllerRow,
  networks: networkRow,
  stations: stationRow,
  modules: moduleRow,
  signals: signalRow,
} as const
export type TableName = keyof typeof tables

/** Fields whose keys stand each for itself, of all rows. */
export const keyedFields: ReadonlySet<string> = new Set(
  [projectRow, ...Object.values(tables)].flatMap(({ shape }) =>
    Object.entries(shape).flatMap(([key, field]) => {
      const inner = field instanceof z.ZodDefault ? (field.unwrap() as object) : field
      return keyed.has(inner) ? [key] : []
    }),
  ),
)
export const tableNames = Object.keys(tables) as TableName[]

export type ImageArea = z.infer<typeof imageArea>
export type NumberPool = z.infer<typeof numberPool>
export type ParameterChoices = z.infer<typeof parameterValues>
export type IParameterSums = z.infer<typeof iParameterSums>
export type MonitoredTimes = z.infer<typeof monitoredTimes>
export type Monitored = z.infer<typeof monitored>
export type ParameterSet = z.infer<typeof parameterSet>
export type ByteOrders = z.infer<typeof byteOrders>
export type AddressMap = z.infer<typeof addressMap>
export type Plugged = z.infer<typeof plugged>
export type DeviceIdentity = z.infer<typeof deviceIdentity>
export type ReportedDevice = z.infer<typeof reportedDevice>
export type ChosenLayouts = z.infer<typeof chosenLayouts>
export type SignalFacts = z.infer<typeof signalFacts>
export type ProjectRow = z.infer<typeof projectRow>
export type ControllerRow = z.infer<typeof controllerRow>
export type NetworkRow = z.infer<typeof networkRow>
export type StationRow = z.infer<typeof stationRow>
export type ModuleRow = z.infer<typeof moduleRow>
export type SignalPlace = z.infer<typeof signalPlace>
export type SignalRow = z.infer<typeof signalRow>
export interface RowOf {
  controllers: ControllerRow
  networks: NetworkRow
  stations: StationRow
  modules: ModuleRow
  signals: SignalRow
}

export type Rows<T> = Readonly<Record<Id, T>>

/** A station with the rows that belong to it, so that a change copies one group and not a whole
 *  table. */
export interface StationGroup {
  readonly station: StationRow
  readonly modules: Rows<ModuleRow>
  readonly signals: Rows<SignalRow>
}

export interface Plan {
  readonly project: ProjectRow
  readonly controllers: Rows<ControllerRow>
  readonly networks: Rows<NetworkRow>
  readonly stations: Rows<StationGroup>
  /** Signals that have no channel yet, or lost it. */
  readonly unplaced: Rows<SignalRow>
}

export type PlanRows = { readonly [T in TableName]: readonly RowOf[T][] }
