import type { Parameter } from '../catalog/model'
import { signalOn, type DerivedModule } from '../derive/derive'
import { menuPath } from '../parameters/menus'
import type { PlacedRecord } from '../parameters/placed'
import type { ParameterChoices } from '../plan/model'
import { channelIn, meaningOf, type MeaningRule } from '../vocabulary/meaning'

/** Two channels of a fail-safe module that a device evaluates together, as its description words
 *  it. */
export interface ChannelPair {
  readonly channels: readonly [number, number]
  readonly evaluation: 'single' | 'equivalent' | 'antivalent' | 'off'
  readonly supplyIsExternal: boolean
  readonly testsShortCircuit: boolean
  /** Where the test is set, for its fix. */
  readonly test: { readonly record: string; readonly parameter: Parameter } | null
}

/** What a value of the evaluation means, by the words of its text (common practice). */
const evaluations: readonly (readonly [RegExp, ChannelPair['evaluation']])[] = [
  [/antivalent|opposite|complement/i, 'antivalent'],
  [/equivalent|alike|same|pair|1oo2|one of two/i, 'equivalent'],
  [/\boff\b|disabled|not used/i, 'off'],
  [/single|alone|1oo1|each/i, 'single'],
]
const evaluationOf = (text: string) =>
  evaluations.find(([words]) => words.test(text))?.[1] ?? 'single'
const isPaired = (evaluation: ChannelPair['evaluation']) =>
  evaluation === 'equivalent' || evaluation === 'antivalent'

const twoNumbers = /(\d+)\s*(?:and|und|&|,|\/|\+)\s*(?:(?:channel|input|ch\.?)\s*)?(\d+)/i
/** Both channels that a parameter or the menu around it names. */
function namedChannels(parameter: Parameter): [number, number] | null {
  for (const text of [parameter.name, menuPath(parameter).at(-1) ?? '']) {
    const [, first, second] = twoNumbers.exec(text) ?? []
    if (first !== undefined) return [Number(first), Number(second)]
  }
  return null
}

/** Pairs of a module's channels, recognised by the parameters that say how two are evaluated: by
 *  their meaning, which a project may declare, and by the words of their values. Which channels
 *  they are the parameter names, or its menu; else they follow in order: a channel with the one
 *  half the module further on, or with its neighbour where the project says so (common practice).
 *  `numbers` are the module's channels. */
export function channelPairs(
  records: readonly PlacedRecord[],
  values: ParameterChoices,
  rules: readonly MeaningRule[],
  numbers: readonly number[],
): ChannelPair[] {
  return records
    .filter(({ isSafety, isFailSafe }) => isSafety && !isFailSafe)
    .flatMap((placed) => {
      const { parameters } = placed.record
      const valueOf = ({ key, default: proposed }: Parameter) =>
        String(values[placed.key]?.[key] ?? proposed)
      const textOf = (parameter: Parameter | undefined) =>
        parameter ? (parameter.texts[valueOf(parameter)] ?? valueOf(parameter)) : ''
      const named = parameters.flatMap((parameter) => {
        const meaning = meaningOf(parameter, rules)
        const isEvaluation =
          (meaning === 'evaluation' || meaning === 'evaluationBeside') &&
          Object.values(parameter.texts).some((text) => isPaired(evaluationOf(text)))
        return isEvaluation
          ? [
              {
                parameter,
                meaning,
                own: channelIn([...menuPath(parameter), parameter.name].join(' ')),
              },
            ]
          : []
      })
      // Where each channel has one of its own, both of a pair say it; the first one counts.
      const isEach = named.length > 0 && named.length === numbers.length
      return named.flatMap(({ parameter, meaning, own }, i): ChannelPair[] => {
        const half = numbers.length >> 1
        const first = isEach
          ? (own ?? numbers[i]!)
          : meaning === 'evaluationBeside'
            ? numbers[2 * i]
            : numbers[i]
        const step = meaning === 'evaluationBeside' ? 1 : half
        const partner = first === undefined ? undefined : numbers[numbers.indexOf(first) + step]
        const isFirst =
          meaning === 'evaluationBeside'
            ? numbers.indexOf(first ?? -1) % 2 === 0
            : numbers.indexOf(first ?? -1) < half
        const channels =
          namedChannels(parameter) ??
          (first !== undefined && partner !== undefined && isFirst
            ? ([first, partner] as [number, number])
            : null)
        if (!channels) return []
        const menu = menuPath(parameter).at(-1) ?? ''
        const beside = parameters.filter(
          (one) => one !== parameter && (menu === '' || menuPath(one).at(-1) === menu),
        )
        const test = beside.find(({ name }) =>
          /short.?circuit|cross.?circuit|test pulse/i.test(name),
        )
        return [
          {
            channels,
            evaluation: evaluationOf(textOf(parameter)),
            supplyIsExternal: /external/i.test(
              textOf(beside.find(({ name }) => /supply/i.test(name))),
            ),
            testsShortCircuit:
              test !== undefined && /^(on|yes|active|enabled|1)\b/i.test(textOf(test)),
            test: test ? { record: placed.key, parameter: test } : null,
          },
        ]
      })
    })
}

/** Numbers of a module's fail-safe inputs, as they end their names; in order where they have
 *  none. */
export function pairableChannels({ layout }: Pick<DerivedModule, 'layout'>): number[] {
  const inputs =
    layout?.channels.filter(({ safety, direction }) => safety && direction === 'in') ?? []
  const found = inputs.map(({ name }, i) => numberAtEnd(name) ?? i)
  return new Set(found).size === found.length
    ? found.sort((a, b) => a - b)
    : inputs.map((_, i) => i)
}

/** The channel with that number of a pair. */
export function channelOfPair({ layout }: Pick<DerivedModule, 'layout'>, number: number) {
  const inputs =
    layout?.channels.filter(({ safety, direction }) => safety && direction === 'in') ?? []
  return inputs.find(({ name }) => numberAtEnd(name) === number) ?? null
}

function numberAtEnd(name: string): number | null {
  const [, digits] = /(\d+)\s*$/.exec(name) ?? []
  return digits === undefined ? null : Number(digits)
}

/** Which of a pair's channels carry a signal; channels are told by the number in their name. */
export function usedOfPair(module: DerivedModule, { channels }: ChannelPair): number[] {
  return channels.filter((number) => {
    const channel = channelOfPair(module, number)
    return channel !== null && signalOn(module, channel) !== null
  })
}

/** Whether both channels make one value, which stands at the address of the first (common
 *  practice). */
export function isEvaluatedTogether({ evaluation }: Pick<ChannelPair, 'evaluation'>): boolean {
  return isPaired(evaluation)
}
