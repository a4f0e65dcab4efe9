import type { Derived, DerivedStation } from '../derive/derive'
import { wiredNetworks } from '../networks'
import type { FeedPoint, Id } from '../plan/model'
import {
  consumersOf,
  crossSections,
  isFed,
  ohmPerKm,
  suppliesOf,
  voltageDrop,
  wordConsumer,
  type Fed,
  type Supply,
} from '../power'
import { numbered } from '../vocabulary/plural'
import { atModule, atStation, nameOf, planRule, type Fix } from './finding'

/** Rules about supplies, what hangs on them, and the cables between. They say nothing of a plan
 *  without supplies. */

const amperes = (ma: number) => `${Math.round(ma / 10) / 100} A`
const inVolts = (volts: number) => `${volts.toFixed(1)} V`

const wordFed = (one: Fed) => `${nameOf(one.view.station.name)} (${wordConsumer(one)})`

/** What drops out first when a supply gives no more: the one with the least voltage to spare. */
const wordWeakest = ({ weakest }: Supply) =>
  weakest
    ? ` First to fail: ${wordFed(weakest)}${weakest.startVolts === null ? '' : `, at ${inVolts(weakest.startVolts)}`}.`
    : ''

/** The module that feeds a group, else the station: parts of one station are told apart. */
const atFed = ({ view, module }: Fed) => (module.row ? atModule(view, module) : atStation(view))

function* fedOf({ derived }: { derived: Derived }): Iterable<{ supply: Supply; one: Fed }> {
  for (const supply of suppliesOf(derived)) for (const one of supply.fed) yield { supply, one }
}

/** The smallest cross-section over which a current leaves enough voltage; null where none does. */
function enoughMm2(supplyVolts: number, { feed, minVolts }: Fed, currentMa: number): number | null {
  return (
    crossSections.find(
      (mm2) =>
        mm2 > (feed.mm2 ?? 0) &&
        supplyVolts - voltageDrop(feed.lengthM ?? 0, ohmPerKm(mm2, feed.flexible)!, currentMa) >=
          minVolts,
    ) ?? null
  )
}

interface TooLow {
  readonly supply: string
  readonly point: string
  readonly at: FeedPoint
  readonly cable: string
  readonly volts: number
  readonly needs: number
  readonly mm2: number | null
}

const tooLow = (supply: Supply, one: Fed, volts: number, currentMa: number): TooLow => ({
  supply: supply.view.station.name,
  point: wordConsumer(one),
  at: one.at,
  cable: `${one.feed.lengthM} m of ${one.feed.mm2} mm²`,
  volts,
  needs: one.minVolts,
  mm2: enoughMm2(supply.volts, one, currentMa),
})

const thicker = ({ mm2, at }: TooLow): Fix[] =>
  mm2 === null
    ? []
    : [
        {
          label: `Use ${mm2} mm²`,
          command: { type: 'setFeeds', edits: [{ at, set: { mm2 } }] },
        },
      ]

/** Stations of a network that hang on no supply while others of it do, and the supply that most of
 *  these hang on. */
function unfedOf(stations: readonly DerivedStation[]) {
  const count = new Map<Id, number>()
  for (const { station } of stations)
    if (station.feed) count.set(station.feed.from, (count.get(station.feed.from) ?? 0) + 1)
  const [most] = [...count].sort(([, a], [, b]) => b - a)
  return most
    ? { from: most[0], without: stations.filter(({ station }) => station.feed === null) }
    : null
}

export const powerRules = [
  planRule<{ takesMa: number; givesMa: number; weakest: string }>({
    code: 'supply.overload',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const supply of suppliesOf(derived))
        if (supply.usedMa > supply.source.currentMa)
          yield {
            at: atStation(supply.view),
            facts: {
              takesMa: supply.usedMa,
              givesMa: supply.source.currentMa,
              weakest: wordWeakest(supply),
            },
          }
    },
    say: ({ takesMa, givesMa, weakest }, at) =>
      `${at.words} gives ${amperes(givesMa)}, and ${amperes(takesMa)} hang on it.${weakest}`,
  }),

  planRule<{ takesMa: number; givesMa: number; weakest: string }>({
    code: 'supply.start',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const supply of suppliesOf(derived))
        if (supply.inrushMa > supply.peakMa && supply.usedMa <= supply.source.currentMa)
          yield {
            at: atStation(supply.view),
            facts: {
              takesMa: supply.inrushMa,
              givesMa: supply.peakMa,
              weakest: wordWeakest(supply),
            },
          }
    },
    say: ({ takesMa, givesMa, weakest }, at) =>
      `${at.words} gives ${amperes(givesMa)} for a moment; what hangs on it takes ${amperes(takesMa)} when all start at once.${weakest}`,
  }),

  planRule<{ percent: number }>({
    code: 'supply.reserve',
    severity: 'note',
    find: function* ({ derived }) {
      for (const { view, usedMa, source } of suppliesOf(derived)) {
        const share = usedMa / source.currentMa
        if (share > wiseShare && share <= 1)
          yield { at: atStation(view), facts: { percent: Math.round(share * 100) } }
      }
    },
    say: ({ percent }, at) =>
      `${at.words} is used to ${percent} %; ${wiseShare * 100} % leave a reserve.`,
  }),

  planRule<TooLow>({
    code: 'feed.volts',
    severity: 'blocker',
    find: function* (scope) {
      for (const { supply, one } of fedOf(scope))
        if (one.volts !== null && one.volts < one.minVolts)
          yield {
            at: atFed(one),
            facts: tooLow(supply, one, one.volts, one.needMa),
          }
    },
    say: ({ point, supply, cable, volts, needs }, at) =>
      `${at.words} (${point}) gets ${inVolts(volts)} from ${nameOf(supply)} over ${cable}; it needs ${inVolts(needs)}.`,
    fixes: thicker,
  }),

  planRule<TooLow>({
    code: 'feed.startVolts',
    severity: 'warning',
    find: function* (scope) {
      for (const { supply, one } of fedOf(scope))
        if (one.startVolts !== null && one.startVolts < one.minVolts && one.volts! >= one.minVolts)
          yield {
            at: atFed(one),
            facts: tooLow(supply, one, one.startVolts, one.inrushMa),
          }
    },
    say: ({ point, supply, cable, volts, needs }, at) =>
      `${at.words} (${point}) gets ${inVolts(volts)} from ${nameOf(supply)} over ${cable} while it starts; it needs ${inVolts(needs)}.`,
    fixes: thicker,
  }),

  planRule<{ supply: string; gives: number; takes: number }>({
    code: 'feed.tooHigh',
    severity: 'blocker',
    find: function* (scope) {
      for (const { supply, one } of fedOf(scope))
        if (supply.volts > one.maxVolts)
          yield {
            at: atFed(one),
            facts: {
              supply: supply.view.station.name,
              gives: supply.volts,
              takes: one.maxVolts,
            },
          }
    },
    say: ({ supply, gives, takes }, at) =>
      `${at.words} hangs on ${nameOf(supply)} with ${inVolts(gives)}; it takes ${inVolts(takes)} at most.`,
  }),

  planRule<{ supply: string; points: string[] }>({
    code: 'feed.unsaid',
    severity: 'note',
    find: function* (scope) {
      const unsaid = new Map<DerivedStation, { supply: string; points: string[] }>()
      for (const { supply, one } of fedOf(scope)) {
        if (!one.isUnsaid) continue
        const known = unsaid.get(one.view)
        if (known) known.points.push(wordConsumer(one))
        else
          unsaid.set(one.view, {
            supply: supply.view.station.name,
            points: [wordConsumer(one)],
          })
      }
      for (const [view, facts] of unsaid) yield { at: atStation(view), facts }
    },
    say: ({ supply, points }, at) =>
      `Nothing says what current ${at.words} (${points.join(', ')}) takes of ${nameOf(supply)}; enter it at its supply.`,
  }),

  planRule<{ at: FeedPoint; point: string }>({
    code: 'feed.lost',
    severity: 'warning',
    find: function* ({ derived }) {
      const supplies = new Set(suppliesOf(derived).map(({ view }) => view.id))
      for (const view of derived.stations.values())
        if (isFed(view))
          for (const one of consumersOf(view))
            if (one.feed && !supplies.has(one.feed.from))
              yield { at: atStation(view), facts: { at: one.at, point: wordConsumer(one as Fed) } }
    },
    say: ({ point }, at) => `${at.words} (${point}) hung on a supply that is gone; choose another.`,
    fixes: ({ at }) => [
      { label: 'Hang it on none', command: { type: 'setFeeds', edits: [{ at, set: null }] } },
    ],
  }),

  planRule<{ from: Id; supply: string; ids: Id[] }>({
    code: 'feed.none',
    severity: 'note',
    find: function* ({ derived }) {
      if (suppliesOf(derived).length === 0) return
      for (const { stations, network } of derived.controllers.flatMap(({ networks }) => networks)) {
        const unfed = unfedOf(stations.filter(({ device }) => !device?.source))
        const supply = unfed && derived.stations.get(unfed.from)
        if (unfed && supply && unfed.without.length > 0)
          yield {
            at: { kind: 'network', id: network.id, words: network.name },
            facts: {
              from: unfed.from,
              supply: supply.station.name,
              ids: unfed.without.map(({ id }) => id),
            },
          }
      }
    },
    say: ({ ids }, at) =>
      `${numbered(ids.length, 'station')} of ${at.words} ${ids.length === 1 ? 'hangs' : 'hang'} on no supply, while others do.`,
    fixes: ({ ids, from, supply }) => [
      {
        label: `Hang ${ids.length === 1 ? 'it' : 'them'} on ${nameOf(supply)}`,
        command: {
          type: 'setFeeds',
          edits: ids.map((node) => ({ at: { node }, set: { from } })),
        },
      },
    ],
  }),

  planRule<{ network: string }>({
    code: 'segment.power',
    severity: 'warning',
    find: function* ({ derived }) {
      if (suppliesOf(derived).length === 0) return
      for (const { segments, network } of wiredNetworks(derived)) {
        const views = new Set(segments.flatMap(({ nodes }) => nodes.map(({ view }) => view)))
        if (![...views].some((view) => view?.station.feed)) continue
        for (const { terminators } of segments)
          for (const { view } of terminators)
            if (view && !view.station.feed)
              yield { at: atStation(view), facts: { network: network.name } }
      }
    },
    say: ({ network }, at) =>
      `${at.words} terminates the line of ${network} and hangs on no supply; a terminator needs power.`,
  }),
]

/** Of what a supply gives, up to which nobody needs to think of it (common practice). */
const wiseShare = 0.8
