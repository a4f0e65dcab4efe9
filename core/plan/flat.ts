import type { Plan, PlanRows } from './model'

/** The flat tables of a plan, as they are stored and sent. */
export function rowsOfPlan(plan: Plan): PlanRows {
  const groups = Object.values(plan.stations)
  return {
    controllers: Object.values(plan.controllers),
    networks: Object.values(plan.networks),
    stations: groups.map(({ station }) => station),
    modules: groups.flatMap(({ modules }) => Object.values(modules)),
    signals: [
      ...groups.flatMap(({ signals }) => Object.values(signals)),
      ...Object.values(plan.unplaced),
    ],
  }
}
