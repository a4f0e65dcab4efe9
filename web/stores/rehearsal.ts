import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { matchDevices, plannedStations } from '@kataxis/core'
import { api, type RehearsalView } from '../api/client'
import { useProject } from './project'

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
    view.value = (await api.rehearsal(id)).rehearsal
    ofProject.value = id
  }

  /** One step on the wire; what went wrong is told and leaves the view as it was. */
  async function step(work: (id: string) => Promise<RehearsalView>): Promise<boolean> {
    busy.value = true
    try {
      view.value = await work(project.id)
      ofProject.value = project.id
      return true
    } catch (error) {
      project.tell((error as Error).message)
      return false
    } finally {
      busy.value = false
    }
  }

  return {
    view,
    busy,
    match,
    planned,
    load,
    begin: () => step(api.beginRehearsal),
    scan: () => step(api.scan),
    blink: (mac: string) => step((id) => api.blink(id, mac)),
    assign: (mac: string, stationId: string) => step((id) => api.assign(id, mac, stationId)),
  }
})
