import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { rehearse, type RehearsalAction, type RehearsalWish, type RunState } from '@kataxis/core'
import { api, type RehearsalView } from '../api/client'
import { useProject } from './project'

/** The rehearsal of the open project: what the wires showed, and how it fits the plan as it is
 *  now. */
export const useRehearsal = defineStore('rehearsal', () => {
  const project = useProject()
  const view = shallowRef<RehearsalView | null>(null)
  const ofProject = ref('')
  const isLoaded = ref(false)
  const busy = ref(false)

  const planned = computed(() =>
    project.derived ? rehearse.beginRun(project.derived, project.findings?.all ?? []) : null,
  )
  /** The plan with what was found; matched anew whenever either changes. */
  const state = computed((): RunState | null => {
    if (!view.value || ofProject.value !== project.id || !planned.value) return null
    const { found, started, signals } = view.value
    return { ...planned.value, found, started, signals }
  })
  const matches = computed(() => (state.value ? rehearse.matches(state.value) : []))
  const comparisons = computed(() =>
    state.value ? rehearse.comparisons(state.value) : new Map<string, never>(),
  )
  const states = computed(() =>
    state.value ? rehearse.stationStates(state.value) : new Map<string, never>(),
  )

  /** Stations that are as planned or run, of all; null before the first scan. */
  const tally = computed(() => {
    const all = [...states.value.values()]
    return all.length === 0
      ? null
      : {
          fine: all.filter((one) => one === 'as planned' || one === 'running').length,
          all: all.length,
        }
  })

  async function load(): Promise<void> {
    const { id } = project
    view.value = (await api.rehearsal(id)).rehearsal
    ofProject.value = id
    isLoaded.value = true
  }

  /** One step; what went wrong is told and leaves the view as it was. */
  async function step(work: (id: string) => Promise<RehearsalView>): Promise<boolean> {
    busy.value = true
    try {
      view.value = await work(project.id)
      ofProject.value = project.id
      if (view.value.refused !== null) project.tell(view.value.refused)
      return view.value.refused === null
    } catch (error) {
      project.tell((error as Error).message)
      return false
    } finally {
      busy.value = false
    }
  }

  return {
    view,
    isLoaded,
    busy,
    planned,
    matches,
    comparisons,
    states,
    tally,
    load,
    begin: (wish: RehearsalWish) => step((id) => api.beginRehearsal(id, wish)),
    act: (action: RehearsalAction) => step((id) => api.actInRehearsal(id, action)),
    end: () => step(api.endRehearsal),
  }
})
