/** What makers call by a hundred names and everybody means the same by. */
export const meanings = [
  'range',
  'filter',
  'wireBreak',
  'shortCircuit',
  'limits',
  'inputFailure',
  'outputFailure',
  'substitute',
  'activated',
  'evaluation',
  'evaluationBeside',
] as const
export type Meaning = (typeof meanings)[number]

export const meaningWords: Readonly<Record<Meaning, string>> = {
  range: 'Signal range',
  filter: 'Filter',
  wireBreak: 'Wire-break diagnosis',
  shortCircuit: 'Short-circuit diagnosis',
  limits: 'Limit diagnosis',
  inputFailure: 'Value on fault',
  outputFailure: 'Outputs on failure',
  substitute: 'Substitute value',
  activated: 'Channel in use',
  evaluation: 'Evaluation of two channels',
  evaluationBeside: 'Evaluation of two neighbours',
}

/** Says that a parameter whose name holds one of these words, by `|`, means that. */
export interface MeaningRule {
  readonly meaning: Meaning
  readonly words: string
}

/** Common practice; a project's own rules come first. */
export const commonMeanings: readonly MeaningRule[] = [
  {
    meaning: 'wireBreak',
    words:
      'wire break|wire-break|open circuit|line break|broken wire|cable break|drahtbruch|leitungsbruch',
  },
  { meaning: 'shortCircuit', words: 'short circuit|short-circuit|kurzschluss|overload' },
  {
    meaning: 'limits',
    words:
      'diagnosis limit|limit diagnosis|limit alarm|limit monitoring|over-range diagnosis|overflow diagnosis',
  },
  { meaning: 'substitute', words: 'substitute value|replacement value|fail-safe value|ersatzwert' },
  {
    meaning: 'outputFailure',
    words:
      'behaviour on failure|behavior on failure|reaction when the connection ends|output on failure|fault action|verhalten bei',
  },
  { meaning: 'inputFailure', words: 'value on fault|input on fault|value on failure' },
  { meaning: 'filter', words: 'filter|smoothing|debounce|input delay|damping|glättung|dämpfung' },
  {
    meaning: 'evaluation',
    words: 'sensor evaluation|evaluation of the sensors|evaluation of sensors|evaluation|1oo2',
  },
  {
    meaning: 'activated',
    words:
      'channel activated|activate channel|activated|channel active|channel enabled|enable channel|channel in use|kanal aktiviert',
  },
  {
    meaning: 'range',
    words:
      'signal range|measuring range|input range|output range|signal type|measurement type|sensor type|range|messbereich',
  },
]

/** What a parameter means; null where no rule knows its name. */
export function meaningOf(
  { name }: { readonly name: string },
  own: readonly MeaningRule[] = [],
): Meaning | null {
  const text = name.toLowerCase()
  return (
    [...own, ...commonMeanings].find(({ words }) =>
      words
        .split('|')
        .some((word) => word.trim() !== '' && text.includes(word.trim().toLowerCase())),
    )?.meaning ?? null
  )
}

/** The last number that a text gives a channel, e.g. `Channel 3`, `Ch. 3`, `input 3`. */
export function channelIn(text: string): number | null {
  const numbers = [...text.matchAll(/(?:channel|kanal|ch\.?|input|output|port)\s*(\d+)/gi)]
  const last = numbers.at(-1)
  return last ? Number(last[1]) : null
}
