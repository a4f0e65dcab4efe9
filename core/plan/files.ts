import type { Plan, Plugged } from './model'

/** SHA-256 of every description file a plan refers to, each once: those of heads and those of devices below ports. */
export function filesOfPlan(plan: Plan): string[] {
  const files = new Set<string>()
  const add = (plugged: Plugged) => {
    for (const subslot in plugged) if (plugged[subslot]!.file !== '') files.add(plugged[subslot]!.file)
  }
  for (const { station, modules } of Object.values(plan.stations)) {
    files.add(station.file)
    add(station.plugged)
    for (const id in modules) add(modules[id]!.plugged)
  }
  return [...files]
}
