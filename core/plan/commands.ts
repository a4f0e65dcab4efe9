import { z } from 'zod'
import { turnNames } from '../vocabulary/byte-order'
import {
  byteOrders,
  chosenLayouts,
  controllerRow,
  deviceIdentity,
  feed,
  feedPoint,
  linkEnd,
  id,
  moduleRow,
  monitoredTimes,
  networkRow,
  parameterKey,
  parameterValue,
  parameterValues,
  plugged,
  portLink,
  portSettings,
  projectRow,
  recordKey,
  signalFacts,
  signalPlace,
  signalRow,
  stationRow,
  type SignalFacts,
} from './model'
import { dataLayout } from '../vocabulary/data-layout'
import { liftCommand } from './older'
import { wordField } from '../vocabulary/schema-words'
import { networkKindNames, networkSettingsEdit, stationSettingsEdit } from '../protocols/registry'

/** What the user means, one entry a command. The browser, the server and `npx kataxis apply` run
 *  the same ones. */

/** Fields of a row as a change may set them: any of them, and none filled in where it is left
 *  out. */
function settable<T extends z.ZodRawShape, K extends keyof T & string = never>(
  row: z.ZodObject<T>,
  ...without: K[]
) {
  const shape = Object.fromEntries(
    Object.entries(row.shape)
      .filter(([key]) => key !== 'id' && !without.includes(key as K))
      .map(([key, field]) => [
        key,
        (field instanceof z.ZodDefault
          ? (field.unwrap() as z.ZodType)
          : (field as z.ZodType)
        ).optional(),
      ]),
  )
  return z.object(shape).strict() as unknown as z.ZodType<
    Partial<Omit<z.output<z.ZodObject<T>>, 'id' | K>>
  >
}
/** Settings of a station as a change may set them; signatures are entered by a command of their
 *  own. */
const stationEdit = stationSettingsEdit.omit({ safetyConfiguration: true })
const notation = controllerRow.shape.notation.unwrap()
const connection = stationRow.shape.connection.unwrap()

/** What may be said of a link beyond its two ends. */
const linkWords = settable(portLink, 'to')

/** Facts of a signal as a change may set them. */
const signalFactsEdit = z
  .object(
    Object.fromEntries(
      Object.entries(signalFacts.shape).map(([name, fact]) => [
        name,
        fact.unwrap().nullable().optional(),
      ]),
    ),
  )
  .strict() as unknown as z.ZodType<{ [K in keyof SignalFacts]?: SignalFacts[K] | null }>

const subslot = z.number().int().min(0).max(65_535)

const single = {
  setProject: z.object({ set: settable(projectRow) }),
  addController: z.object({
    id,
    name: z.string().max(200),
    inputBytes: controllerRow.shape.inputBytes.default(4096),
    outputBytes: controllerRow.shape.outputBytes.default(4096),
    aligned: z.boolean().default(true),
    notation: notation.optional(),
  }),
  updateController: z.object({ id, set: settable(controllerRow) }),
  removeController: z.object({ id }),
  addNetwork: z.object({
    id,
    controllerId: id,
    name: z.string().max(200),
    kind: z.enum(networkKindNames).default('profinet'),
    /** Of its kind; what is left out is as usual. */
    settings: networkSettingsEdit.optional(),
  }),
  updateNetwork: z.object({
    id,
    set: settable(networkRow.extend({ settings: networkSettingsEdit }), 'controllerId'),
  }),
  removeNetwork: z.object({ id }),
  /** Name, address and device number are the next free ones where they are left out; fixed modules
   *  come with it. */
  addStation: z.object({
    id,
    networkId: id,
    file: stationRow.shape.file,
    device: stationRow.shape.device,
    name: stationRow.shape.name.optional(),
    settings: stationEdit.optional(),
    deviceNumber: stationRow.shape.deviceNumber.optional(),
    connection: connection.optional(),
    comment: z.string().max(2000).default(''),
  }),
  updateStation: z.object({
    id,
    set: settable(
      stationRow.extend({ settings: stationEdit }),
      'networkId',
      'file',
      'device',
      'connection',
      'plugged',
      'layouts',
      'reported',
      'links',
      'feed',
      'secondFeed',
      'orders',
      'values',
      'iParameterSums',
      'monitored',
      'addresses',
    ),
  }),
  removeStation: z.object({ id }),
  /** Copies with modules, and signals whose tags have `find` replaced by `with`; without `find` the
   *  copies' signals carry no tag. Name, address and number are the next free ones where they are
   *  left out. */
  copyStation: z.object({
    sourceId: id,
    networkId: id,
    copies: z
      .array(
        z
          .object({
            id,
            name: stationRow.shape.name.optional(),
            settings: stationEdit.optional(),
            find: z.string().max(500).default(''),
            with: z.string().max(500).default(''),
          })
          .strict(),
      )
      .min(1)
      .max(1000),
  }),
  /** Joins ports, of stations or of the controller's interface, which the id of its network names.
   *  What is left out is as usual on the network. */
  linkPorts: z.object({
    links: z
      .array(z.object({ from: linkEnd, to: linkEnd, set: linkWords.optional() }).strict())
      .min(1)
      .max(10_000),
  }),
  /** Says more of links, each named by either of its ends. */
  updateLinks: z.object({
    edits: z
      .array(z.object({ at: linkEnd, set: linkWords }).strict())
      .min(1)
      .max(10_000),
  }),
  /** Takes links away, each named by either of its ends. */
  unlinkPorts: z.object({ ends: z.array(linkEnd).min(1).max(10_000) }),
  /** Joins stations of a network in this order, from its controller on; without a list all of them
   *  as the list of the network has them. Links among them that were there go. */
  lineUp: z.object({ networkId: id, stationIds: z.array(id).min(1).max(10_000).optional() }),
  /** Joins stations each to a port of one node, which is a station or the controller. */
  starOn: z.object({ node: id, stationIds: z.array(id).min(1).max(1000) }),
  /** Joins the end of a line with the controller, or with the node where the line began, and plans
   *  the network as a ring. */
  closeRing: z.object({ networkId: id }),
  /** Takes the link that closed a ring away, and plans the network as none. */
  openRing: z.object({ networkId: id }),
  /** Puts a station between the two ends of a link. */
  insertBetween: z.object({ stationId: id, at: linkEnd }),
  /** Decides ports themselves; null: as usual. */
  setPorts: z.object({
    edits: z
      .array(z.object({ at: linkEnd, set: portSettings.nullable() }).strict())
      .min(1)
      .max(10_000),
  }),
  /** Hangs heads and potential groups on supplies, or says more of it; null: on none. */
  setFeeds: z.object({
    edits: z
      .array(z.object({ at: feedPoint, set: settable(feed).nullable() }).strict())
      .min(1)
      .max(10_000),
  }),
  /** To another network of the same protocol, or to another position on its own. IP addresses and
   *  numbers that do not fit there become the next free ones. */
  moveStations: z.object({
    ids: z.array(id).min(1).max(1000),
    networkId: id,
    position: z.number().optional(),
  }),
  /** Another head, firmware or connection: modules that it takes stay with their addresses, the
   *  others go, and signals never do. */
  replaceHead: z.object({
    id,
    file: stationRow.shape.file,
    device: stationRow.shape.device,
    connection: connection.optional(),
  }),
  /** `shift` makes room by moving the modules from that slot on one slot further. */
  insertModule: z.object({
    id,
    stationId: id,
    slot: moduleRow.shape.slot,
    module: z.string().min(1),
    shift: z.boolean().default(false),
    plugged: plugged.optional(),
    layouts: chosenLayouts.optional(),
    orders: byteOrders.optional(),
    values: parameterValues.optional(),
  }),
  /** Onto a taken slot: the modules between the old and the new place close up. */
  moveModule: z.object({ id, stationId: id, slot: moduleRow.shape.slot }),
  replaceModule: z.object({ id, module: z.string().min(1) }),
  removeModules: z.object({ ids: z.array(id).min(1).max(10_000) }),
  /** Plugs a submodule into a subslot of a module or head, or a device below the port there; an
   *  empty text takes it out. Data of the same size keep their bytes. The cycle time of the port in
   *  µs is kept where it is left out; 0: as fast as the device can. */
  /** Who devices below gateways are, any number at once; null: nobody said. */
  setDeviceIdentities: z.object({
    edits: z
      .array(z.object({ moduleId: id, identity: deviceIdentity.nullable() }).strict())
      .min(1)
      .max(10_000),
  }),
  /** How often devices below gateways send, in seconds; null: nobody said. */
  setSendTimes: z.object({
    edits: z
      .array(z.object({ moduleId: id, seconds: moduleRow.shape.sendsEveryS.unwrap() }).strict())
      .min(1)
      .max(10_000),
  }),
  /** The devices that a gateway reports; null: nobody asked it. */
  setReported: z.object({ id, reported: stationRow.shape.reported.unwrap() }),
  /** Puts a device below a port whose octets stand among other data of a head or module; an empty
   *  file takes it off. Signals on octets of the port that are something else then wait. */
  setPort: z.object({
    moduleId: id,
    port: z.number().int().min(0).max(999),
    file: z.string().max(64).default(''),
    device: z.string().max(200).default(''),
    cycleUs: z.number().int().min(0).max(132_800).optional(),
  }),
  /** Names for octets and bits of a type that its description leaves unnamed; null takes the layout
   *  away. Signals whose channel is gone by it wait. */
  setDataLayout: z.object({ id, layout: dataLayout.nullable() }),
  /** Which layout the data of one head or module have: one of the project's; empty: none, whatever
   *  its type has; null: as its type. */
  useDataLayout: z.object({
    moduleId: id,
    subslot,
    direction: signalPlace.shape.direction,
    layout: z.union([z.literal(''), id]).nullable(),
  }),
  setSubslot: z.object({
    moduleId: id,
    subslot: z.number().int().min(0).max(65_535),
    submodule: z.string().max(200),
    file: z.string().max(64).default(''),
    device: z.string().max(200).default(''),
    cycleUs: z.number().int().min(0).max(132_800).optional(),
  }),
  /** Places blocks by hand; each holds its place from then on unless `fixed` is false. `bit` only
   *  where its station packs bits. */
  setAddress: z.object({
    moduleId: id,
    subslot,
    direction: signalPlace.shape.direction,
    byte: z.number().int().min(0).max(1_048_575),
    bit: z.number().int().min(0).max(7).optional(),
    fixed: z.boolean().optional(),
  }),
  /** Gives a controller's data new addresses in the order network, station, slot, or as tight as
   *  can be; what is fixed stays. */
  repack: z.object({
    controllerId: id,
    stationIds: z.array(id).max(100_000).optional(),
    tight: z.boolean().optional(),
  }),
  /** How the octets of values are turned on their way into the image; an empty word: as they
   *  come. */
  setByteOrder: z.object({
    moduleId: id,
    values: z
      .array(signalPlace.omit({ moduleId: true }))
      .min(1)
      .max(10_000),
    turn: z.union([z.literal(''), z.enum(turnNames)]),
  }),
  /** Sets parameters of heads and modules, any number at once; null: as the description says.
   *  Values it does not allow are refused. */
  setParameters: z.object({
    edits: z
      .array(
        z
          .object({
            moduleId: id,
            record: recordKey,
            parameter: parameterKey,
            value: parameterValue.nullable(),
          })
          .strict(),
      )
      .min(1)
      .max(200_000),
  }),
  /** Puts the values of a module on others, also of another type, by record and name; what does not
   *  fit is left as it is. */
  copyParameters: z.object({
    values: parameterValues,
    file: stationRow.shape.file,
    from: z.string().max(200),
    moduleIds: z.array(id).min(1).max(10_000),
  }),
  /** The check sum over a fail-safe module's own parameters, as the maker's tool gave it for what
   *  is set now; null takes it away. */
  setIParameterSum: z.object({
    moduleId: id,
    subslot,
    crc: z.number().int().min(0).max(0xffffffff).nullable(),
    by: z.string().max(200),
    at: z.string().max(40),
  }),
  /** Times of a fail-safe connection, from which its monitoring and reaction time follow; null:
   *  nobody said. */
  setMonitoredTimes: z.object({ moduleId: id, subslot, times: monitoredTimes.nullable() }),
  /** The configuration signature of a CIP safety device, for the parameters as they are set now;
   *  empty takes it away. */
  setSafetyConfiguration: z.object({
    id,
    signature: z.string().max(100),
    madeAt: z.string().max(40).optional(),
    by: z.string().max(200),
    at: z.string().max(40),
  }),
  /** Gives the module's data the next free bytes of the image. */
  readdress: z.object({ moduleId: id }),
  removeSignals: z.object({ ids: z.array(id).min(1).max(200_000) }),
  /** Creates, changes and (when nothing is left in them) removes signals; any number at once. */
  editSignals: z.object({
    edits: z
      .array(
        z
          .object({
            id,
            place: signalPlace.nullable().optional(),
            tag: signalRow.shape.tag.optional(),
            comment: signalRow.shape.comment.optional(),
            terminal: signalRow.shape.terminal.optional(),
            /** Only what changes; null takes a fact away. */
            facts: signalFactsEdit.optional(),
          })
          .strict(),
      )
      .min(1)
      .max(200_000),
  }),
} as const

type Single = typeof single
export type CommandType = keyof Single
export type CommandOf<T extends CommandType> = { type: T } & z.output<Single[T]>
export type SingleCommand = { [T in CommandType]: CommandOf<T> }[CommandType]
/** Several commands as one change with one name. */
export interface BatchCommand {
  type: 'batch'
  label: string
  commands: SingleCommand[]
}
export type Command = SingleCommand | BatchCommand

const singleSchemas = Object.entries(single).map(([type, shape]) =>
  z.object({ type: z.literal(type), ...shape.shape }).strict(),
)
export const singleCommand = z.discriminatedUnion(
  'type',
  singleSchemas as never,
) as unknown as z.ZodType<SingleCommand>
const batch = z
  .object({
    type: z.literal('batch'),
    label: z.string().max(200),
    commands: z.array(singleCommand).min(1).max(10_000),
  })
  .strict()
export const command = z.preprocess(
  liftCommand,
  z.discriminatedUnion('type', [...singleSchemas, batch] as never),
) as unknown as z.ZodType<Command>

/** Why a command is not well made, in words for whoever typed the value; null where it is. The server
 *  refuses the same and names the path. */
export function wordCommandFault(given: Command): string | null {
  const { error } = command.safeParse(given)
  return error ? wordField(error.issues[0]!) : null
}
