import type { Plan, Plugged, StationGroup } from './model'

const known = new WeakMap<StationGroup, ReadonlySet<string>>()

/** SHA-256 of every description file a plan refers to, each once: those of heads, those of devices
 *  below ports, and sheets that add to them. */
export function filesOfPlan(plan: Plan): string[] {
  const files = new Set<string>(plan.project.supplements)
  for (const id in plan.stations)
    for (const file of filesOfGroup(plan.stations[id]!)) files.add(file)
  return [...files]
}

function filesOfGroup(group: StationGroup): ReadonlySet<string> {
  let files = known.get(group)
  if (!files) {
    const { station, modules } = group
    files = new Set([
      station.file,
      ...[station, ...Object.values(modules)].flatMap(({ plugged }) => filesBelow(plugged)),
    ])
    known.set(group, files)
  }
  return files
}

function filesBelow(plugged: Plugged): string[] {
  return Object.values(plugged).flatMap(({ file }) => (file === '' ? [] : [file]))
}
