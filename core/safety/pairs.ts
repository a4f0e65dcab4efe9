import type { Parameter } from '../catalog/model'
import { signalOn, type DerivedModule } from '../derive/derive'
import { menuPath } from '../parameters/menus'
import type { PlacedRecord } from '../parameters/placed'
import type { ParameterChoices } from '../plan/model'

/** Two channels of a fail-safe module that a device evaluates together, as its description words it. */
export interface ChannelPair {
  readonly channels: readonly [number, number]
  readonly evaluation: 'single' | 'equivalent' | 'antivalent' | 'off'
  readonly supplyIsExternal: boolean
  readonly testsShortCircuit: boolean
  /** Where the test is set, for its fix. */
  readonly test: { readonly record: string; readonly parameter: Parameter } | null
}

const heading = /\b(?:channels?|inputs?)\s*(\d+)\s*(?:and|&|,|\/|\+)\s*(\d+)/i
/** What a value of the evaluation means, by the words of its text (common practice). */
const evaluations: readonly (readonly [RegExp, ChannelPair['evaluation']])[] = [[/antivalent|opposite|complement/i, 'antivalent'], [/equivalent|alike|same|pair|1oo2|one of two/i, 'equivalent'], [/\boff\b|disabled|not used/i, 'off'], [/single|alone|1oo1|each/i, 'single']]

/** Pairs of a submodule, recognised by the menus that name two channels and by the texts of their values. */
export function channelPairs(records: readonly PlacedRecord[], values: ParameterChoices): ChannelPair[] {
  return records.filter(({ isSafety, isFailSafe }) => isSafety && !isFailSafe).flatMap((placed) => {
    const groups = new Map<string, Parameter[]>()
    for (const parameter of placed.record.parameters) {
      const menu = menuPath(parameter).at(-1) ?? ''
      if (heading.test(menu)) groups.set(menu, [...(groups.get(menu) ?? []), parameter])
    }
    return [...groups].map(([menu, parameters]): ChannelPair => {
      const [, first, second] = heading.exec(menu)!
      const named = (words: RegExp) => parameters.find(({ name }) => words.test(name))
      const textOf = (parameter: Parameter | undefined) => (parameter ? parameter.texts[String(values[placed.key]?.[parameter.key] ?? parameter.default)] ?? String(values[placed.key]?.[parameter.key] ?? parameter.default) : '')
      const test = named(/short.?circuit|cross.?circuit|test pulse/i)
      return {
        channels: [Number(first), Number(second)],
        evaluation: evaluations.find(([words]) => words.test(textOf(named(/evaluation/i))))?.[1] ?? 'single',
        supplyIsExternal: /external/i.test(textOf(named(/supply/i))),
        testsShortCircuit: test !== undefined && /^(on|yes|active|enabled|1)\b/i.test(textOf(test)),
        test: test ? { record: placed.key, parameter: test } : null,
      }
    })
  })
}

/** Which of a pair's channels carry a signal; channels are told by the number in their name. */
export function usedOfPair(module: DerivedModule, { channels }: ChannelPair): number[] {
  return channels.filter((number) => module.layout?.channels.some((channel) => Number(/(\d+)\s*$/.exec(channel.name)?.[1] ?? -1) === number && signalOn(module, channel) !== null))
}
