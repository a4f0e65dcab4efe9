import { shallowRef } from 'vue'
import type { Command, Derived } from '@kataxis/core'
import { useProject } from '../../stores/project'

interface Dragged {
  readonly kind: 'module' | 'station'
  readonly ids: readonly string[]
}
interface Over {
  /** Null where it may be dropped. */
  readonly whyNot: string | null
}
export interface OverSlot extends Over {
  /** What would be wrong after the drop, which is done all the same. */
  readonly warning: string | null
  readonly stationId: string
  readonly slot: number
}
export interface OverNetwork extends Over {
  readonly id: string
}

/** Dragging modules within and between lanes, and stations within and between networks; the place
 *  under the pointer says why it would refuse. */
export function useBoardDrag() {
  const project = useProject()
  const dragged = shallowRef<Dragged | null>(null)
  const over = shallowRef<OverSlot | null>(null)
  const overNetwork = shallowRef<OverNetwork | null>(null)

  function start(event: DragEvent, kind: 'module' | 'station', ids: readonly string[]): void {
    dragged.value = { kind, ids }
    if (event.dataTransfer) {
      event.dataTransfer.effectAllowed = 'move'
      event.dataTransfer.setData('text/plain', ids.join(' '))
    }
  }

  const onSlot = (stationId: string, slot: number): Command | null =>
    dragged.value && commandOnSlot(project.derived!.stations, dragged.value, stationId, slot)

  function isOver(event: DragEvent, stationId: string, slot: number): void {
    if (!dragged.value) return
    if (over.value?.stationId !== stationId || over.value.slot !== slot) {
      const command = onSlot(stationId, slot)
      overNetwork.value = null
      const whyNot = command ? project.whyNot(command) : ''
      over.value = {
        stationId,
        slot,
        whyNot,
        warning: command && whyNot === null ? project.newlyWrong(command, stationId) : null,
      }
    }
    if (over.value!.whyNot === null) event.preventDefault()
  }

  function drop(event: DragEvent, stationId: string, slot: number): void {
    event.preventDefault()
    const command = onSlot(stationId, slot)
    if (command) project.run(command)
    end()
  }

  const ontoNetwork = (networkId: string): Command => ({
    type: 'moveStations',
    ids: [...dragged.value!.ids],
    networkId,
  })

  function isOverNetwork(event: DragEvent, networkId: string): void {
    if (dragged.value?.kind !== 'station') return
    if (overNetwork.value?.id !== networkId) {
      over.value = null
      overNetwork.value = { id: networkId, whyNot: project.whyNot(ontoNetwork(networkId)) }
    }
    if (overNetwork.value!.whyNot === null) event.preventDefault()
  }

  function dropOnNetwork(event: DragEvent, networkId: string): void {
    event.preventDefault()
    if (dragged.value?.kind === 'station') project.run(ontoNetwork(networkId))
    end()
  }

  function end(): void {
    dragged.value = null
    over.value = null
    overNetwork.value = null
  }

  return { dragged, over, overNetwork, start, isOver, drop, isOverNetwork, dropOnNetwork, end }
}

export type BoardDrag = ReturnType<typeof useBoardDrag>

type Stations = Derived['stations']

/** What a drop on a slot means: modules one after the other from there on; stations before the one
 *  they are dropped on. */
function commandOnSlot(
  stations: Stations,
  { kind, ids }: Dragged,
  stationId: string,
  slot: number,
): Command | null {
  return kind === 'module'
    ? modulesFrom(stations, ids, stationId, slot)
    : stationsBefore(stations, ids, stationId)
}

function modulesFrom(
  stations: Stations,
  ids: readonly string[],
  stationId: string,
  slot: number,
): Command {
  const moves = ids.map((id, i) => ({
    type: 'moveModule' as const,
    id,
    stationId,
    slot: slot + i,
  }))
  // To the right the last one goes first, so that none pushes another.
  const from = stations.get(stationId)?.group.modules[ids[0]!]?.slot ?? slot
  if (slot > from) moves.reverse()
  return moves.length === 1
    ? moves[0]!
    : { type: 'batch', label: `Move ${moves.length} modules`, commands: moves }
}

function stationsBefore(
  stations: Stations,
  ids: readonly string[],
  stationId: string,
): Command | null {
  const target = stations.get(stationId)?.station
  if (!target || ids.includes(stationId)) return null
  const positions = [...stations.values()]
    .filter(({ station }) => station.networkId === target.networkId && !ids.includes(station.id))
    .map(({ station }) => station.position)
    .sort((a, b) => a - b)
  const before = positions[positions.indexOf(target.position) - 1] ?? target.position - 1
  return {
    type: 'moveStations',
    ids: [...ids],
    networkId: target.networkId,
    position: (before + target.position) / 2,
  }
}
