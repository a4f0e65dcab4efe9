import {
  check,
  derive,
  networkReport,
  powerReport,
  suppliesOf,
  whatIfReport,
  wireCodes,
  wiredNetworks,
  type Derived,
  type Failures,
  type Finding,
  type WiredNetwork,
} from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan } from '../files'
import { print } from '../print'

interface Options {
  readonly files: string[]
  readonly cut: string[]
  readonly lose: string[]
  readonly loseSupply: string[]
}

export function networks(path: string, options: Options): number {
  const { plan, files } = loadPlan(path, options.files)
  const derived = derive(plan, catalogOf(files, plan))
  const wired = wiredNetworks(derived)
  const findings = check(derived).all.filter(({ code }) => wireCodes.has(code))
  const networkOf = (at: { kind: string; id: string; stationId?: string }) =>
    at.stationId ? plan.stations[at.stationId]?.station.networkId : at.id
  const failures = failuresOf(derived, wired, options)
  print({
    contract: 1,
    networks: wired.map((one) => ({
      ...networkReport(one),
      findings: printed(findings.filter(({ at }) => networkOf(at) === one.network.id)),
    })),
    power: powerReport(derived).map((supply) => ({
      ...supply,
      findings: printed(findings.filter(({ at }) => at.id === supply.id)),
    })),
    whatIf: failures && whatIfReport(derived, failures),
  })
  return findings.some(({ severity }) => severity === 'blocker') ? 1 : 0
}

const printed = (findings: readonly Finding[]) =>
  findings.map(({ facts: _facts, ...finding }) => ({ ...finding, fixes: finding.fixes() }))

/** What is to fail, by ids or names; null where nothing is. */
function failuresOf(
  derived: Derived,
  wired: readonly WiredNetwork[],
  { cut, lose, loseSupply }: Options,
): Failures | null {
  if (cut.length + lose.length + loseSupply.length === 0) return null
  const links = new Set(wired.flatMap((one) => one.links.map(({ id }) => id)))
  const unknown = cut.find((id) => !links.has(id))
  if (unknown !== undefined) throw new CannotDo(`--cut: the plan has no link "${unknown}".`)
  const nodes = [
    ...lose.flatMap((word) => nodesCalled(derived, word)),
    ...loseSupply.flatMap((word) => suppliesCalled(derived, word)),
  ]
  return { links: new Set(cut), nodes: new Set(nodes) }
}

function nodesCalled({ plan }: Derived, word: string): string[] {
  const stations = Object.values(plan.stations).flatMap(({ station: { id, name } }) =>
    id === word || name === word ? [id] : [],
  )
  const controllers = Object.values(plan.networks).flatMap(({ id, controllerId }) =>
    controllerId === word || plan.controllers[controllerId]?.name === word ? [id] : [],
  )
  const found = stations.length > 0 ? stations : controllers
  if (found.length === 0)
    throw new CannotDo(`--lose: the plan has no station or controller "${word}".`)
  return found
}

function suppliesCalled(derived: Derived, word: string): string[] {
  const found = suppliesOf(derived).flatMap(({ view: { id, station } }) =>
    id === word || station.name === word ? [id] : [],
  )
  if (found.length === 0) throw new CannotDo(`--lose-supply: the plan has no supply "${word}".`)
  return found
}
