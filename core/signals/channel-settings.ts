import type { Catalog } from '../catalog/catalog'
import type { Channel } from '../catalog/layout'
import type { Electrical, Parameter } from '../catalog/model'
import { signalOn, type DerivedModule, type DerivedStation } from '../derive/derive'
import { menuPath } from '../parameters/menus'
import { recordsOfPlaced, type PlacedRecord } from '../parameters/placed'
import type { CommandOf } from '../plan/commands'
import type { ProjectRow, SignalFacts } from '../plan/model'
import {
  channelOfPair,
  channelPairs,
  isEvaluatedTogether,
  pairableChannels,
  usedOfPair,
} from '../safety/pairs'
import { channelIn, meaningOf, type Meaning } from '../vocabulary/meaning'
import {
  readRange,
  sameRange,
  wordRange,
  type ElectricalRange,
} from '../vocabulary/electrical-range'

/** A parameter that sets something of a channel, or of the whole module where it has no channel of
 *  its own. */
export interface ChannelSetting {
  readonly meaning: Meaning
  readonly placed: PlacedRecord
  readonly parameter: Parameter
  readonly value: number | string
  /** The value in the description's words, a range in everybody's. */
  readonly words: string
  readonly isOfModule: boolean
}

interface Knob {
  readonly meaning: Meaning
  readonly placed: PlacedRecord
  readonly parameter: Parameter
  readonly channel: number | null
  /** Which it is of those that mean the same and name no channel, and how many there are. */
  readonly nth: number
  readonly among: number
}

type Rules = ProjectRow['meanings']
const knobs = new WeakMap<readonly PlacedRecord[], { rules: Rules; knobs: readonly Knob[] }>()

/** Parameters of a module that everybody knows by another name, and the number of the channel that
 *  each is for. */
function knobsOf(records: readonly PlacedRecord[], rules: Rules): readonly Knob[] {
  const known = knobs.get(records)
  if (known?.rules === rules) return known.knobs
  const named = records.flatMap((placed) =>
    placed.isFailSafe
      ? []
      : placed.record.parameters.flatMap((parameter) => {
          const meaning = meaningOf(parameter, rules)
          return meaning
            ? [
                {
                  meaning,
                  placed,
                  parameter,
                  channel: channelIn([...menuPath(parameter), parameter.name].join(' ')),
                },
              ]
            : []
        }),
  )
  const found = named.map((knob): Knob => {
    const alike =
      knob.channel === null
        ? named.filter(({ meaning, channel }) => meaning === knob.meaning && channel === null)
        : []
    return { ...knob, nth: alike.indexOf(knob), among: alike.length }
  })
  knobs.set(records, { rules, knobs: found })
  return found
}

/** Settings of one channel by what they mean. Channels are told by the number in their name, else
 *  by their order; so are settings without a number, where there is one for each channel. */
export function settingsOf(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
  rules: Rules,
): ReadonlyMap<Meaning, ChannelSetting> {
  const settings = new Map<Meaning, ChannelSetting>()
  if (!module.described) return settings
  const records = recordsOfPlaced(catalog, view.station.file, module.described, module.plugged)
  const all = knobsOf(records, rules)
  if (all.length === 0) return settings
  const { values } = module.row ?? view.station
  const beside =
    module.layout?.channels.filter(({ direction }) => direction === channel.direction) ?? []
  const own = channelNumber(beside, channel, all)
  for (const { meaning, placed, parameter, channel: number, nth, among } of all) {
    const isInOrder = among > 1 && among === beside.length
    if (number !== null ? number !== own : isInOrder && nth !== beside.indexOf(channel)) continue
    if (settings.has(meaning) && number === null) continue
    const value = values[placed.key]?.[parameter.key] ?? parameter.default
    settings.set(meaning, {
      meaning,
      placed,
      parameter,
      value,
      words: wordValue(parameter, meaning, value),
      isOfModule: number === null && !isInOrder,
    })
  }
  return settings
}

function channelNumber(beside: readonly Channel[], channel: Channel, all: readonly Knob[]): number {
  const named = channelIn(channel.name)
  if (named !== null) return named
  const numbers = all.flatMap(({ channel: number }) => (number === null ? [] : [number]))
  const first = numbers.length === 0 ? 0 : Math.min(...numbers)
  return first + beside.indexOf(channel)
}

function wordValue({ texts, unit }: Parameter, meaning: Meaning, value: number | string): string {
  const text = texts[String(value)] ?? `${value}${unit ? ` ${unit}` : ''}`
  const range = meaning === 'range' ? readRange(text) : null
  return range ? wordRange(range) : text
}

/** The electrical range of a channel, and who says it: a parameter that sets it, the device's
 *  sheet, or somebody in the plan. */
export interface ChannelRange {
  readonly range: ElectricalRange
  readonly source: 'parameter' | 'sheet' | 'plan'
}
export const rangeSources: Readonly<Record<ChannelRange['source'], string>> = {
  parameter: 'set by a parameter',
  sheet: 'fixed, as its sheet says',
  plan: 'entered in this plan; the description says none',
}

/** The electrical range that a channel has; null where nobody says it. What the plan says counts
 *  where the description is silent. */
export function rangeOfChannel(
  settings: ReadonlyMap<Meaning, ChannelSetting>,
  { range: fixed }: Electrical,
  { channelRange }: SignalFacts,
): ChannelRange | null {
  const setting = settings.get('range')
  const said: readonly (readonly [ChannelRange['source'], string | undefined])[] = [
    ['parameter', setting?.parameter.texts[String(setting.value)]],
    ['sheet', fixed],
    ['plan', channelRange],
  ]
  for (const [source, text] of said) {
    const range = text === undefined ? null : readRange(text)
    if (range) return { range, source }
  }
  return null
}

/** Ranges that a channel can be set to, with the value for each. */
export function rangesOf({
  parameter,
}: ChannelSetting): { readonly range: ElectricalRange; readonly value: number }[] {
  return Object.entries(parameter.texts).flatMap(([value, text]) => {
    const range = readRange(text)
    return range ? [{ range, value: Number(value) }] : []
  })
}

export type ParameterEdit = CommandOf<'setParameters'>['edits'][number]

/** The edit that sets a channel as somebody wrote it, in everybody's words or the maker's; or why
 *  it cannot. */
export function editFor(
  moduleId: string,
  setting: ChannelSetting,
  text: string,
): ParameterEdit | string {
  const { parameter, placed, meaning } = setting
  const wished = meaning === 'range' ? readRange(text) : null
  const byRange = wished && rangesOf(setting).find(({ range }) => sameRange(range, wished))
  const byText = Object.entries(parameter.texts).find(
    ([, words]) => words.toLowerCase() === text.trim().toLowerCase(),
  )
  const number =
    /^-?\d+(\.\d+)?$/.test(text.trim()) && Object.keys(parameter.texts).length === 0
      ? Number(text)
      : null
  const value = byRange ? byRange.value : byText ? Number(byText[0]) : number
  if (value === null)
    return `${parameter.name} takes ${Object.values(parameter.texts).join(', ') || 'a number'}; "${text}" is none of these.`
  return { moduleId, record: placed.key, parameter: parameter.key, value }
}

/** Whether a text, or the bit of a parameter without texts, says that something is off; null where
 *  it says neither. */
function isOffAt({ texts, bits }: Parameter, value: number | string): boolean | null {
  const text = texts[String(value)]
  if (text === undefined) return bits === 1 ? Number(value) === 0 : null
  if (/\b(off|no|not|disabled?|deactivated?|inactive|unused|aus|nein)\b/i.test(text)) return true
  return /\b(on|yes|enabled?|activated?|active|used|ein|ja)\b/i.test(text) ? false : null
}

/** What switches a channel off and on: its range, or a parameter of that meaning; null where
 *  nothing does. */
export interface OffSwitch {
  readonly setting: ChannelSetting
  readonly isOff: boolean
  readonly off: number
  /** Null where several values mean on. */
  readonly on: number | null
}

export function offSwitchOf(settings: ReadonlyMap<Meaning, ChannelSetting>): OffSwitch | null {
  const activated = settings.get('activated')
  if (activated && !activated.isOfModule) {
    const { parameter, value } = activated
    const values =
      Object.keys(parameter.texts).length > 0 ? Object.keys(parameter.texts).map(Number) : [0, 1]
    const [off, on] = [true, false].map((wanted) =>
      values.find((one) => isOffAt(parameter, one) === wanted),
    )
    if (off !== undefined)
      return { setting: activated, isOff: isOffAt(parameter, value) === true, off, on: on ?? null }
  }
  const range = settings.get('range')
  const off =
    range && !range.isOfModule ? rangesOf(range).find((one) => one.range.kind === 'off') : undefined
  return range && off
    ? { setting: range, isOff: Number(range.value) === off.value, off: off.value, on: null }
    : null
}

/** Whether a channel is switched off by its own parameters. */
export function isSwitchedOff(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
  rules: Rules,
): boolean {
  return (
    canSwitchOff(catalog, view, module, rules) &&
    offSwitchOf(settingsOf(catalog, view, module, channel, rules))?.isOff === true
  )
}

/** Whether any channel of a module has a switch of its own; asked first, since most plans have a
 *  hundred thousand channels. */
export function canSwitchOff(
  catalog: Catalog,
  view: DerivedStation,
  { described, layout, plugged }: DerivedModule,
  rules: Rules,
): boolean {
  if (!described || !layout) return false
  return knobsOf(recordsOfPlaced(catalog, view.station.file, described, plugged), rules).some(
    ({ meaning, channel, among }) =>
      (meaning === 'range' || meaning === 'activated') && (channel !== null || among > 1),
  )
}

/** Edits that switch every channel off that carries no signal, itself or as the second of a pair,
 *  where it can be. */
export function unusedOff(catalog: Catalog, view: DerivedStation, rules: Rules): ParameterEdit[] {
  return view.modules
    .filter((module) => canSwitchOff(catalog, view, module, rules))
    .flatMap((module) => {
      const paired = channelsInPairs(catalog, view, module, rules)
      return module.layout!.channels.flatMap((channel): ParameterEdit[] => {
        if (signalOn(module, channel) || paired.has(channel)) return []
        const found = offSwitchOf(settingsOf(catalog, view, module, channel, rules))
        return found && !found.isOff
          ? [
              {
                moduleId: module.id,
                record: found.setting.placed.key,
                parameter: found.setting.parameter.key,
                value: found.off,
              },
            ]
          : []
      })
    })
}

/** Channels that belong to a pair of which one carries a signal. */
function channelsInPairs(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  rules: Rules,
): ReadonlySet<Channel | null> {
  const records = recordsOfPlaced(catalog, view.station.file, module.described!, module.plugged)
  const pairs = channelPairs(
    records,
    (module.row ?? view.station).values,
    rules,
    pairableChannels(module),
  ).filter(isEvaluatedTogether)
  return new Set(
    pairs.flatMap((pair) =>
      usedOfPair(module, pair).length > 0
        ? pair.channels.map((number) => channelOfPair(module, number))
        : [],
    ),
  )
}
