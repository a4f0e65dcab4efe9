import { planFill } from '@kataxis/core'
import { computed, type ComputedRef, type Ref } from 'vue'
import { useProject } from '../../stores/project'
import type { Cell } from './useLaneWalk'
import type { Selection } from './useSelection'

/** What is done with all modules and stations that are selected, or with those at the cursor.
 *  `cells` says where a module stands. */
export function useBoardCommands(
  selection: Selection,
  cursor: Ref<Cell | null>,
  cells: ComputedRef<ReadonlyMap<string, Cell>>,
  idAt: (cell: Cell) => string | null,
) {
  const project = useProject()

  /** What a key is meant for: the selection, else the module at the cursor. */
  const moduleIds = computed(() => {
    if (selection.ids.value.size > 0) return selection.moduleIds.value
    const id = cursor.value && cursor.value.slot > 0 ? idAt(cursor.value) : null
    return id === null ? [] : [id]
  })
  const stationIds = computed(() =>
    selection.ids.value.size > 0
      ? selection.stationIds.value
      : cursor.value?.slot === 0
        ? [cursor.value.stationId]
        : [],
  )

  function remove(): void {
    // Modules of a station that goes need no removal of their own.
    const left = moduleIds.value.filter(
      (id) => !stationIds.value.includes(cells.value.get(id)?.stationId ?? ''),
    )
    const modules = left.length > 0 ? [{ type: 'removeModules' as const, ids: left }] : []
    const commands = [
      ...stationIds.value.map((id) => ({ type: 'removeStation' as const, id })),
      ...modules,
    ]
    const [only] = commands
    if (
      only &&
      project.run(
        commands.length === 1
          ? only
          : {
              type: 'batch',
              label: `Remove ${stationIds.value.length + left.length} things`,
              commands,
            },
      )
    )
      selection.clear()
  }
  function fill(): void {
    const [id] = moduleIds.value
    const cell = id === undefined ? null : cells.value.get(id)
    const row = cell && project.derived!.stations.get(cell.stationId)?.group.modules[id!]
    if (!cell || !row) return
    const commands = planFill(
      project.derived!.plan,
      project.derived!.catalog,
      cell.stationId,
      cell.slot,
      row.module,
    )
    if (commands.length === 0) return project.tell('No free slot behind this one takes the module.')
    project.run({ type: 'batch', label: `Fill ${commands.length} slots`, commands })
  }

  return { moduleIds, stationIds, remove, fill }
}
