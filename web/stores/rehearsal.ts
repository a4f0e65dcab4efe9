import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { matchDevices, plannedStations, type FoundDevice } from '@kataxis/core'
import { api } from '../api/client'
import { useProject } from './project'

export interface RehearsalView {
  readonly found: readonly FoundDevice[] | null
  readonly frames: readonly {
    readonly timeMs: number
    readonly direction: 'sent' | 'received'
    readonly hex: string
  }[]
  readonly differences: readonly (
    | { readonly kind: 'factoryNew'; readonly station: string }
    | {
        readonly kind: 'swapped'
        readonly station: string
        readonly slots: readonly [number, number]
      }
  )[]
}

/** The rehearsal of the open project: what the simulated wire showed, and how it fits the plan. */
export const useRehearsal = defineStore('rehearsal', () => {
  const project = useProject()
  const view = shallowRef<RehearsalView | null>(null)
  const ofProject = ref('')
  const busy = ref(false)
  const planned = computed(() => (project.derived ? plannedStations(project.derived) : []))
  const match = computed(() =>
    view.value?.found && ofProject.value === project.id
      ? matchDevices(planned.value, view.value.found)
      : null,
  )

  async function load(): Promise<void> {
    const { id } = project
    view.value = (await api.rehearsal<RehearsalView>(id)).rehearsal
    ofProject.value = id
  }

  /** One step on the wire; what went wrong is told and leaves the view as it was. */
  async function step(
    name: '' | '/scan' | '/blink' | '/assign',
    body: object = {},
  ): Promise<boolean> {
    busy.value = true
    try {
      view.value = await api.rehearsalStep<RehearsalView>(project.id, name, body)
      ofProject.value = project.id
      return true
    } catch (error) {
      project.tell((error as Error).message)
      return false
    } finally {
      busy.value = false
    }
  }

  return { view, busy, match, planned, load, step }
})
