import type { Diagnosis } from '../../catalog/model'
import { toHex } from '../../vocabulary/hex'
import { Problems, type Position } from '../../vocabulary/problem'
import { dataItemsOf, decodeConfiguration } from './configuration'
import { numberOf, UserParameters, type Definition } from './parameters'
import { parseNumber, parseOctetList, parseText, type Statement } from './statements'

export interface OpenModule {
  readonly name: string
  readonly configuration: Configuration
  readonly at: Position
  reference: number | null
  info: string
  parameters: UserParameters
  failSafe: UserParameters
}

export interface OpenSlot {
  readonly slot: number
  readonly standard: number | null
  readonly allowed: readonly [number, number][]
  readonly at: Position
}

type Configuration = ReturnType<typeof readConfiguration>

/** What is collected while the file is gone through once, statement by statement. */
export class Reading {
  readonly problems = new Problems()
  /** What stands outside all blocks, once each. */
  readonly facts = new Map<string, Statement>()
  /** Rates in kbit/s with the longest delay of the station, where it is said. */
  readonly speeds = new Map<number, number | null>()
  readonly definitions = new Map<number, Definition>()
  readonly texts = new Map<number, Record<string, string>>()
  readonly diagnoses: Diagnosis[] = []
  readonly helps = new Map<number, string>()
  readonly modules: OpenModule[] = []
  readonly slots: OpenSlot[] = []
  readonly ownParameters = new UserParameters()
  /** Of revisions before extended parameters. */
  readonly oldParameters = new UserParameters()
  /** Of the block that is open. */
  module: OpenModule | null = null
  definition: Definition | null = null
  words: Record<string, string> = {}
  area = ''
  private readonly parameterLists = new Map<string, UserParameters>()
  private readonly configurations = new Map<string, Configuration>()

  /** Octets of a module's configuration; modules repeat them. */
  configurationOf(written: string): Configuration {
    let known = this.configurations.get(written)
    if (!known) this.configurations.set(written, (known = readConfiguration(written)))
    return known
  }

  /** Modules repeat their parameter bytes; lists written alike are one. */
  shareParameters(open: OpenModule): void {
    for (const list of ['parameters', 'failSafe'] as const) {
      if (open[list].isEmpty) continue
      const known = this.parameterLists.get(open[list].written)
      if (known) open[list] = known
      else this.parameterLists.set(open[list].written, open[list])
    }
  }

  number(keyword: string, most?: number): number | null {
    const statement = this.facts.get(keyword)
    return statement ? numberOf(statement, this.problems, 0, most) : null
  }

  flag(keyword: string): boolean {
    return parseNumber(this.facts.get(keyword)?.value ?? '0') === 1
  }

  text(keyword: string): string | null {
    const statement = this.facts.get(keyword)
    return statement ? parseText(statement.value).trim() : null
  }
}

function readConfiguration(written: string) {
  const octets = parseOctetList(written)
  const identifiers = octets ? decodeConfiguration(octets) : []
  const known = typeof identifiers === 'string' ? [] : identifiers
  const fault = !octets
    ? { code: 'gsd.octets', words: 'octets such as 0x10,0x20 are needed' }
    : typeof identifiers === 'string'
      ? { code: 'gsd.configuration', words: identifiers }
      : null
  return {
    hex: toHex(Uint8Array.from(octets ?? [])),
    inputs: dataItemsOf(known, 'inputs'),
    outputs: dataItemsOf(known, 'outputs'),
    fault,
  }
}
