import { electricalOf, entityOf, filterFor, inputDelay } from '../signals/electrical'
import { entityCheck } from '../signals/entity'
import { settingsOf } from '../signals/channel-settings'
import { takesNot } from '../signals/wiring'
import { atModule, nameOf, stationRule } from './finding'
import { knownSignals } from './signal-rules'

/** Rules about signals against what the channels are electrically; they say nothing of modules of
 *  which nobody said it. */
export const electricalRules = [
  stationRule<{ tag: string; switching: 'pnp' | 'npn' }>({
    code: 'signal.switching',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal: {
          tag,
          facts: { switching },
        },
        module,
        channel,
        at,
      } of knownSignals(scope)) {
        if (
          channel.kind === 'digital' &&
          channel.direction === 'in' &&
          (switching === 'pnp' || switching === 'npn') &&
          takesNot(electricalOf(module.described), switching)
        )
          yield { at, facts: { tag, switching } }
      }
    },
    say: ({ tag, switching }, at) =>
      switching === 'npn'
        ? `${nameOf(tag)} at ${at.words} comes from a sensor that sinks (npn), and its input takes sensors that source (pnp) only.`
        : `${nameOf(tag)} at ${at.words} comes from a sensor that sources (pnp), and its input takes sensors that sink (npn) only.`,
    fixes: (_, { id }) => [
      {
        label: 'Remove from the channel',
        command: { type: 'editSignals', edits: [{ id, place: null }] },
      },
    ],
  }),

  stationRule<{
    tag: string
    pulse: number
    delay: number
    edit: {
      moduleId: string
      record: string
      parameter: string
      value: number
      words: string
    } | null
  }>({
    code: 'signal.filter',
    severity: 'warning',
    find: function* (scope) {
      for (const {
        signal: {
          tag,
          facts: { pulseMs },
        },
        module,
        channel,
        at,
      } of knownSignals(scope)) {
        if (pulseMs === undefined || channel.direction !== 'in') continue
        const settings = settingsOf(
          scope.catalog,
          scope.view,
          module,
          channel,
          scope.project.meanings,
        )
        const delay = inputDelay(settings, electricalOf(module.described))
        if (delay === null || delay < pulseMs) continue
        const filter = settings.get('filter')
        const value = filter ? filterFor(filter.parameter, pulseMs) : null
        yield {
          at,
          facts: {
            tag,
            pulse: pulseMs,
            delay,
            edit:
              filter && value !== null
                ? {
                    moduleId: module.id,
                    record: filter.placed.key,
                    parameter: filter.parameter.key,
                    value,
                    words: filter.parameter.texts[String(value)]!,
                  }
                : null,
          },
        }
      }
    },
    say: ({ tag, pulse, delay }, at) =>
      `${nameOf(tag)} at ${at.words} has pulses of ${pulse} ms, and its input counts only what holds for ${delay} ms: they are missed.`,
    fixes: ({ edit }) =>
      edit
        ? [
            {
              label: `Filter ${edit.words}`,
              command: {
                type: 'setParameters',
                edits: [
                  {
                    moduleId: edit.moduleId,
                    record: edit.record,
                    parameter: edit.parameter,
                    value: edit.value,
                  },
                ],
              },
            },
          ]
        : [],
  }),

  stationRule<{ tag: string; takes: number; gives: number; when: 'lasting' | 'starting' }>({
    code: 'signal.load',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal: { tag, facts },
        module,
        channel,
        at,
      } of knownSignals(scope)) {
        if (channel.kind !== 'digital' || channel.direction !== 'out') continue
        const { loadMa, inrushMa } = electricalOf(module.described)
        if (facts.loadMa !== undefined && loadMa !== undefined && facts.loadMa > loadMa)
          yield { at, facts: { tag, takes: facts.loadMa, gives: loadMa, when: 'lasting' } }
        else if (facts.inrushMa !== undefined && facts.inrushMa > (inrushMa ?? loadMa ?? Infinity))
          yield {
            at,
            facts: { tag, takes: facts.inrushMa, gives: inrushMa ?? loadMa!, when: 'starting' },
          }
      }
    },
    say: ({ tag, takes, gives, when }, at) =>
      `${nameOf(tag)} at ${at.words} takes ${takes} mA${when === 'starting' ? ' while it starts' : ''}; its output gives ${gives} mA at most. Put a relay between them.`,
  }),

  stationRule<{ tag: string; wires: number | undefined }>({
    code: 'signal.fed',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal: {
          tag,
          facts: { supply, wires },
        },
        module,
        channel,
        at,
      } of knownSignals(scope)) {
        if (
          channel.kind === 'analog' &&
          channel.direction === 'in' &&
          supply === 'channel' &&
          wires !== 4 &&
          electricalOf(module.described).feeds === false
        )
          yield { at, facts: { tag, wires } }
      }
    },
    say: ({ tag }, at) =>
      `${nameOf(tag)} at ${at.words} is to be fed by its channel, and that feeds nothing.`,
    fixes: (_, { id }) => [
      {
        label: 'Fed by 24 V in series',
        command: { type: 'editSignals', edits: [{ id, facts: { supply: 'external' } }] },
      },
    ],
  }),

  stationRule<{ tag: string }>({
    code: 'signal.hart',
    severity: 'warning',
    find: function* (scope) {
      for (const {
        signal: { tag, facts },
        module,
        at,
      } of knownSignals(scope))
        if (facts.hart && electricalOf(module.described).hart === false)
          yield { at, facts: { tag } }
    },
    say: ({ tag }, at) =>
      `${nameOf(tag)} at ${at.words} speaks HART, and its channel carries none.`,
    fixes: (_, { id }) => [
      {
        label: 'Do without HART',
        command: { type: 'editSignals', edits: [{ id, facts: { hart: false } }] },
      },
    ],
  }),

  stationRule<{ tag: string }>({
    code: 'signal.intrinsic',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal: { tag, facts },
        module,
        at,
      } of knownSignals(scope))
        if (facts.ex && electricalOf(module.described).intrinsicallySafe === false)
          yield { at, facts: { tag } }
    },
    say: ({ tag }, at) =>
      `${nameOf(tag)} is to be intrinsically safe, and the channel at ${at.words} is not.`,
    fixes: (_, { id }) => [
      {
        label: 'Remove from the channel',
        command: { type: 'editSignals', edits: [{ id, place: null }] },
      },
    ],
  }),

  stationRule<{ safe: string; ordinary: string }>({
    code: 'signal.apart',
    severity: 'warning',
    find: function* (scope) {
      const safe = new Map<string, string>()
      for (const { signal, module } of knownSignals(scope))
        if (signal.facts.ex) safe.set(module.id, signal.tag)
      for (const module of scope.view.modules) {
        const ordinary = safe.has(module.id)
          ? [...module.signals.values()].find(({ facts }) => !facts.ex)
          : undefined
        if (ordinary)
          yield {
            at: atModule(scope.view, module),
            facts: { safe: safe.get(module.id)!, ordinary: ordinary.tag },
          }
      }
    },
    say: ({ safe, ordinary }, at) =>
      `${at.words} has intrinsically safe circuits (${nameOf(safe)}) beside ordinary ones (${nameOf(ordinary)}); they are kept apart.`,
  }),

  stationRule<{ tag: string; unmet: string }>({
    code: 'signal.entity',
    severity: 'blocker',
    find: function* (scope) {
      for (const {
        signal: { tag, facts },
        module,
        at,
      } of knownSignals(scope)) {
        const circuit = entityOf(module.described, facts)
        const unmet = circuit ? entityCheck(circuit).lines.filter(({ isMet }) => !isMet) : []
        if (unmet.length > 0)
          yield { at, facts: { tag, unmet: unmet.map(({ words }) => words).join('; ') } }
      }
    },
    say: ({ tag, unmet }, at) =>
      `The circuit of ${nameOf(tag)} at ${at.words} is not intrinsically safe; not met is: ${unmet}.`,
  }),
]
