import type { Channel } from '../catalog/layout'
import type { Electrical } from '../catalog/model'
import { kindOfChannel } from '../catalog/words'
import { signalOn, type Derived, type DerivedModule, type DerivedStation } from '../derive/derive'
import type { Id, SignalFacts, SignalPlace, SignalRow } from '../plan/model'
import { rangeOfChannel, rangesOf, settingsOf } from './channel-settings'
import { electricalOf, electricalOfChannel } from './electrical'
import { placeOf } from '../vocabulary/data-place'
import { readRange } from '../vocabulary/electrical-range'
import { takesNot } from './wiring'

export interface Assigned {
  readonly signal: SignalRow
  readonly place: SignalPlace
  readonly words: string
}
export interface Assignment {
  readonly placed: readonly Assigned[]
  /** Signals that fit nowhere, and why. */
  readonly left: readonly { readonly signal: SignalRow; readonly why: string }[]
}

interface FreeChannel {
  readonly view: DerivedStation
  readonly module: DerivedModule
  readonly channel: Channel
}

/** Puts waiting signals on the next free channels that fit them: of the kind they need, and able to
 *  take what their transmitter gives. Begins at `near` (a module or station) and goes on in the
 *  Board's order, then round to the beginning; signals keep their order. */
export function assignSignals(
  derived: Derived,
  signals: readonly SignalRow[],
  near: Id | null,
): Assignment {
  const free = [...freeChannels(derived)]
  const start =
    near === null
      ? -1
      : free.findIndex(({ view, module }) => module.id === near || view.id === near)
  const turned = start > 0 ? [...free.slice(start), ...free.slice(0, start)] : free
  const find = finder(derived, turned)
  const placed: Assigned[] = []
  const left: { signal: SignalRow; why: string }[] = []
  for (const signal of signals) {
    const { kind } = signal.facts
    if (kind === undefined) {
      left.push({ signal, why: 'which kind of channel it needs is not known' })
      continue
    }
    const found = find(signal)
    if (typeof found === 'number') {
      left.push({
        signal,
        why:
          found === 0
            ? `no ${kind} channel is free`
            : `none of the ${found} free ${kind} channels ${signal.facts.transmitter === undefined ? 'is one without a meaning of its own' : `can be set to ${signal.facts.transmitter}`}`,
      })
      continue
    }
    const { view, module, channel } = found
    placed.push({
      signal,
      place: {
        moduleId: module.id,
        ...placeOf(channel),
      },
      words: `${view.station.name} · slot ${module.slot} · ${channel.name}`,
    })
  }
  return { placed, left }
}

/** Finds the next channel for a signal, one that surely fits before one that perhaps does; else how
 *  many are free that do not. Signals that need the same go on where the one before stopped, so
 *  that thousands are quick. */
function finder(
  derived: Derived,
  free: readonly FreeChannel[],
): (signal: SignalRow) => FreeChannel | number {
  const byKind = new Map<string, FreeChannel[]>()
  for (const one of free) {
    const kind = kindOfChannel(one.channel)
    const known = byKind.get(kind)
    if (known) known.push(one)
    else byKind.set(kind, [one])
  }
  const taken = new Set<FreeChannel>()
  const searches = new Map<string, { at: number; readonly perhaps: FreeChannel[] }>()
  return (signal) => {
    const candidates = byKind.get(signal.facts.kind!) ?? []
    const { kind, transmitter, switching, hart, loadMa, ex } = signal.facts
    const key = JSON.stringify([kind, transmitter, switching, hart, loadMa, ex !== undefined])
    let search = searches.get(key)
    if (!search) searches.set(key, (search = { at: 0, perhaps: [] }))
    while (search.at < candidates.length) {
      const one = candidates[search.at++]!
      if (taken.has(one)) continue
      const fit = fitOf(derived, one, signal)
      if (fit === 'perhaps') search.perhaps.push(one)
      if (fit !== 'yes') continue
      taken.add(one)
      return one
    }
    const perhaps = search.perhaps.find((one) => !taken.has(one))
    if (!perhaps) return candidates.filter((one) => !taken.has(one)).length
    taken.add(perhaps)
    return perhaps
  }
}

function* freeChannels({ controllers }: Derived): Generator<FreeChannel> {
  for (const { networks } of controllers) {
    for (const { stations } of networks) {
      for (const view of stations) {
        for (const module of view.modules)
          for (const channel of module.layout?.channels ?? [])
            if (!signalOn(module, channel)) yield { view, module, channel }
      }
    }
  }
}

/** A channel that only has a number, and no meaning of its own such as the echo strength of a level
 *  radar. */
const plainName = /^(channel|input|output|value|kanal|a[io]|d[io])?[\s._-]*\d+$/i

/** Whether a channel can be set to what the transmitter gives; where its description says no
 *  ranges, nobody can tell. */
function fitOf(
  { catalog, plan }: Derived,
  { view, module, channel }: FreeChannel,
  { facts }: SignalRow,
): 'yes' | 'perhaps' | 'no' {
  if (isUnable(electricalOf(module.described), facts)) return 'no'
  const isPlain = plainName.test(channel.name)
  const given = facts.transmitter === undefined ? null : readRange(facts.transmitter)
  if (!given) return isPlain ? 'yes' : 'no'
  const setting = settingsOf(catalog, view, module, channel, plan.project.meanings).get('range')
  const fixed = rangeOfChannel(new Map(), electricalOfChannel(module.described, channel), {})
  const can = setting ? rangesOf(setting).map(({ range }) => range) : fixed ? [fixed.range] : []
  if (can.length === 0) return isPlain ? 'perhaps' : 'no'
  const takes = can.some((range) => {
    if (range.kind !== given.kind) return false
    if ('low' in range && 'low' in given)
      return range.unit === given.unit && range.low <= given.low && range.high >= given.high
    return 'type' in range && 'type' in given && range.type === given.type
  })
  return takes ? 'yes' : 'no'
}

/** Whether a channel is known to be none for the signal, by what its module says of itself. */
function isUnable(electrical: Electrical, { switching, hart, loadMa, ex }: SignalFacts): boolean {
  return (
    takesNot(electrical, switching) ||
    (hart === true && electrical.hart === false) ||
    (loadMa ?? 0) > (electrical.loadMa ?? Infinity) ||
    (ex !== undefined && electrical.intrinsicallySafe === false)
  )
}
