import type { Catalog } from '../catalog/catalog'
import type { Channel } from '../catalog/layout'
import { typeName } from '../catalog/cip-types'
import { kindOfChannel } from '../catalog/words'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { ProjectRow, SignalRow } from '../plan/model'
import type { Chain } from '../scaling/chain'
import { commonFormats } from '../scaling/raw-formats'
import type { RawFormat } from '../vocabulary/raw-format'
import { rangeOfChannel, settingsOf, type ChannelRange } from './channel-settings'
import { electricalOf, electricalOfChannel } from './electrical'
import type { DataKind } from '../vocabulary/data-kind'
import { readRange, wordRange } from '../vocabulary/electrical-range'

/** The chain of a signal, with what was taken for granted since nobody said it. */
export interface SignalChain {
  readonly chain: Chain
  readonly assumed: readonly string[]
  /** Who says the channel's range. */
  readonly source: ChannelRange['source']
  /** Whether somebody said how the module counts; else nobody can say that a program scales it
   *  wrong. */
  readonly knowsFormat: boolean
}

/** Raw formats that can be chosen in a project, its own first. */
export function rawFormatsOf({
  ownFormats,
}: Pick<ProjectRow, 'ownFormats'>): Readonly<Record<string, RawFormat>> {
  return { ...ownFormats, ...commonFormats } as Record<string, RawFormat>
}

const has = (formats: Readonly<Record<string, unknown>>, key: string) => Object.hasOwn(formats, key)

/** One of `rawFormatsOf`, without putting all of them together. */
function rawFormatIn(
  { ownFormats }: Pick<ProjectRow, 'ownFormats'>,
  key: string | undefined,
): RawFormat | null {
  if (key === undefined) return null
  if (has(commonFormats, key)) return commonFormats[key]!
  return has(ownFormats, key) ? ownFormats[key]! : null
}

/** What the type of a module is called where its raw format is chosen. */
export function formatKeyOf({ described }: Pick<DerivedModule, 'described'>): string {
  return described ? (described.orderNumber ?? described.key) : ''
}

/** The raw format that a device sheet says a module counts in. */
export function formatOfSheet({ described }: Pick<DerivedModule, 'described'>): RawFormat | null {
  const counts = electricalOf(described).counts
  return typeof counts === 'string' ? (commonFormats[counts] ?? null) : (counts ?? null)
}

/** What a number most likely counts in (common practice); one whose sign nobody states is taken for
 *  a signed one. */
const likely: Readonly<Partial<Record<DataKind, string>>> = { float: 'real', unsigned: 'u65535' }
const likelyElse = 'i32767'

/** From process value to program for a signal on an analog channel; or why there is no such
 *  chain. */
export function chainOf(
  catalog: Catalog,
  project: ProjectRow,
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
  { facts }: Pick<SignalRow, 'facts'>,
): SignalChain | string {
  const kind = kindOfChannel(channel)
  if (kind !== 'AI' && kind !== 'AO') return `A channel of the kind ${kind} has no range.`
  const assumed: string[] = []
  const own = facts.transmitter === undefined ? null : readRange(facts.transmitter)
  const set = rangeOfChannel(
    settingsOf(catalog, view, module, channel, project.meanings),
    electricalOfChannel(module.described, channel),
    facts,
  )
  if (!set)
    return 'The range of the channel is not known: its description does not say it. Look it up in the manual and enter it.'
  const { range, source } = set
  if (!own)
    assumed.push(
      `Not entered what the transmitter gives: ${wordRange(range)} is assumed, as the channel takes.`,
    )
  const isSensor = range.kind === 'resistance' || range.kind === 'thermocouple'
  const table = facts.characteristic?.kind === 'table' ? facts.characteristic.points : null
  if (!table && (facts.low === undefined || facts.high === undefined)) {
    if (!isSensor) assumed.push('Not entered: the measuring range; 0 to 100 % is assumed.')
  }
  const said =
    rawFormatIn(project, project.moduleFormats[formatKeyOf(module)]) ?? formatOfSheet(module)
  const format = said ?? commonFormats[isSensor ? 'tenths' : (likely[channel.holds] ?? likelyElse)]!
  if (!said)
    assumed.push(
      `Not entered how ${module.described?.name ?? 'the module'} counts: ${format.name} is assumed, by its type ${typeName(channel.type)}.`,
    )
  return {
    assumed,
    source,
    knowsFormat: said !== null,
    chain: {
      process: {
        low: table?.[0]![1] ?? facts.low ?? 0,
        high: table?.at(-1)![1] ?? facts.high ?? 100,
        unit: facts.unit ?? (isSensor ? '°C' : facts.low === undefined && !table ? '%' : ''),
      },
      characteristic: facts.characteristic ?? { kind: 'linear' },
      transmitter: own ?? range,
      channel:
        range.kind === 'thermocouple' && facts.coldEnd !== undefined
          ? { ...range, coldEnd: facts.coldEnd }
          : range,
      format,
    },
  }
}
