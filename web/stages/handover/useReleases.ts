import { computed, ref, shallowRef, watch } from 'vue'
import type { ReleaseView } from '@kataxis/core'
import { api } from '../../api/client'
import { useProject } from '../../stores/project'
import { useDifference } from '../history/useDifference'

/** Hand-overs of the open project, newest first, and what changed since the last one. */
export function useReleases() {
  const project = useProject()
  const releases = shallowRef<readonly ReleaseView[]>([])
  const last = computed(() => releases.value[0] ?? null)
  const from = ref<number | null>(null)
  watch(last, (release) => (from.value = release?.revision ?? null))
  const { summary, failure } = useDifference(from, ref(null))

  async function load(): Promise<void> {
    releases.value = (await api.releases(project.id)).releases
  }
  return {
    releases,
    last,
    since: computed(() => failure.value || summary.value),
    load,
  }
}
