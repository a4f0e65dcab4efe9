import { isEmpty } from '../vocabulary/records'
import { findDevice, findSubmodule, type Catalog } from './catalog'
import {
  carriedItems,
  layoutOf,
  layoutOfConnection,
  layoutOfSubmodules,
  type Layout,
} from './layout'
import { laidOut, layoutsIn } from './own-data'
import type { Connection, DataItem, Device, Module, ProcessDataLayout, Submodule } from './model'
import type { DataLayout } from '../vocabulary/data-layout'
import { makeSubmodule } from './blank'

/** What is plugged into subslots, by subslot: a submodule (empty: the built-in one), and the device
 *  below a port with its file. A port whose octets stand among other data goes by its number after
 *  a `p`. */
export type PluggedParts = Readonly<
  Record<string, { readonly submodule: string; readonly file: string; readonly device: string }>
>

/** What was decided about a placed head or module that its data follow from: what is plugged, and
 *  the values chosen by record and parameter. */
export interface PlacedChoices {
  readonly plugged: PluggedParts
  readonly values: Readonly<Record<string, Readonly<Record<string, number | string>>>>
  /** Data layouts of its own, by `subslot.direction`; empty: as described. */
  readonly layouts?: Readonly<Record<string, string>>
}

/** What a port that stands among other data is called among what is plugged. */
export const portKey = (port: number) => `p${port}`

/** Computes what follows from a module or head and what was decided about it, once for each
 *  combination. */
export function oncePlaced<O extends object, T>(
  compute: (catalog: Catalog, file: string, owner: O, choices: PlacedChoices) => T,
) {
  const made = new WeakMap<O, Map<string, T>>()
  return (catalog: Catalog, file: string, owner: O, choices: PlacedChoices): T => {
    let key = ''
    for (const subslot in choices.plugged) {
      const { submodule, file: below, device } = choices.plugged[subslot]!
      const layouts = below === '' ? null : layoutsOf(findDevice(catalog, below, device))
      key += `${subslot} ${submodule} ${catalog.has(below) ? below : ''} ${device} ${layouts ? layouts.indexOf(dataBelow(catalog, choices, subslot) as ProcessDataLayout) : ''};`
    }
    for (const block in choices.layouts) {
      const layout = layoutsIn(catalog)[choices.layouts[block]!]
      key += `${block}=${layout ? numberOf(layout) : ''};`
    }
    let known = made.get(owner)
    if (!known) made.set(owner, (known = new Map()))
    let value = known.get(key)
    if (value === undefined) known.set(key, (value = compute(catalog, file, owner, choices)))
    return value
  }
}

/** Tells layouts apart that have one id at different times. */
const numbers = new WeakMap<DataLayout, number>()
let lastNumber = 0
function numberOf(layout: DataLayout): number {
  let number = numbers.get(layout)
  if (number === undefined) numbers.set(layout, (number = ++lastNumber))
  return number
}

const layoutWithPlugged = oncePlaced<Module | Device, Layout>((catalog, file, owner, choices) =>
  layoutOfSubmodules(submodulesOf(catalog, file, owner, choices)),
)
const connectionWithPlugged = oncePlaced<Connection, Layout>((catalog, _, connection, choices) =>
  layoutOfSubmodules([carriedBlock(catalog, connection, choices)]),
)

/** The data of a connection as one block, with layouts and devices below its ports. */
export function carriedBlock(
  catalog: Catalog,
  connection: Connection,
  choices: PlacedChoices,
): Submodule {
  const { key, name, inputBytes, outputBytes, asDescribed } = connection
  const block = makeSubmodule({
    key,
    name,
    ...carriedItems(connection),
    inputBytes,
    outputBytes,
  })
  return withOwn(catalog, asDescribed ? { ...block, asDescribed } : block, choices)
}

/** Layout of a module or head with what is plugged into its subslots. */
export function layoutOfPlaced(
  catalog: Catalog,
  file: string,
  owner: Module | Device,
  choices: PlacedChoices,
): Layout {
  return isPlain(choices) ? layoutOf(owner) : layoutWithPlugged(catalog, file, owner, choices)
}

/** The blocks of data that a head brings: those of the chosen connection, or its own with what is
 *  plugged into it. */
export function blocksOfHead(
  catalog: Catalog,
  device: Device,
  head: { readonly file: string; readonly connection: string } & PlacedChoices,
): readonly Submodule[] {
  const chosen = device.connections.find(({ key }) => key === head.connection)
  return chosen
    ? [carriedBlock(catalog, chosen, head)]
    : submodulesOf(catalog, head.file, device, head)
}

/** What a head brings: the data of the chosen connection, or its own with what is plugged into
 *  it. */
export function layoutOfHead(
  catalog: Catalog,
  device: Device,
  head: { readonly file: string; readonly connection: string } & PlacedChoices,
): Layout {
  const chosen = device.connections.find(({ key }) => key === head.connection)
  if (!chosen) return layoutOfPlaced(catalog, head.file, device, head)
  return isPlain(head)
    ? layoutOfConnection(chosen)
    : connectionWithPlugged(catalog, head.file, chosen, head)
}

/** Whether nothing was decided that data follow from. */
const isPlain = ({ plugged, layouts }: PlacedChoices) =>
  isEmpty(plugged) && (layouts === undefined || isEmpty(layouts))

/** Built-in and plugged submodules in subslot order; a port carries the data of the device below
 *  it. */
export function submodulesOf(
  catalog: Catalog,
  file: string,
  owner: Module | Device,
  choices: PlacedChoices,
): Submodule[] {
  const { plugged } = choices
  const standing = owner.submodules.map((submodule) => withOwn(catalog, submodule, choices))
  for (const subslot in plugged) {
    const part = plugged[subslot]!
    const submodule = part.submodule === '' ? null : findSubmodule(catalog, file, part.submodule)
    if (submodule)
      standing.push(withOwn(catalog, { ...submodule, subslot: Number(subslot) }, choices))
  }
  return standing.sort((a, b) => (a.subslot ?? 1) - (b.subslot ?? 1))
}

/** Process data of the device below a port: of several layouts the one whose condition the values
 *  meet, chosen ones over the description's (IODD specification 1.1, `ProcessData` with
 *  `Condition`, from memory), else the description's usual one. Null where no device is known. */
export function dataBelow(
  catalog: Catalog,
  { plugged, values }: PlacedChoices,
  subslot: number | string,
): DeviceData | null {
  const part = plugged[subslot]
  const device = part && part.file !== '' ? findDevice(catalog, part.file, part.device) : null
  if (!device) return null
  const layouts = layoutsOf(device)
  if (!layouts) return device.submodules[0] ?? null
  const chosen = (condition: LayoutCondition) =>
    chosenBelow(values, subslot, conditionKey(condition))
  if (!layouts.some(({ condition }) => condition && chosen(condition) !== undefined))
    return device.submodules[0] ?? null
  const met = layouts.find(
    ({ condition }) =>
      condition &&
      (chosen(condition) ?? defaultOf(device, conditionKey(condition))) === condition.value,
  )
  return met ?? layouts.find(({ condition }) => condition === null) ?? device.submodules[0] ?? null
}

/** Data of a device with their sizes in octets. */
export type DeviceData = Pick<Submodule, 'inputBytes' | 'outputBytes' | 'inputs' | 'outputs'>

type LayoutCondition = NonNullable<ProcessDataLayout['condition']>

/** The key of the parameter that a layout depends on. */
function conditionKey({ variable, subindex }: LayoutCondition): string {
  return subindex ? `${variable}.${subindex}` : variable
}

/** The layouts of a device that has more than one. */
function layoutsOf(device: Device | null): readonly ProcessDataLayout[] | null {
  return device && 'ioLink' in device && device.ioLink.layouts.length > 1
    ? device.ioLink.layouts
    : null
}

/** The value chosen for a parameter of the device below a port; its records are called `2p.64`, see
 *  `recordsOfPlaced`. */
function chosenBelow(
  values: PlacedChoices['values'],
  subslot: number | string,
  key: string,
): number | undefined {
  for (const record in values) {
    const value = record.startsWith(`${subslot}p.`) ? values[record]![key] : undefined
    if (value !== undefined) return Number(value)
  }
  return undefined
}

function defaultOf({ parameters }: Device, key: string): number | undefined {
  for (const record of parameters)
    for (const parameter of record.parameters)
      if (parameter.key === key) return Number(parameter.default)
  return undefined
}

/** A block with what was decided about its data: layouts of its own, the device below it where it is
 *  a port, and the devices below ports within it. */
function withOwn(catalog: Catalog, block: Submodule, choices: PlacedChoices): Submodule {
  const subslot = block.subslot ?? 1
  let laid = block
  for (const direction of ['in', 'out'] as const) {
    const id = choices.layouts?.[`${subslot}.${direction}`]
    const layout = id === undefined ? undefined : layoutsIn(catalog)[id]
    if (layout || id === '') laid = laidOut(laid, direction, layout ?? null)
  }
  return withPorts(catalog, withDevice(catalog, laid, choices), choices)
}

/** Octets of ports with the values that the devices below them have there. */
function withPorts(catalog: Catalog, block: Submodule, choices: PlacedChoices): Submodule {
  const fill = (items: readonly DataItem[], direction: 'inputs' | 'outputs') => {
    if (!items.some(({ port }) => port !== undefined)) return items
    const bytes = direction === 'inputs' ? 'inputBytes' : 'outputBytes'
    return items.flatMap((item) => {
      const data = item.port === undefined ? null : dataBelow(catalog, choices, portKey(item.port))
      return data
        ? data[direction]
            .map((one) => onPort(one, data[bytes]))
            .filter(within(item.bits / 8))
            .map((one) => onOwnPort(one, item))
        : [item]
    })
  }
  const [inputs, outputs] = [fill(block.inputs, 'inputs'), fill(block.outputs, 'outputs')]
  return inputs === block.inputs && outputs === block.outputs
    ? block
    : { ...block, inputs, outputs }
}

function withDevice(catalog: Catalog, port: Submodule, choices: PlacedChoices): Submodule {
  const data = dataBelow(catalog, choices, port.subslot ?? 1)
  if (!data) return port
  const inputs = data.inputs.map((item) => onPort(item, data.inputBytes))
  const outputs = data.outputs.map((item) => onPort(item, data.outputBytes))
  return {
    ...port,
    inputs: inputs.filter(within(port.inputBytes)),
    outputs: outputs.filter(within(port.outputBytes)),
  }
}

/** An IODD counts bits from the last octet's bit 0, and the port's data begin with the first octet
 *  (IO-Link interface specification 1.1): a value begins at the octet its highest bit stands in. It
 *  is its own inverse. */
export function onPort(item: DataItem, bytes: number): DataItem {
  const bit = item.offsetBits & 7
  const firstOctet = bytes - (item.offsetBits >> 3) - Math.ceil((bit + item.bits) / 8)
  return { ...item, offsetBits: firstOctet * 8 + bit }
}

/** A value of a device at its place among the other data, under its port's number. */
function onOwnPort(item: DataItem, { offsetBits, port }: DataItem): DataItem {
  return {
    ...item,
    group: `Port ${port}`,
    offsetBits: item.offsetBits + offsetBits,
    ...(port !== undefined && { belowPort: port }),
  }
}

function within(bytes: number): (item: DataItem) => boolean {
  return ({ offsetBits, bits }) =>
    offsetBits >= 0 && (offsetBits >> 3) + Math.ceil(((offsetBits & 7) + bits) / 8) <= bytes
}
