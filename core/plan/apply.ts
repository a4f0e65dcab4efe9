import type { Catalog } from '../catalog/catalog'
import type { Command, CommandType, CommandOf, SingleCommand } from './commands'
import { Draft, type RowChange } from './draft'
import { controllerHandlers } from './handlers/controllers'
import { moduleHandlers } from './handlers/modules'
import { parameterHandlers } from './handlers/parameters'
import { repackHandlers } from './handlers/repack'
import { signalHandlers } from './handlers/signals'
import { stationHandlers } from './handlers/stations'
import { subslotHandlers } from './handlers/subslots'
import type { Plan } from './model'
import type { Refusal } from './refusals'
import { faultsOfChange } from './validity'

/** Changes the draft, or says why not; then the draft is thrown away. */
export type Handler<T extends CommandType> = (draft: Draft, catalog: Catalog, command: CommandOf<T>) => Refusal | null

const handlers: { [T in CommandType]: Handler<T> } = {
  setProject: (draft, _, { set }) => {
    draft.setProject({ ...draft.plan.project, ...set })
    return null
  },
  ...controllerHandlers,
  ...stationHandlers,
  ...moduleHandlers,
  ...subslotHandlers,
  ...repackHandlers,
  ...parameterHandlers,
  ...signalHandlers,
}

export type Applied = { ok: true; plan: Plan; changes: RowChange[] } | { ok: false; refusal: Refusal }

/** Carries out a command: pure, the same in browser, server and command line. A batch is done whole or not at all. */
export function applyCommand(plan: Plan, catalog: Catalog, command: Command): Applied {
  const draft = new Draft(plan)
  for (const single of command.type === 'batch' ? command.commands : [command]) {
    const refusal = run(draft, catalog, single)
    if (refusal) return { ok: false, refusal }
  }
  const { plan: after, changes } = draft
  const [fault] = faultsOfChange(plan, changes)
  return fault ? { ok: false, refusal: { code: 'plan.invalid', fault } } : { ok: true, plan: after, changes }
}

function run(draft: Draft, catalog: Catalog, command: SingleCommand): Refusal | null {
  return (handlers[command.type] as Handler<CommandType>)(draft, catalog, command as never)
}
