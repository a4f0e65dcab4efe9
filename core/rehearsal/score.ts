import { tagsIn, type SiteDifference } from './differences'
import { rehearsalSteps, stationStates, type RunState } from './run'

/** What became of a difference. */
export interface Scored {
  readonly difference: SiteDifference
  readonly isFound: boolean
  readonly isMended: boolean
}

/** Stations and tags that some finding of a run named. */
export function namedIn({ findings }: RunState): string[] {
  return rehearsalSteps.flatMap((step) =>
    (findings[step] ?? []).flatMap(({ station, tag, code }) =>
      code === 'plan.blocker' ? [] : [station, tag].filter((one) => one !== null),
    ),
  )
}

/** Whether a run found and mended what was otherwise than planned: `named` holds all that its
 *  findings ever named, `open` are the differences that still stand. */
export function scoreOf(
  differences: readonly SiteDifference[],
  named: ReadonlySet<string>,
  open: readonly SiteDifference[],
  state: RunState,
): Scored[] {
  const states = stationStates(state)
  const stateByName = new Map(
    state.networks.flatMap(({ stations }) =>
      stations.map(({ id, name }) => [name, states.get(id)] as const),
    ),
  )
  const isOpen = new Set(open)
  return differences.map((difference) => ({
    difference,
    isFound: wordsOf(difference).some((word) => named.has(word)),
    isMended:
      !isOpen.has(difference) ||
      (overTheWire.has(difference.kind) &&
        'station' in difference &&
        ['as planned', 'running'].includes(stateByName.get(difference.station) ?? '')),
  }))
}

/** What is mended by giving a name or an address; all else needs hands on site. */
const overTheWire = new Set<SiteDifference['kind']>(['factoryNew', 'duplicateName'])

function wordsOf(one: SiteDifference): readonly string[] {
  if ('station' in one) return [one.station]
  return one.kind === 'cut' ? [] : tagsIn(one)
}
