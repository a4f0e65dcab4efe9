import { safetyConfigurationOf, safetyNetworkNumberOf } from '../protocols/ethernet-ip/safety'
import { protocolOf } from '../protocols/registry'
import { recordsOfPlaced } from '../parameters/placed'
import { timeBasedNetworkNumber } from '../safety/cip'
import { freeDestination } from '../safety/destinations'
import {
  choicesOf,
  failSafeParts,
  safetySignature,
  isConfigurationStale,
  type FailSafePart,
} from '../safety/modules'
import {
  channelOfPair,
  channelPairs,
  isEvaluatedTogether,
  pairableChannels,
  type ChannelPair,
} from '../safety/pairs'
import { signalOn, type DerivedModule, type DerivedStation } from '../derive/derive'
import type { SignalPlace } from '../plan/model'
import { placeOf as dataPlaceOf } from '../vocabulary/data-place'
import {
  atModule,
  atStation,
  nameOf,
  planRule,
  stationRule,
  type FindingPlace,
  type StationScope,
} from './finding'

/** Fail-safe modules of one station: check sums, watchdogs, pairs of channels. */
export const stationSafetyRules = [
  stationRule<{ address: number }>({
    code: 'safety.destination',
    severity: 'blocker',
    find: function* (scope) {
      for (const part of partsIn(scope))
        if (part.f.destinationAddress < 1 || part.f.destinationAddress > 65_534)
          yield { at: placeOf(scope.view, part), facts: { address: part.f.destinationAddress } }
    },
    say: ({ address }, at) =>
      `${at.words} has the F destination address ${address}; it lies from 1 to 65534.`,
  }),

  stationRule<{ is: 'stale' | 'missing'; by: string; at: string }>({
    code: 'safety.iParameterSum',
    severity: 'blocker',
    find: function* (scope) {
      for (const part of partsIn(scope)) {
        if (!part.f.hasIParameterCrc) continue
        const { sum, own } = part
        if (!sum) yield { at: placeOf(scope.view, part), facts: { is: 'missing', by: '', at: '' } }
        else if (sum.over !== own)
          yield { at: placeOf(scope.view, part), facts: { is: 'stale', by: sum.by, at: sum.at } }
      }
    },
    say: ({ is, by, at: when }, at) =>
      is === 'missing'
        ? `${at.words} needs a check sum over its own parameters (F_iPar_CRC); enter what its maker’s tool gives.`
        : `The check sum of ${at.words}, entered by ${by} on ${when.slice(0, 10)}, is stale: parameters changed since. Renew it with the maker’s tool.`,
  }),

  stationRule<{ by: string; at: string }>({
    code: 'safety.configuration',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      const entered = safetyConfigurationOf(view.station)
      if (entered && isConfigurationStale(view, catalog))
        yield { at: atStation(view), facts: entered }
    },
    say: ({ by, at: when }, at) =>
      `The configuration signature of ${at.words}, entered by ${by} on ${when.slice(0, 10)}, is stale: its parameters changed since. Enter what the maker’s tool gives now.`,
  }),

  stationRule<SecondOfPair>({
    code: 'safety.halfPair',
    severity: 'warning',
    find: (scope) => secondsOfPairs(scope, false),
    say: ({ tag, first, second }, at) =>
      `${nameOf(tag)} sits on channel ${second} of ${at.words}, the second of a pair: the value stands at channel ${first}, where no signal is.`,
    fixes: ({ first, place }, { id }) => [
      {
        label: `Put it on channel ${first}`,
        command: { type: 'editSignals', edits: [{ id, place }] },
      },
    ],
  }),

  stationRule<SecondOfPair>({
    code: 'safety.secondOfPair',
    severity: 'note',
    find: (scope) => secondsOfPairs(scope, true),
    say: ({ tag, first, second }, at) =>
      `${nameOf(tag)} sits on channel ${second} of ${at.words}, the second of a pair: it stays 0, the value stands at channel ${first}.`,
    fixes: (_, { id }) => [
      {
        label: 'Remove from the channel',
        command: { type: 'editSignals', edits: [{ id, place: null }] },
      },
    ],
  }),

  stationRule<{
    channels: readonly number[]
    moduleId: string
    record: string
    parameter: string
    off: number | null
  }>({
    code: 'safety.testExternal',
    severity: 'warning',
    find: function* (scope) {
      const { view } = scope
      for (const { module, pair } of pairsIn(scope)) {
        if (
          pair.evaluation === 'off' ||
          !pair.supplyIsExternal ||
          !pair.testsShortCircuit ||
          !pair.test
        )
          continue
        const off = Object.entries(pair.test.parameter.texts).find(([, text]) =>
          /^(off|no|disabled|inactive)\b/i.test(text),
        )?.[0]
        yield {
          at: atModule(view, module),
          facts: {
            channels: pair.channels,
            moduleId: module.id,
            record: pair.test.record,
            parameter: pair.test.parameter.key,
            off: off === undefined ? null : Number(off),
          },
        }
      }
    },
    say: ({ channels }, at) =>
      `${at.words} tests channels ${channels.join(' and ')} for short circuits, but their sensors have another supply; the test only works with the module’s own.`,
    fixes: ({ moduleId, record, parameter, off }) =>
      off === null
        ? []
        : [
            {
              label: 'Switch the test off',
              command: {
                type: 'setParameters',
                edits: [{ moduleId, record, parameter, value: off }],
              },
            },
          ],
  }),

  stationRule<Record<string, never>>({
    code: 'safety.noWatchdog',
    severity: 'blocker',
    find: function* (scope) {
      for (const part of partsIn(scope))
        if (part.f.watchdogMs === 0) yield { at: placeOf(scope.view, part), facts: {} }
    },
    say: (_, at) =>
      `${at.words} has the monitoring time 0 ms (F_WD_Time); it lies from 1 to 65535 ms.`,
  }),

  stationRule<{ watchdogMs: number; leastMs: number }>({
    code: 'safety.watchdog',
    severity: 'warning',
    find: function* (scope) {
      const { device } = scope.view
      const updateMs = ((device && protocolOf(device).leastCycleUs?.(device)) ?? 0) / 1000
      for (const part of partsIn(scope)) {
        if (part.f.watchdogMs > 0 && part.f.watchdogMs <= 2 * updateMs)
          yield {
            at: placeOf(scope.view, part),
            facts: { watchdogMs: part.f.watchdogMs, leastMs: 2 * updateMs },
          }
      }
    },
    say: ({ watchdogMs, leastMs }, at) =>
      `The monitoring time of ${at.words} is ${watchdogMs} ms; it must be longer than twice the shortest update time, which is ${leastMs} ms, plus what device and controller need.`,
  }),
]

/** Rules that compare fail-safe modules of the whole plan. */
export const planSafetyRules = [
  planRule<{ address: number; others: string }>({
    code: 'safety.destinationDuplicate',
    severity: 'blocker',
    find: function* ({ indexes }) {
      for (const value of indexes.destinations.shared) {
        const [first, ...others] = indexes.destinations.usersOf(value)
        if (!first) continue
        for (const other of others)
          yield {
            at: placeOf(other.view, other.part),
            facts: {
              address: other.part.f.destinationAddress,
              others: placeOf(first.view, first.part).words,
            },
          }
      }
    },
    say: ({ address, others }, at) =>
      `${at.words} has the F destination address ${address}, which ${others} has too; each must be its own.`,
    fixes: (_, at, { derived, indexes }) => {
      const view = derived.stations.get(at.stationId ?? '')
      const part =
        view && failSafeParts(view, derived.catalog).find(({ module }) => module.id === at.id)
      const free = freeDestination(
        (address) => indexes.destinations.has(String(address)),
        part?.placed.record.parameters.find(({ key }) => key === 'F_Dest_Add')?.allowed ?? [],
      )
      return part && free !== null
        ? [
            {
              label: `Give it the next free address, ${free}`,
              command: {
                type: 'setParameters',
                edits: [
                  {
                    moduleId: part.module.id,
                    record: part.placed.key,
                    parameter: 'F_Dest_Add',
                    value: free,
                  },
                ],
              },
            },
          ]
        : []
    },
  }),

  planRule<{ number: string; other: string }>({
    code: 'safety.networkNumber',
    severity: 'blocker',
    find: function* ({ derived }) {
      const seen = new Map<string, string>()
      for (const network of Object.values(derived.plan.networks)) {
        const { id, name } = network
        const number = safetyNetworkNumberOf(network)
        if (number === '') continue
        const other = seen.get(number)
        if (other !== undefined)
          yield { at: { kind: 'network', id, words: name }, facts: { number, other } }
        else seen.set(number, name)
      }
    },
    say: ({ number, other }, at) =>
      `${at.words} has the safety network number ${number}, which ${other} has too; each network needs its own.`,
    fixes: (_, at) => [
      {
        label: 'Give it one by the time',
        command: {
          type: 'updateNetwork',
          id: at.id,
          set: { settings: { safetyNetworkNumber: timeBasedNetworkNumber(new Date()) } },
        },
      },
    ],
  }),

  planRule<{ signature: string; released: string; by: string; at: string }>({
    code: 'safety.changed',
    severity: 'note',
    find: function* ({ derived }) {
      const { project } = derived.plan
      if (!project.safetyRelease) return
      const signature = safetySignature(derived) ?? 'nothing fail-safe'
      const { signature: released, by, at } = project.safetyRelease
      if (signature !== released)
        yield {
          at: { kind: 'project', id: project.id, words: project.name },
          facts: { signature, released, by, at },
        }
    },
    say: ({ signature, released, by, at: when }) =>
      `The safety-relevant part of the plan is no longer what ${by} released on ${when.slice(0, 10)}: its signature was ${released.slice(0, 8)} and is ${signature.slice(0, 8)}.`,
  }),
]

function partsIn({ view, catalog }: StationScope): readonly FailSafePart[] {
  return failSafeParts(view, catalog)
}

function placeOf(view: DerivedStation, { module, placed }: FailSafePart): FindingPlace {
  const place = module.row ? atModule(view, module) : atStation(view)
  return placed.subslot === null || placed.subslot === 1
    ? place
    : { ...place, words: `${place.words}, subslot ${placed.subslot}` }
}

interface SecondOfPair {
  readonly tag: string
  readonly first: number
  readonly second: number
  /** Of the first channel. */
  readonly place: SignalPlace
}

/** Signals on the second channel of a pair, where the first one carries a signal too, or where it
 *  does not. */
function* secondsOfPairs(
  scope: StationScope,
  isFirstUsed: boolean,
): Iterable<{ at: FindingPlace; facts: SecondOfPair }> {
  for (const { module, pair } of pairsIn(scope)) {
    const [first, second] = pair.channels
    const [partner, channel] = [channelOfPair(module, first), channelOfPair(module, second)]
    const signal = channel && signalOn(module, channel)
    if (
      !isEvaluatedTogether(pair) ||
      !signal ||
      !partner ||
      (signalOn(module, partner) !== null) !== isFirstUsed
    )
      continue
    yield {
      at: { ...atModule(scope.view, module), kind: 'signal', id: signal.id },
      facts: {
        tag: signal.tag,
        first,
        second,
        place: { moduleId: module.id, ...dataPlaceOf(partner) },
      },
    }
  }
}

/** Channel pairs of the fail-safe modules of a station. */
function* pairsIn({
  view,
  catalog,
  project,
}: StationScope): Iterable<{ module: DerivedModule; pair: ChannelPair }> {
  for (const module of new Set(failSafeParts(view, catalog).map((part) => part.module))) {
    const records = recordsOfPlaced(catalog, view.station.file, module.described!, module.plugged)
    for (const pair of channelPairs(
      records,
      choicesOf(view, module).values,
      project.meanings,
      pairableChannels(module),
    ))
      yield { module, pair }
  }
}
