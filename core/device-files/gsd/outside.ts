import { numberOf } from './parameters'
import type { Reading } from './reading'
import { parseNumber, parseText, type Statement } from './statements'

/** kbit/s by the file's own words. */
const rates: Readonly<Record<string, number>> = {
  '9.6': 9.6,
  '19.2': 19.2,
  '31.25': 31.25,
  '45.45': 45.45,
  '93.75': 93.75,
  '187.5': 187.5,
  '500': 500,
  '1.5m': 1500,
  '3m': 3000,
  '6m': 6000,
  '12m': 12_000,
}

const diagnosis =
  (kind: 'unit' | 'channel') =>
  ({ diagnoses }: Reading, { argument, value }: Statement) =>
    diagnoses.push({
      kind,
      code: parseNumber(argument ?? '') ?? 0,
      name: parseText(value),
      help: '',
    })

/** Keywords that may stand more than once outside all blocks. */
const readers: Readonly<Record<string, (reading: Reading, statement: Statement) => unknown>> = {
  user_prm_data_len: ({ oldParameters }, statement) => oldParameters.add(statement),
  user_prm_data: ({ oldParameters }, statement) => oldParameters.add(statement),
  ext_user_prm_data_const: ({ ownParameters }, statement) => ownParameters.add(statement),
  ext_user_prm_data_ref: ({ ownParameters }, statement) => ownParameters.add(statement),
  unit_diag_bit: diagnosis('unit'),
  channel_diag: diagnosis('channel'),
  unit_diag_bit_help: ({ helps }, { argument, value }) =>
    helps.set(parseNumber(argument ?? '') ?? 0, parseText(value)),
}

/** A statement outside all blocks. */
export function readOutside(reading: Reading, statement: Statement): void {
  const { keyword } = statement
  if (Object.hasOwn(readers, keyword)) readers[keyword]!(reading, statement)
  else if (!readRate(reading, statement)) reading.facts.set(keyword, statement)
}

/** `1.5M_supp` and `MaxTsdr_1.5M`. */
function readRate({ speeds, problems }: Reading, statement: Statement): boolean {
  const { keyword, value } = statement
  const [, supported, delayed] = /^(?:(.+)_supp|maxtsdr_(.+))$/.exec(keyword) ?? []
  const word = supported ?? delayed
  if (word === undefined || !Object.hasOwn(rates, word)) return false
  const rate = rates[word]!
  if (supported !== undefined) {
    if (parseNumber(value) === 1 && !speeds.has(rate)) speeds.set(rate, null)
  } else if (speeds.has(rate)) speeds.set(rate, numberOf(statement, problems, 0, 65_535))
  return true
}
