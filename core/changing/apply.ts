import type { Catalog } from '../catalog/catalog'
import { withOwnData } from '../catalog/own-data'
import type { Command, CommandType, SingleCommand } from '../plan/commands'
import { Draft, mostRowsOfChange, TooManyRows, type RowChange } from '../plan/draft'
import type { Handler } from './handler'
import { controllerHandlers } from './handlers/controllers'
import { dataLayoutHandlers } from './handlers/data-layouts'
import { deviceHandlers } from './handlers/devices'
import { feedHandlers } from './handlers/feeds'
import { linkHandlers } from './handlers/links'
import { moduleHandlers } from './handlers/modules'
import { parameterHandlers } from './handlers/parameters'
import { repackHandlers } from './handlers/repack'
import { signalHandlers } from './handlers/signals'
import { stationHandlers } from './handlers/stations'
import { subslotHandlers } from './handlers/subslots'
import type { Plan } from '../plan/model'
import type { Refusal } from '../plan/refusals'
import { faultsOfChange } from '../plan/validity'

const handlers: { [T in CommandType]: Handler<T> } = {
  setProject: (draft, _, { set }) => {
    draft.setProject({ ...draft.plan.project, ...set })
    return null
  },
  ...controllerHandlers,
  ...stationHandlers,
  ...moduleHandlers,
  ...subslotHandlers,
  ...dataLayoutHandlers,
  ...deviceHandlers,
  ...linkHandlers,
  ...feedHandlers,
  ...repackHandlers,
  ...parameterHandlers,
  ...signalHandlers,
}

export type Applied =
  { ok: true; plan: Plan; changes: RowChange[] } | { ok: false; refusal: Refusal }

/** Carries out a command: pure, the same in browser, server and command line. A batch is done whole
 *  or not at all, and what is left is a valid plan. */
export function applyCommand(plan: Plan, catalog: Catalog, command: Command): Applied {
  const singles = command.type === 'batch' ? command.commands : [command]
  const tooLarge: Applied = {
    ok: false,
    refusal: { code: 'change.tooLarge', rows: mostRowsOfChange },
  }
  if (rowsOfCopies(plan, singles) > mostRowsOfChange) return tooLarge
  const draft = new Draft(plan)
  try {
    for (const single of singles) {
      const refusal = run(draft, catalog, single)
      if (refusal) return { ok: false, refusal }
    }
  } catch (error) {
    if (error instanceof TooManyRows) return tooLarge
    throw error
  }
  const { plan: after, changes } = draft
  const [fault] = faultsOfChange(plan, changes)
  return fault
    ? { ok: false, refusal: { code: 'plan.invalid', fault } }
    : { ok: true, plan: after, changes }
}

/** A short command may ask for very much; copies are the only ones whose size can be told
 *  before. */
function rowsOfCopies(plan: Plan, commands: readonly SingleCommand[]): number {
  let rows = 0
  for (const command of commands) {
    if (command.type !== 'copyStation') continue
    const source = plan.stations[command.sourceId]
    if (source)
      rows +=
        command.copies.length *
        (1 + Object.keys(source.modules).length + Object.keys(source.signals).length)
  }
  return rows
}

function run(draft: Draft, catalog: Catalog, command: SingleCommand): Refusal | null {
  return (handlers[command.type] as Handler<CommandType>)(
    draft,
    withOwnData(catalog, draft.plan.project.dataLayouts),
    command as never,
  )
}
