import { z } from 'zod'
import type { Device, Protocol } from '../catalog/model'
import type { ByteOrder } from '../vocabulary/byte-order'
import type { SwitchBank, SwitchStyle } from '../vocabulary/switch-bank'
import type { Direction } from '../vocabulary/direction'
import { plainFrame, type FramePart } from './frame'
import { protocols } from './list'
import type { NetworkKind, NetworkProtocol, SheetPart } from './protocol'
import type { Round, WireModule, WireStation } from './wire'
import type { PortDescription } from './wiring'

type Listed = (typeof protocols)[number]
type Both<U> = (U extends unknown ? (one: U) => void : never) extends (all: infer I) => void
  ? I
  : never
type Kinds = Both<Listed['kinds']>

/** Kinds of network by the name that plans call them. */
export const networkKinds = Object.assign({}, ...protocols.map(({ kinds }) => kinds)) as Kinds &
  Readonly<Record<NetworkKindName, NetworkKind>>
export type NetworkKindName = keyof Kinds & string
export const networkKindNames = Object.keys(networkKinds) as [NetworkKindName, ...NetworkKindName[]]

const byName = new Map<string, NetworkProtocol>(
  protocols.map((one) => [one.name, one as unknown as NetworkProtocol]),
)
const byKind = new Map<string, NetworkProtocol>(
  protocols.flatMap((one) =>
    Object.keys(one.kinds).map((kind) => [kind, one as unknown as NetworkProtocol] as const),
  ),
)

/** What a device's protocol knows; its functions take that device. */
export function protocolOf(device: { readonly protocol: Protocol }): NetworkProtocol {
  return byName.get(device.protocol)!
}

/** Whose devices stand on a network. */
export function protocolOn(network: WithKind): NetworkProtocol {
  return byKind.get(network.settings.kind)!
}

/** A protocol as people write it within a sentence. */
export function protocolTitle(name: Protocol): string {
  return byName.get(name)?.title ?? name
}

/** Protocols whose devices device sheets may describe. */
export const sheetProtocols = [...byName.values()].flatMap(({ name, sheetParts }) =>
  sheetParts ? [name] : [],
) as [Protocol, ...Protocol[]]

/** Whether device sheets of a protocol have a part. */
export function hasSheetPart(protocol: Protocol, part: SheetPart): boolean {
  return byName.get(protocol)?.sheetParts?.includes(part) ?? false
}

/** Whether devices of a protocol stand on networks, and not below ports. */
export function standsOnNetworks(protocol: Protocol): boolean {
  return Object.keys(byName.get(protocol)?.kinds ?? {}).length > 0
}

export interface WithKind {
  readonly settings: { readonly kind: NetworkKindName }
}

export function kindNamed(kind: NetworkKindName): NetworkKind {
  return networkKinds[kind]
}

export function kindOf({ settings: { kind } }: WithKind): NetworkKind {
  return networkKinds[kind]
}

type Of = 'network' | 'station'
type Fields<K extends NetworkKindName, T extends Of> = {
  readonly [N in keyof Kinds[K]['settings'][T]]: Kinds[K]['settings'][T][N] extends z.ZodType
    ? z.output<Kinds[K]['settings'][T][N]>
    : never
}
type SettingsOf<T extends Of> = {
  [K in NetworkKindName]: { readonly kind: K } & Fields<K, T>
}[NetworkKindName]
type EditOf<T extends Of> = Partial<Both<{ [K in NetworkKindName]: Fields<K, T> }[NetworkKindName]>>
export type NetworkSettings = SettingsOf<'network'>
export type StationSettings = SettingsOf<'station'>
/** Settings as a change may set them: any of them, of whatever kind. */
export type NetworkSettingsEdit = EditOf<'network'>
export type StationSettingsEdit = EditOf<'station'>

const schemasOf = (of: Of) =>
  Object.fromEntries(
    networkKindNames.map((kind) => [
      kind,
      z.object({ kind: z.literal(kind), ...networkKinds[kind].settings[of] }).strict(),
    ]),
  )
const schemas = { network: schemasOf('network'), station: schemasOf('station') }

/** What a network keeps beyond what all have, by its kind. */
export const networkSettings = z.discriminatedUnion(
  'kind',
  Object.values(schemas.network) as never,
) as unknown as z.ZodType<NetworkSettings>
/** The same of a station, by the kind of its network. */
export const stationSettings = z.discriminatedUnion(
  'kind',
  Object.values(schemas.station) as never,
) as unknown as z.ZodType<StationSettings>

/** Any settings of any kind, none filled in where it is left out. */
function editOf(of: Of) {
  const shape = Object.assign(
    {},
    ...networkKindNames.map((kind) => networkKinds[kind].settings[of]),
  )
  return z
    .object(
      Object.fromEntries(
        Object.entries(shape as z.ZodRawShape).map(([key, field]) => [
          key,
          (field instanceof z.ZodDefault
            ? (field.unwrap() as z.ZodType)
            : (field as z.ZodType)
          ).optional(),
        ]),
      ),
    )
    .strict()
}
type EditShape<E> = { [K in keyof E]-?: z.ZodOptional<z.ZodType<Exclude<E[K], undefined>>> }
export const networkSettingsEdit = editOf('network') as unknown as z.ZodObject<
  EditShape<NetworkSettingsEdit>
>
export const stationSettingsEdit = editOf('station') as unknown as z.ZodObject<
  EditShape<StationSettingsEdit>
>

/** Settings of a kind: what is known already of those it has, the rest as usual. */
function settingsFor(of: Of, kind: NetworkKindName, known: object): object {
  const schema = schemas[of][kind]!
  const own = Object.entries(known).filter(
    ([key, value]) => key in schema.shape && value !== undefined,
  )
  return schema.parse({ ...Object.fromEntries(own), kind })
}
export const networkSettingsFor = (kind: NetworkKindName, known: object = {}) =>
  settingsFor('network', kind, known) as NetworkSettings
export const stationSettingsFor = (kind: NetworkKindName, known: object = {}) =>
  settingsFor('station', kind, known) as StationSettings

/** A setting that a kind does not have; null where it has all of them. */
export function strangeSetting(of: Of, kind: NetworkKindName, edit: object): string | null {
  return Object.keys(edit).find((key) => !(key in schemas[of][kind]!.shape)) ?? null
}

/** The number that its controller has on a network; none where it has none there. */
export function ownNumbers(network: WithKind): number[] {
  const own = kindOf(network).ownNumber
  return own ? [own(network.settings as never)] : []
}

/** The lowest number not taken, from where the kind begins; below that only where nothing else is
 *  left. Null where all are taken. */
export function freeNumber(
  { number: { first, last, start } }: NetworkKind,
  taken: ReadonlySet<number>,
): number | null {
  for (let number = start; number <= last; number++) if (!taken.has(number)) return number
  for (let number = first; number < start; number++) if (!taken.has(number)) return number
  return null
}

/** Ports of a device by their number from 1: as its description says, else as many as are usual on
 *  that network. */
export function portsOfDevice(
  network: WithKind,
  device: Device | null,
): readonly PortDescription[] {
  const described = device ? portsDescribed(device) : []
  if (described.length > 0) return described
  const count = kindOf(network).wiring?.ports ?? 0
  return Array.from({ length: count }, (_, i) => ({ name: `Port ${i + 1}` }))
}

function portsDescribed(device: Device): readonly PortDescription[] {
  const inSheet = 'sheet' in device ? (device.sheet.networkPorts ?? []) : []
  return inSheet.length > 0 ? inSheet : (protocolOf(device).ports?.(device) ?? [])
}

/** Places in a device that its controller writes; none where its protocol does not say. */
export function writtenIn(device: Device): readonly string[] {
  return protocolOf(device).writes?.(device) ?? []
}

/** How a station's identity gets into it, in a sentence: by its switches, menu or tool, as a device
 *  sheet says, or as its protocol does it. */
export function wordSetBy(view: WireStation, bank: SwitchBank | null): string {
  if (bank) return setByBank[bank.style]
  const described = view.device
  if (described && 'sheet' in described && described.sheet.addressing !== '')
    return `Set on the device: ${described.sheet.addressing}.`
  const own = described && (protocolOf(described) as NetworkProtocol).setBy
  return own ? own({ ...view, device: described }) : 'Set on the device, as its manual says.'
}

const bySwitches = 'Set with the switches on its housing; the card below shows their positions.'
const setByBank: Readonly<Record<SwitchStyle, string>> = {
  'rotary-decimal': bySwitches,
  'rotary-hex': bySwitches,
  'dip-binary': bySwitches,
  'dip-weighted': bySwitches,
  jumper: 'Set by the place of a jumper; the card below shows which.',
  panel: 'Entered at its front panel, step by step as below.',
  tool: 'Written by the tool of its maker, step by step as below.',
}

/** In which order a device sends the octets of a number: as its protocol does, where no device
 *  sheet says otherwise. */
export function wireOrderOf(device: Device): ByteOrder {
  return ('sheet' in device && device.sheet.dataOrder) || protocolOf(device).byteOrder
}

/** How long the controller takes to ask all stations of a network once, and how often it is to; null
 *  where it does not ask one after the other. */
export function roundOf(network: WithKind, stations: readonly WireStation[]): Round | null {
  return kindOf(network).round?.(network.settings as never, stations) ?? null
}

/** The data of a station in one direction as they travel together. */
export function stationFrame<M extends WireModule>(
  view: WireStation<M>,
  direction: Direction,
): FramePart<M>[] {
  const frame = view.device && protocolOf(view.device).frame
  return frame ? frame(view, direction) : plainFrame(view, direction)
}
