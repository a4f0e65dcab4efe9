import { oneOr, plural } from '../vocabulary/plural'
import { parameterGroups } from '../parameters/groups'
import { faultOf } from '../parameters/record'
import { recordsOfPlaced } from '../parameters/placed'
import { computedFParameters } from '../parameters/f-parameters'
import { choicesOf } from '../safety/modules'
import { signalOn } from '../derive/derive'
import {
  canSwitchOff,
  offSwitchOf,
  rangesOf,
  settingsOf,
  unusedOff,
} from '../signals/channel-settings'
import { isEmpty } from '../vocabulary/records'
import { readRange, sameRange } from '../vocabulary/electrical-range'
import { atModule, atStation, nameOf, stationRule, type Fix } from './finding'

/** Rules about parameter values that need nothing but one station. */
export const parameterRules = [
  stationRule<{ moduleId: string; record: string; parameter: string; why: string }>({
    code: 'parameter.illegal',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      for (const module of view.modules) {
        const { values } = choicesOf(view, module)
        if (!module.described || isEmpty(values)) continue
        const records = recordsOfPlaced(
          catalog,
          view.station.file,
          module.described,
          module.plugged,
        )
        for (const [key, chosen] of Object.entries(values)) {
          const placed = records.find((one) => one.key === key)
          for (const [name, value] of Object.entries(chosen)) {
            const parameter = placed?.record.parameters.find((one) => one.key === name)
            const why = !parameter
              ? `its description knows no parameter "${name}" in record ${key}, which is set to ${value}`
              : placed!.isFailSafe && computedFParameters.has(name)
                ? `${name} is set by hand and follows from the others`
                : faultOf(parameter, value)?.message.replace(/\.$/, '')
            if (why)
              yield {
                at: atModule(view, module),
                facts: { moduleId: module.id, record: key, parameter: name, why },
              }
          }
        }
      }
    },
    say: ({ why }, at) => `${at.words}: ${why}. The value is kept and not sent.`,
    fixes: ({ moduleId, record, parameter }) => [
      {
        label: 'Set it as the description says',
        command: { type: 'setParameters', edits: [{ moduleId, record, parameter, value: null }] },
      },
    ],
  }),

  stationRule<{
    moduleId: string
    record: string
    parameter: string
    name: string
    hidden: string
  }>({
    code: 'parameter.unused',
    severity: 'note',
    find: function* ({ view, catalog }) {
      for (const module of view.modules) {
        const { values } = choicesOf(view, module)
        if (!module.described || isEmpty(values)) continue
        for (const { rows } of parameterGroups(
          recordsOfPlaced(catalog, view.station.file, module.described, module.plugged),
          values,
        )) {
          for (const { placed, parameter, hidden } of rows)
            if (hidden !== null)
              yield {
                at: atModule(view, module),
                facts: {
                  moduleId: module.id,
                  record: placed.key,
                  parameter: parameter.key,
                  name: parameter.name || parameter.key,
                  hidden,
                },
              }
        }
      }
    },
    say: ({ name, hidden }, at) =>
      `${name} of ${at.words} is set, but the device does not use it as things are: ${hidden}.`,
    fixes: ({ moduleId, record, parameter }) => [
      {
        label: 'Set it as the description says',
        command: { type: 'setParameters', edits: [{ moduleId, record, parameter, value: null }] },
      },
    ],
  }),

  stationRule<{ count: number }>({
    code: 'channels.unusedOn',
    severity: 'note',
    find: function* ({ view, catalog, project }) {
      const count = unusedOff(catalog, view, project.meanings).length
      if (count > 0) yield { at: atStation(view), facts: { count } }
    },
    say: ({ count }, at) =>
      `${oneOr(count, 'One channel', 'channels')} of ${at.words} without a signal could be switched off, so that ${plural(count, 'it reports', 'they report')} no faults.`,
    fixes: (_, __, { view, catalog, project }) => [
      {
        label: 'Switch them off',
        command: { type: 'setParameters', edits: unusedOff(catalog, view, project.meanings) },
      },
    ],
  }),

  stationRule<{
    tag: string
    edit: { moduleId: string; record: string; parameter: string; value: number } | null
  }>({
    code: 'signal.channelOff',
    severity: 'blocker',
    find: function* ({ view, catalog, project }) {
      for (const module of view.modules) {
        if (module.signals.size === 0 || !canSwitchOff(catalog, view, module, project.meanings))
          continue
        for (const channel of module.layout!.channels) {
          const signal = signalOn(module, channel)
          const found =
            signal && offSwitchOf(settingsOf(catalog, view, module, channel, project.meanings))
          if (!signal || !found?.isOff) continue
          const { setting } = found
          const given =
            signal.facts.transmitter === undefined ? null : readRange(signal.facts.transmitter)
          const value =
            found.on ??
            (given && setting.meaning === 'range'
              ? rangesOf(setting).find(({ range }) => sameRange(range, given))?.value
              : null) ??
            null
          yield {
            at: { ...atModule(view, module), kind: 'signal', id: signal.id },
            facts: {
              tag: signal.tag,
              edit:
                value === null
                  ? null
                  : {
                      moduleId: module.id,
                      record: setting.placed.key,
                      parameter: setting.parameter.key,
                      value,
                    },
            },
          }
        }
      }
    },
    say: ({ tag }, at) => `${nameOf(tag)} sits on a channel of ${at.words} that is switched off.`,
    fixes: ({ edit }, { id }) => [
      ...(edit
        ? [
            {
              label: 'Switch it on',
              command: { type: 'setParameters', edits: [edit] },
            } satisfies Fix,
          ]
        : []),
      {
        label: 'Remove from the channel',
        command: { type: 'editSignals', edits: [{ id, place: null }] },
      },
    ],
  }),
]
