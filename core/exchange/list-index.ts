import { formatAddress, notations } from '../addressing/notations'
import { channelAddress, notationOf, type Derived } from '../derive/derive'
import type { Id, SignalPlace, SignalRow } from '../plan/model'
import { legalTag, tagIdentity } from '../tags/identifier'
import { placeOf } from '../vocabulary/data-place'
import { listChannels } from './io-list'

/** A channel of the plan that a row of a list may mean. */
export interface Known {
  readonly place: SignalPlace
  readonly where: string
  readonly signal: SignalRow | null
}
interface KnownChannel extends Known {
  /** The controller whose network it is on. */
  readonly controller: Id
}

export type ListIndex = ReturnType<typeof indexOf>

/** Channels and signals by all that a list may call them. */
export function indexOf(derived: Derived) {
  const byTerminal = new Map<string, KnownChannel[]>()
  const byAddress = new Map<string, KnownChannel[]>()
  const byOwnAddress = new Map<string, KnownChannel[]>()
  const byPosition = new Map<string, KnownChannel[]>()
  const byStationPosition = new Map<string, KnownChannel[]>()
  const counts = new Map<string, number>()
  const byTag = new Map<string, SignalRow>()
  const where = new Map<string, string>()
  const signals: SignalRow[] = []
  const add = (map: Map<string, KnownChannel[]>, key: string, known: KnownChannel) => {
    const all = map.get(key)
    if (all) all.push(known)
    else map.set(key, [known])
  }
  const addSignal = (signal: SignalRow) => {
    signals.push(signal)
    if (signal.tag !== '') byTag.set(tagIdentity(signal.tag), signal)
  }
  const controllers = controllerKeys(derived)
  const controllerOfSignal = new Map<string, string>()
  for (const { view, network, module, channel, number, signal } of listChannels(derived)) {
    const known: KnownChannel = {
      controller: network.network.controllerId,
      place: {
        moduleId: module.id,
        ...placeOf(channel),
      },
      where: `${view.station.name} · slot ${module.slot} · ${channel.name}`,
      signal,
    }
    const count = (counts.get(view.id) ?? 0) + 1
    counts.set(view.id, count)
    add(byStationPosition, `${view.station.name}/${count}`.toLowerCase(), known)
    const at = channelAddress(module, channel)
    if (at) {
      const own = notationOf(derived.plan, view.station)
      if (own !== 'iec') add(byOwnAddress, formatAddress(at, own).toLowerCase(), known)
      add(byAddress, formatAddress(at, 'iec').toLowerCase(), known)
    }
    add(byPosition, positionKey(view.station.name, module.slot, channel.name), known)
    add(byPosition, positionKey(view.station.name, module.slot, String(number)), known)
    if (signal) {
      addSignal(signal)
      where.set(signal.id, known.where)
      controllerOfSignal.set(signal.id, known.controller)
      if (signal.terminal !== '') add(byTerminal, signal.terminal.toLowerCase(), known)
    }
  }
  for (const signal of Object.values(derived.plan.unplaced)) addSignal(signal)
  return {
    byTerminal,
    byAddress,
    byOwnAddress,
    byPosition,
    byStationPosition,
    controllerOf: (name: string) => controllers.get(name.toLowerCase()) ?? null,
    controllerOfSignal,
    byTag,
    signals,
    whereOf: (signal: SignalRow) => where.get(signal.id) ?? 'no channel',
  }
}

/** Controllers by their names, also as programs know them. */
function controllerKeys({ plan }: Derived): ReadonlyMap<string, Id> {
  const rules = { ...plan.project, tagCase: 'any' } as const
  return new Map(
    Object.values(plan.controllers).flatMap(({ id, name }) => [
      [legalTag(name, rules).toLowerCase(), id],
      [name.toLowerCase(), id],
    ]),
  )
}

function positionKey(station: string, slot: number | string, channel: string): string {
  return `${station}/${slot}/${channel}`.toLowerCase()
}

/** The channel that a row's place means: what station, slot and channel, address and station say
 *  together. The terminal counts where nothing else does. Null where it names none, a sentence
 *  where it means several or none that is there. */
export function placesOf(
  index: ListIndex,
  {
    terminal,
    address,
    station,
    slot,
    subslot,
    channel,
    position,
    controller,
  }: Record<
    'terminal' | 'address' | 'station' | 'slot' | 'subslot' | 'channel' | 'position' | 'controller',
    string
  >,
): Known | null | string {
  const inSlot =
    station !== '' && slot !== '' && channel !== ''
      ? (index.byPosition.get(positionKey(station, slot, channel)) ?? [])
      : null
  const byPosition =
    subslot === ''
      ? inSlot
      : (inSlot?.filter(({ place }) => place.subslot === Number(subslot)) ?? null)
  const byAddress =
    address !== '' ? channelsAt(index, address, index.controllerOf(controller)) : null
  if (!byPosition && !byAddress && station !== '' && position !== '')
    return oneOf(
      index.byStationPosition.get(`${station}/${Number(position)}`.toLowerCase()) ?? [],
      `position ${position} of ${station}`,
    )
  if (byPosition?.length === 0)
    return `There is no channel at ${station}, slot ${slot}, ${channel}.`
  if (byAddress?.length === 0) return `There is no channel at the address ${address}.`
  if (byPosition && byAddress)
    return oneOf(
      byPosition.filter((one) => byAddress.includes(one)),
      `${station}, slot ${slot}, ${channel} at the address ${address}`,
    )
  if (byPosition) return oneOf(byPosition, `${station}, slot ${slot}, ${channel}`)
  if (byAddress)
    return oneOf(
      station === ''
        ? byAddress
        : byAddress.filter(({ where }) =>
            where.toLowerCase().startsWith(`${station.toLowerCase()} ·`),
          ),
      `the address ${address}${station === '' ? '' : ` of ${station}`}`,
    )
  if (terminal === '') return null
  const found = index.byTerminal.get(terminal.toLowerCase())
  return found && found.length > 1
    ? `The terminal ${terminal} stands at ${found.length} channels.`
    : (found?.[0] ?? null)
}

/** Channels at an address as their controllers write it, else as IEC 61131-3 does; of one controller
 *  where the row names one. */
function channelsAt(
  index: ListIndex,
  address: string,
  controller: string | null,
): readonly KnownChannel[] {
  const text = address.toLowerCase()
  const found =
    index.byOwnAddress.get(text) ??
    index.byAddress.get(text) ??
    index.byAddress.get(usualAddress(address)) ??
    []
  return controller === null ? found : found.filter((one) => one.controller === controller)
}

function oneOf(found: readonly Known[], words: string): Known | string {
  const different = [...new Set(found)]
  if (different.length === 0) return `There is no channel at ${words}.`
  return different.length === 1
    ? different[0]!
    : `${words[0]!.toUpperCase()}${words.slice(1)} means ${different.length} channels: ${different
        .slice(0, 3)
        .map(({ where }) => where)
        .join(', ')}.`
}

/** The same address as the first notation that understands it would write it. */
function usualAddress(text: string): string {
  for (const name of Object.keys(notations) as (keyof typeof notations)[]) {
    const parsed = notations[name].parse(text)
    if (parsed) return formatAddress(parsed, 'iec').toLowerCase()
  }
  return ''
}
