import type { Derived, DerivedModule, DerivedStation } from '../derive/derive'
import { bindCommand, reconcile, unbindCommand, type DeviceState } from '../placement/reconcile'
import { radioLoad } from '../placement/radio'
import type { SingleCommand } from '../plan/commands'
import { numbered } from '../vocabulary/plural'
import { atModule, atStation, planRule, stationRule, type FindingPlace } from './finding'

interface OddDevice {
  readonly tag: string
  readonly address: string
  readonly why: string
  readonly unbind: SingleCommand
}

/** A state in which a planned device is not where it belongs. */
const oddDevice = (code: string, state: DeviceState) =>
  stationRule<OddDevice>({
    code,
    severity: 'warning',
    find: function* ({ view }) {
      if (!view.station.reported) return
      for (const row of reconcile(view))
        if (row.state === state && row.module)
          yield {
            at: atModule(view, row.module),
            facts: {
              tag: row.planned?.tag ?? '',
              address: row.planned?.address || row.planned?.serial || '',
              why: row.why,
              unbind: unbindCommand(row.module),
            },
          }
    },
    say: ({ tag, address, why }, at) =>
      `The device ${[tag, address].filter(Boolean).join(', ')} of ${at.words} is not where it is planned: ${why}.`,
    fixes: ({ unbind }) => [{ label: 'Unbind it', command: unbind }],
  })

/** Devices below gateways against what these report. */
export const stationDeviceRules = [
  oddDevice('device.elsewhere', 'elsewhere'),
  oddDevice('device.missing', 'missing'),
  stationRule<{ count: number; example: string }>({
    code: 'device.surplus',
    severity: 'note',
    find: function* ({ view }) {
      if (!view.station.reported) return
      const surplus = reconcile(view).filter(({ state }) => state === 'surplus')
      const [first] = surplus
      if (first)
        yield {
          at: atStation(view),
          facts: {
            count: surplus.length,
            example: first.reported!.tag || first.reported!.address || first.reported!.serial,
          },
        }
    },
    say: ({ count, example }, at) =>
      `${at.words} reports ${numbered(count, 'device')} that ${count === 1 ? 'is' : 'are'} planned nowhere below it: ${example}${count > 1 ? ' and others' : ''}.`,
  }),
  stationRule<{ tag: string; command: SingleCommand }>({
    code: 'device.open',
    severity: 'note',
    find: function* ({ view }) {
      if (!view.station.reported) return
      for (const { state, module, reported } of reconcile(view))
        if (state === 'planned' && module && reported)
          yield {
            at: atModule(view, module),
            facts: {
              tag: reported.tag || reported.address || reported.serial,
              command: bindCommand(module, reported),
            },
          }
    },
    say: ({ tag }, at) => `${at.words} is bound to no device; ${tag} answers there.`,
    fixes: ({ command }) => [{ label: 'Bind what answers there', command }],
  }),
  stationRule<{ percent: number }>({
    code: 'device.radioFull',
    severity: 'blocker',
    find: function* ({ view }) {
      const load = radioLoad(view)
      if (load && load.share > 1 + 1e-9)
        yield { at: atStation(view), facts: { percent: Math.ceil(load.share * 100) } }
    },
    say: ({ percent }, at) =>
      `The radio of ${at.words} is used to ${percent} %: its devices send more often than it has room for.`,
  }),
  stationRule<{ everyS: number; fastestS: number }>({
    code: 'device.tooFast',
    severity: 'blocker',
    find: function* ({ view }) {
      const load = radioLoad(view)
      for (const module of load?.tooFast ?? [])
        yield {
          at: atModule(view, module),
          facts: { everyS: module.row!.sendsEveryS!, fastestS: load!.fastestS },
        }
    },
    say: ({ everyS, fastestS }, at) =>
      `The device of ${at.words} sends every ${everyS} s; its gateway takes ${fastestS} s or slower.`,
    fixes: ({ fastestS }, { id }) => [
      {
        label: `Send every ${fastestS} s`,
        command: { type: 'setSendTimes', edits: [{ moduleId: id, seconds: fastestS }] },
      },
    ],
  }),
]

const traits = ['tag', 'address', 'serial'] as const
const traitWords = { tag: 'tag', address: 'address', serial: 'serial number' } as const

export const planDeviceRules = [
  planRule<{
    trait: keyof typeof traitWords
    value: string
    others: string
    unbind: SingleCommand
  }>({
    code: 'device.twice',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const trait of traits) {
        const first = new Map<string, FindingPlace>()
        for (const { view, module } of devicesOf(derived)) {
          const value = module.row!.identity![trait]
          if (value === '') continue
          const known = first.get(value.toLowerCase())
          if (known)
            yield {
              at: atModule(view, module),
              facts: { trait, value, others: known.words, unbind: unbindCommand(module) },
            }
          else first.set(value.toLowerCase(), atModule(view, module))
        }
      }
    },
    say: ({ trait, value, others }, at) =>
      `The device of ${at.words} has the ${traitWords[trait]} ${value}, which the one of ${others} has too.`,
    fixes: ({ trait, unbind }) =>
      trait === 'tag' ? [] : [{ label: 'Unbind it', command: unbind }],
  }),
]

const withIdentity = new WeakMap<DerivedStation, readonly DerivedModule[]>()
/** Modules of which somebody said who they are; looked for once a station. */
function* devicesOf({
  stations,
}: Derived): Iterable<{ view: DerivedStation; module: DerivedModule }> {
  for (const view of stations.values()) {
    let own = withIdentity.get(view)
    if (!own)
      withIdentity.set(view, (own = view.modules.filter(({ row }) => row?.identity != null)))
    for (const module of own) yield { view, module }
  }
}
