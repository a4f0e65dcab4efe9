import type { Parameter } from '../catalog/model'
import { rangeOf } from '../parameters'
import type { Position, Problems } from '../vocabulary/problem'
import { formatValueList, inRanges } from '../vocabulary/value-list'

/** A default value that its own bits cannot hold is an error; one that the file itself does not
 *  allow is a warning. */
export function checkDefault(
  parameter: Pick<Parameter, 'key' | 'name' | 'kind' | 'bits' | 'default' | 'allowed'>,
  at: Position,
  problems: Problems,
): void {
  const { default: standard, allowed, bits } = parameter
  if (typeof standard !== 'number') return
  const possible = rangeOf(parameter)
  if (possible && (standard < possible[0] || standard > possible[1])) {
    problems.error(
      'parameter.default',
      `The default ${standard} of "${parameter.key}" does not fit its ${bits} bits, which hold ${formatValueList([possible])}.`,
      at,
    )
  } else if (
    parameter.kind !== 'float' &&
    !Number.isSafeInteger(standard) &&
    Number.isInteger(standard)
  ) {
    problems.warning(
      'parameter.precision',
      `The default of "${parameter.key}" is above 2^53; Kataxis holds it only as ${standard}.`,
      at,
    )
  } else if (allowed.length > 0 && !inRanges(allowed, standard)) {
    problems.warning(
      'parameter.default',
      `The default ${standard} of "${parameter.key}" is not among its own values ${formatValueList(allowed)}.`,
      at,
    )
  }
}
