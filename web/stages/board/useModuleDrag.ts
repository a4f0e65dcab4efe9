import { shallowRef } from 'vue'
import { useProject } from '../../stores/project'

export interface DragOver {
  readonly stationId: string
  readonly slot: number
  /** Null where the module may be dropped. */
  readonly whyNot: string | null
}

/** Dragging a module within and between lanes; the place under the pointer says why it would refuse. */
export function useModuleDrag() {
  const project = useProject()
  const dragged = shallowRef<string | null>(null)
  const over = shallowRef<DragOver | null>(null)

  function start(event: DragEvent, moduleId: string): void {
    dragged.value = moduleId
    if (event.dataTransfer) {
      event.dataTransfer.effectAllowed = 'move'
      event.dataTransfer.setData('text/plain', moduleId)
    }
  }

  function isOver(event: DragEvent, stationId: string, slot: number): void {
    if (!dragged.value) return
    if (over.value?.stationId !== stationId || over.value.slot !== slot) {
      over.value = { stationId, slot, whyNot: project.whyNot({ type: 'moveModule', id: dragged.value, stationId, slot }) }
    }
    if (over.value.whyNot === null) event.preventDefault()
  }

  function drop(event: DragEvent, stationId: string, slot: number): void {
    event.preventDefault()
    if (dragged.value) project.run({ type: 'moveModule', id: dragged.value, stationId, slot })
    end()
  }

  function end(): void {
    dragged.value = null
    over.value = null
  }

  return { dragged, over, start, isOver, drop, end }
}

export type ModuleDrag = ReturnType<typeof useModuleDrag>
