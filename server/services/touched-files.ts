import {
  filesOfPlan,
  stationIdOf,
  type Command,
  type Plan,
  type ProjectRow,
  type RowChange,
} from '@kataxis/core'

/** Files that a plan refers to and did not before. */
export function addedFiles(before: Plan, after: Plan, changes: readonly RowChange[]): string[] {
  if (
    changes.every(
      ({ table }) => table === 'signals' || table === 'controllers' || table === 'networks',
    )
  )
    return []
  const known = new Set(filesOfPlan(before))
  return filesOfPlan(after).filter((file) => !known.has(file))
}

function stationsTouched(before: Plan, after: Plan, change: RowChange): readonly string[] {
  if (change.table === 'stations') return [change.id]
  if (change.table === 'modules')
    return [change.before, change.after].flatMap((row) => (row ? [row.stationId] : []))
  if (change.table !== 'signals') return []
  return (
    [
      [before, change.before],
      [after, change.after],
    ] as const
  ).flatMap(([plan, row]) => (row?.place ? (stationIdOf(plan, row.place.moduleId) ?? []) : []))
}

/** Description files of the stations that a change is about, with those below their ports. */
export function filesTouched(before: Plan, after: Plan, change: RowChange): string[] {
  const ids = stationsTouched(before, after, change)
  return ids.flatMap((id) =>
    [before, after].flatMap((plan) =>
      plan.stations[id] ? filesOfPlan({ ...plan, stations: { [id]: plan.stations[id] } }) : [],
    ),
  )
}

export function filesOfCommand(command: Command): string[] {
  const singles = command.type === 'batch' ? command.commands : [command]
  return singles.flatMap((single) => [
    ...('file' in single && single.file !== '' ? [single.file] : []),
    ...(single.type === 'setDataLayout' && single.layout ? [single.layout.file] : []),
    ...(single.type === 'setProject'
      ? ((single.set as Partial<ProjectRow>).supplements ?? [])
      : []),
    ...('plugged' in single && single.plugged
      ? Object.values(single.plugged).flatMap(({ file }) => (file === '' ? [] : [file]))
      : []),
  ])
}
