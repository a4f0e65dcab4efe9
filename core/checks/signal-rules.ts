import type { Channel } from '../catalog/layout'
import { kindOfChannel } from '../catalog/words'
import { placeKey, type DerivedModule, type DerivedStation } from '../derive/derive'
import type { SignalRow } from '../plan/model'
import { signalsWithPartner } from '../plan/partners'
import {
  mismatch,
  rightScaling,
  spanOf,
  worstError,
  type Chain,
  type Scaling,
} from '../scaling/chain'
import { readAs } from '../scaling/raw-formats'
import { typeBounds, type RawType } from '../vocabulary/raw-format'
import { rangeOfChannel, settingsOf, type ChannelRange } from '../signals/channel-settings'
import { electricalOf, electricalOfChannel } from '../signals/electrical'
import { factColumns } from '../signals/facts'
import { isEmpty } from '../vocabulary/records'
import { readRange, wordRange } from '../vocabulary/electrical-range'
import { chainOf } from '../signals/signal-chain'
import { tagIdentity } from '../tags/identifier'
import {
  atModule,
  nameOf,
  planRule,
  stationRule,
  type FindingPlace,
  type Fix,
  type StationScope,
} from './finding'

/** A scaling is right if it is nowhere off by more than this share of the measuring range. */
const scalingTolerance = 0.002

/** Rules about what is known of signals; they look only at signals of which something is known. */
export const stationSignalRules = [
  stationRule<{ tag: string; needs: string; has: string }>({
    code: 'signal.kind',
    severity: 'blocker',
    find: function* (scope) {
      for (const { signal, channel, at } of knownSignals(scope)) {
        const has = kindOfChannel(channel)
        const needs = signal.facts.kind ?? impliedKind(signal, channel)
        if (needs !== null && needs !== has) yield { at, facts: { tag: signal.tag, needs, has } }
      }
    },
    say: ({ tag, needs, has }, at) =>
      `${nameOf(tag)} needs a channel of the kind ${needs}; at ${at.words} it sits on one of the kind ${has}.`,
    fixes: (_, { id }) => [
      {
        label: 'Remove from the channel',
        command: { type: 'editSignals', edits: [{ id, place: null }] },
      },
    ],
  }),

  stationRule<{ tag: string; why: string }>({
    code: 'signal.mismatch',
    severity: 'blocker',
    find: function* (scope) {
      for (const { signal, chain, at } of chains(scope)) {
        const why = mismatch(chain)
        if (why) yield { at, facts: { tag: signal.tag, why } }
      }
    },
    say: ({ tag, why }, at) => `${nameOf(tag)} at ${at.words}: ${why}`,
  }),

  stationRule<{ tag: string; gives: string }>({
    code: 'signal.channelRange',
    severity: 'note',
    find: function* (scope) {
      for (const { signal, module, channel, at } of knownSignals(scope)) {
        const gives = channel.kind === 'analog' ? signal.facts.transmitter : undefined
        if (gives !== undefined && !rangeOf(scope, signal, module, channel))
          yield { at, facts: { tag: signal.tag, gives } }
      }
    },
    say: ({ tag, gives }, at) =>
      `The range of the channel of ${nameOf(tag)} at ${at.words} is not known, so ${gives} cannot be compared with it.`,
    fixes: ({ gives }, { id }) => [
      {
        label: `The channel takes ${gives}`,
        command: { type: 'editSignals', edits: [{ id, facts: { channelRange: gives } }] },
      },
    ],
  }),

  stationRule<{ tag: string; gives: string; takes: string }>({
    code: 'signal.wider',
    severity: 'warning',
    find: function* (scope) {
      for (const {
        signal,
        chain: { transmitter, channel },
        at,
      } of chains(scope)) {
        const [given, taken] = [spanOf(transmitter), spanOf(channel)]
        if (
          given &&
          taken &&
          given.unit === taken.unit &&
          (given.low < taken.low || given.high > taken.high)
        )
          yield {
            at,
            facts: { tag: signal.tag, gives: wordRange(transmitter), takes: wordRange(channel) },
          }
      }
    },
    say: ({ tag, gives, takes }, at) =>
      `${nameOf(tag)} at ${at.words} gives ${gives}, wider than the ${takes} its channel is set to; what lies outside is lost.`,
  }),

  stationRule<{ tag: string; error: number; at: number; unit: string; right: Scaling }>({
    code: 'signal.scaling',
    severity: 'blocker',
    find: function* (scope) {
      for (const { signal, chain, knowsFormat, at } of chains(scope)) {
        const right = signal.facts.scaling && knowsFormat ? rightScaling(chain) : null
        const worst = right && worstError(chain, signal.facts.scaling!)
        if (
          worst &&
          Math.abs(worst.error) >
            scalingTolerance * Math.abs(chain.process.high - chain.process.low)
        )
          yield {
            at,
            facts: {
              tag: signal.tag,
              error: worst.error,
              at: worst.process,
              unit: chain.process.unit,
              right: right!,
            },
          }
      }
    },
    say: ({ tag, error, at: process, unit, right }, at) =>
      `${nameOf(tag)} at ${at.words} is scaled wrong in the program: at ${short(process)} ${unit} it shows ${short(process + error)}, ${short(Math.abs(error))} too ${error > 0 ? 'much' : 'little'}. Right is ${factColumns.scaling.word({ scaling: rounded(right) })}.`,
    fixes: ({ right }, { id }) => [
      {
        label: 'Note the right scaling',
        command: { type: 'editSignals', edits: [{ id, facts: { scaling: rounded(right) } }] },
      },
    ],
  }),

  stationRule<{ tag: string; is: RawType; reads: RawType; example: string }>({
    code: 'signal.readAs',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal,
        chain: { format },
        knowsFormat,
        at,
      } of chains(scope)) {
        const reads = signal.facts.readAs
        if (!knowsFormat || reads === undefined || reads === format.type) continue
        const large = format.type === 'REAL' ? null : Math.min(65_520, typeBounds[format.type][1])
        const counts = format.type === 'INT' || format.type === 'DINT' ? -16 : large
        const shown = counts === null ? null : readAs(counts, format.type, reads)
        yield {
          at,
          facts: {
            tag: signal.tag,
            is: format.type,
            reads,
            example:
              shown === null
                ? 'other octets are read than are sent'
                : `${counts} shows as ${shown}`,
          },
        }
      }
    },
    say: ({ tag, is, reads, example }, at) =>
      `${nameOf(tag)} at ${at.words} is sent as ${is} and read as ${reads}: ${example}.`,
    fixes: ({ is }, { id }) => [
      {
        label: `Read it as ${is}`,
        command: { type: 'editSignals', edits: [{ id, facts: { readAs: is } }] },
      },
    ],
  }),

  stationRule<{
    tag: string
    wires: number
    supply: string
    fault: 'none' | 'two'
    feeds: boolean | undefined
  }>({
    code: 'signal.supply',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal: {
          tag,
          facts: { wires, supply },
        },
        module,
        channel,
        at,
      } of knownSignals(scope)) {
        if (
          channel.kind !== 'analog' ||
          channel.direction !== 'in' ||
          wires === undefined ||
          supply === undefined
        )
          continue
        const fault =
          wires === 2 && supply === 'device'
            ? 'none'
            : wires === 4 && supply !== 'device'
              ? 'two'
              : null
        if (fault)
          yield {
            at,
            facts: { tag, wires, supply, fault, feeds: electricalOf(module.described).feeds },
          }
      }
    },
    say: ({ tag, supply, fault }, at) =>
      fault === 'none'
        ? `${nameOf(tag)} at ${at.words} has two wires and no supply: feed it from the channel or with 24 V in series.`
        : `${nameOf(tag)} at ${at.words} drives its loop itself, and ${supply === 'channel' ? 'the channel' : 'an external supply'} feeds it too: only one may.`,
    fixes: ({ fault, feeds }, { id }) =>
      fault === 'none'
        ? suppliedBy(id, feeds)
        : [
            {
              label: 'Fed by the device',
              command: { type: 'editSignals', edits: [{ id, facts: { supply: 'device' } }] },
            },
          ],
  }),

  stationRule<{ tag: string; feeds: boolean | undefined }>({
    code: 'signal.supplyUnknown',
    severity: 'warning',
    find: function* (scope) {
      for (const { signal, module, channel, at } of knownSignals(scope)) {
        const {
          tag,
          facts: { wires, supply, transmitter },
        } = signal
        if (
          channel.kind !== 'analog' ||
          channel.direction !== 'in' ||
          wires !== 2 ||
          supply !== undefined
        )
          continue
        const range =
          (transmitter === undefined ? null : readRange(transmitter)) ??
          rangeOf(scope, signal, module, channel)?.range
        if (range?.kind === 'current')
          yield { at, facts: { tag, feeds: electricalOf(module.described).feeds } }
      }
    },
    say: ({ tag, feeds }, at) =>
      `It is not known what feeds the two-wire loop of ${nameOf(tag)} at ${at.words}${feeds === false ? '; the channel feeds nothing' : ''}.`,
    fixes: ({ feeds }, { id }) => suppliedBy(id, feeds),
  }),

  stationRule<{
    tag: string
    can: boolean
    moduleId: string
    record: string
    parameter: string
    on: number | null
  }>({
    code: 'signal.wireBreak',
    severity: 'note',
    find: function* (scope) {
      for (const { signal, chain, channel, module, at } of chains(scope)) {
        const [given, taken] = [spanOf(chain.transmitter), spanOf(chain.channel)]
        if (chain.transmitter.kind !== 'current' || given?.low !== 4 || !taken) continue
        const setting = settingsOf(
          scope.catalog,
          scope.view,
          module,
          channel,
          scope.project.meanings,
        ).get('wireBreak')
        const isOff = setting && Number(setting.value) === 0
        const sees = taken.low === 4
        if (setting && isOff && sees)
          yield {
            at,
            facts: {
              tag: signal.tag,
              can: true,
              moduleId: module.id,
              record: setting.placed.key,
              parameter: setting.parameter.key,
              on: 1,
            },
          }
        else if (!sees)
          yield {
            at,
            facts: {
              tag: signal.tag,
              can: false,
              moduleId: '',
              record: '',
              parameter: '',
              on: null,
            },
          }
      }
    },
    say: ({ tag, can }, at) =>
      can
        ? `Wire-break diagnosis of ${nameOf(tag)} at ${at.words} is off; with 4…20 mA a broken wire can be told.`
        : `No channel that begins at 0 mA tells a broken wire of ${nameOf(tag)} at ${at.words}; watch for less than 3.6 mA in the program.`,
    fixes: ({ can, moduleId, record, parameter, on }) =>
      can
        ? [
            {
              label: 'Switch it on',
              command: {
                type: 'setParameters',
                edits: [{ moduleId, record, parameter, value: on }],
              },
            },
          ]
        : [],
  }),
]

export const planSignalRules = [
  planRule<{ tag: string; partner: string }>({
    code: 'signal.partner',
    severity: 'warning',
    find: function* ({ derived: { plan }, indexes }) {
      for (const { signals } of Object.values(plan.stations)) {
        for (const { id, tag, facts } of signalsWithPartner(signals)) {
          if (!indexes.tags.has(tagIdentity(facts.partner!)))
            yield {
              at: { kind: 'signal', id, words: nameOf(tag) },
              facts: { tag, partner: facts.partner! },
            }
        }
      }
    },
    say: ({ tag, partner }) => `${nameOf(tag)} belongs to ${partner}, and there is no such signal.`,
    fixes: (_, { id }) => [
      {
        label: 'It belongs to nothing',
        command: { type: 'editSignals', edits: [{ id, facts: { partner: null } }] },
      },
    ],
  }),
]

/** Who can feed a loop, by what its channel does. */
function suppliedBy(id: string, feeds: boolean | undefined): Fix[] {
  const fix = (label: string, supply: 'channel' | 'external'): Fix => ({
    label,
    command: { type: 'editSignals', edits: [{ id, facts: { supply } }] },
  })
  return [
    ...(feeds === false ? [] : [fix('Fed by the channel', 'channel')]),
    fix('Fed by 24 V in series', 'external'),
  ]
}

export interface KnownSignal {
  readonly signal: SignalRow
  readonly module: DerivedModule
  readonly channel: Channel
  readonly at: FindingPlace
}

const known = new WeakMap<DerivedStation, readonly KnownSignal[]>()

/** Signals of which something is known, with their channels; looked for once for each state of a
 *  station, since most plans have a hundred thousand of which nothing is. */
export function knownSignals({ view }: StationScope): readonly KnownSignal[] {
  let found = known.get(view)
  if (!found) known.set(view, (found = [...knownIn(view)]))
  return found
}

function* knownIn(view: DerivedStation): Generator<KnownSignal> {
  for (const module of view.modules) {
    if (!module.layout || module.signals.size === 0) continue
    let channels: Map<number, Channel> | null = null
    for (const [key, signal] of module.signals) {
      if (isEmpty(signal.facts)) continue
      channels ??= new Map(module.layout.channels.map((channel) => [placeKey(channel), channel]))
      const channel = channels.get(key)
      if (channel)
        yield {
          signal,
          module,
          channel,
          at: { ...atModule(view, module), kind: 'signal', id: signal.id },
        }
    }
  }
}

function rangeOf(
  { catalog, view, project }: StationScope,
  signal: SignalRow,
  module: DerivedModule,
  channel: Channel,
): ChannelRange | null {
  return rangeOfChannel(
    settingsOf(catalog, view, module, channel, project.meanings),
    electricalOfChannel(module.described, channel),
    signal.facts,
  )
}

type KnownChain = KnownSignal & { readonly chain: Chain; readonly knowsFormat: boolean }
const chained = new WeakMap<StationScope, readonly KnownChain[]>()

/** The chains of signals of which enough is entered; several rules look at them. */
function chains(scope: StationScope): readonly KnownChain[] {
  let found = chained.get(scope)
  if (!found) chained.set(scope, (found = [...chainsIn(scope)]))
  return found
}

function* chainsIn(scope: StationScope): Generator<KnownChain> {
  for (const one of knownSignals(scope)) {
    const { signal, module, channel } = one
    const { transmitter, scaling, readAs } = signal.facts
    if (transmitter === undefined && scaling === undefined && readAs === undefined) continue
    const found = chainOf(scope.catalog, scope.project, scope.view, module, channel, signal)
    if (typeof found !== 'string') yield { ...one, ...found }
  }
}

/** Facts that only a measured or set value has, and those of one that switches. */
const analogFacts = [
  'low',
  'high',
  'unit',
  'transmitter',
  'characteristic',
  'coldEnd',
  'scaling',
  'readAs',
] as const
const digitalFacts = ['switching', 'pulseMs'] as const

/** The kind that a signal's facts speak of where it stands on the other one; null: nothing speaks
 *  against its channel. */
function impliedKind({ facts }: SignalRow, { kind, direction, bits }: Channel): string | null {
  const side = direction === 'in' ? 'I' : 'O'
  if (bits === 1 && analogFacts.some((fact) => facts[fact] !== undefined)) return `A${side}`
  if (kind === 'analog' && digitalFacts.some((fact) => facts[fact] !== undefined)) return `D${side}`
  return null
}

function short(value: number): string {
  return String(Number(value.toPrecision(4)))
}

function rounded({ rawLow, rawHigh, low, high }: Scaling): Scaling {
  return {
    rawLow: Number(rawLow.toPrecision(9)),
    rawHigh: Number(rawHigh.toPrecision(9)),
    low,
    high,
  }
}
