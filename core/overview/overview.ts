import { countKinds } from './kinds'
import type { KindCount } from './kinds'
import type { Findings } from '../checks/check'
import type { Finding } from '../checks/finding'
import type { Derived } from '../derive/derive'

export type { KindCount } from './kinds'

/** What has to be done in a project, in working order: whose findings count, by the beginnings of
 *  their codes; the longest that fits decides. */
const steps = [
  { key: 'files', codes: ['file.'] },
  {
    key: 'place',
    codes: [
      ...[
        'slot.',
        'module.',
        'port.',
        'layout.',
        'device.',
        'project.empty',
        'station.empty',
        'station.moduleCount',
      ],
      ...['station.requires', 'station.supply', 'station.fieldSupply', 'station.width'],
      ...['station.connection', 'station.dataLength', 'station.fragments', 'station.largeOpen'],
    ],
  },
  {
    key: 'identities',
    codes: ['station.', 'network.pool', 'network.controllerIp'],
  },
  { key: 'parameters', codes: ['parameter.', 'safety.', 'channels.unusedOn'] },
  { key: 'addresses', codes: ['image.', 'controller.'] },
  { key: 'ranges', codes: ['signal.'] },
  {
    key: 'names',
    codes: ['tag.', 'channels.unnamed', 'signal.unplaced', 'signal.noChannel', 'signal.kind'],
  },
  {
    key: 'networks',
    codes: [
      'network.',
      'modbus.',
      'station.baud',
      'link.',
      'ring.',
      'segment.',
      'wire.',
      'supply.',
      'feed.',
      'shared.',
      'redundancy.',
    ],
  },
] as const
export type StepKey = (typeof steps)[number]['key'] | 'rehearse' | 'handover'
export const stepKeys: readonly StepKey[] = [...steps.map(({ key }) => key), 'rehearse', 'handover']

/** How far a step is. `begun`: something of it is there, and something is left or wrong. */
export type StepState = 'open' | 'begun' | 'done'

export interface Step {
  readonly key: StepKey
  readonly state: StepState
  readonly blockers: number
  readonly warnings: number
}

export interface Overview {
  readonly kinds: readonly KindCount[]
  readonly steps: readonly Step[]
}

/** The step that a finding belongs to; null where none says so. */
export function stepOf({ code }: Pick<Finding, 'code'>): StepKey | null {
  let best: { key: StepKey; length: number } | null = null
  for (const { key, codes } of steps)
    for (const beginning of codes)
      if (code.startsWith(beginning) && beginning.length > (best?.length ?? 0))
        best = { key, length: beginning.length }
  return best?.key ?? null
}

/** Where a project stands; `files` are those on the Shelf, `rehearsed` whether every station was
 *  found as planned. */
export function overviewOf(
  derived: Derived,
  { all, blockers }: Pick<Findings, 'all' | 'blockers'>,
  { files, rehearsed }: { readonly files: number; readonly rehearsed: boolean },
): Overview {
  const { totals } = derived
  const count = (key: StepKey, severity: Finding['severity']) =>
    all.filter((finding) => finding.severity === severity && stepOf(finding) === key).length
  const begun: Readonly<Record<StepKey, boolean>> = {
    files: files > 0,
    place: totals.modules > 0,
    identities: totals.stations > 0,
    parameters: totals.modules > 0,
    addresses: totals.bytes > 0,
    ranges: totals.named > 0,
    names: totals.named > 0,
    networks: totals.stations > 0,
    rehearse: rehearsed,
    handover: totals.named > 0,
  }
  const isLeft: Partial<Record<StepKey, boolean>> = {
    names: totals.named < totals.channels,
    handover: blockers > 0,
  }
  return {
    kinds: countKinds(derived),
    steps: stepKeys.map((key) => {
      const [wrong, doubtful] = [count(key, 'blocker'), count(key, 'warning')]
      const state = !begun[key] ? 'open' : wrong > 0 || isLeft[key] ? 'begun' : 'done'
      return { key, state, blockers: wrong, warnings: doubtful }
    }),
  }
}
