import { Problems } from '../../vocabulary/problem'
import { inRanges, type ValueRange } from '../../vocabulary/value-list'
import { Assemblies, type EdsParameter } from './assemblies'
import type { Entry } from './entries'
import { parseEdsNumber } from './numbers'

/** What is collected while the file is gone through once, entry by entry. */
export class Reading {
  readonly problems = new Problems()
  /** What stands once each, as `section/name`. */
  readonly facts = new Map<string, Entry>()
  readonly parameters = new Map<string, EdsParameter>()
  readonly enumerations: Entry[] = []
  readonly assemblies = new Assemblies(this.parameters, this.problems)
  readonly connections: Entry[] = []
  readonly groups: Entry[] = []
  hasDevice = false

  text(key: string): string | null {
    return this.facts.get(key)?.field(0).trim() ?? null
  }

  number(key: string): number | null {
    const entry = this.facts.get(key)
    return entry ? this.numberIn(entry, 0) : null
  }

  /** A number that every file must give; 0 where it does not. */
  needed(key: string): number {
    if (!this.facts.has(key))
      this.problems.error('eds.missing', `[Device] has no ${key.split('/')[1]!}; it is needed.`, {
        line: 1,
        column: 1,
      })
    return this.number(key) ?? 0
  }

  /** The number in a field; null where it is empty, none, or not in its range. */
  numberIn(entry: Entry, field: number, range: ValueRange | null = null): number | null {
    const written = entry.field(field)
    if (written === '') return null
    const value = parseEdsNumber(written)
    if (value === null)
      this.problems.error(
        'eds.number',
        `${entry.name}: field ${field + 1} is "${written}"; a number is needed.`,
        entry.at(field),
      )
    if (value === null || range === null || (Number.isInteger(value) && inRanges([range], value)))
      return value
    this.problems.error(
      'eds.number',
      `${entry.name}: field ${field + 1} is ${written}; it must be a whole number between ${range[0]} and ${range[1]}.`,
      entry.at(field),
    )
    return null
  }

  /** The default of a parameter that is named instead of a number. */
  defaultOf(reference: string): number | null {
    const parameter = this.parameters.get(reference.toLowerCase())
    return parameter ? Number(parameter.default) : null
  }
}
