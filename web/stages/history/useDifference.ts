import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import {
  applyChanges,
  invert,
  marksOf,
  wordChange,
  type ChangeWords,
  type Mark,
} from '@kataxis/core'
import { api } from '../../api/client'
import { useProject } from '../../stores/project'

const nothing: { words: readonly ChangeWords[]; marks: ReadonlyMap<string, Mark> } = {
  words: [],
  marks: new Map(),
}

/** What differs between two revisions, in words and by place; `to` null is now. Nothing while
 *  `from` is null. */
export function useDifference(
  from: Readonly<Ref<number | null>>,
  to: Readonly<Ref<number | null>>,
) {
  const project = useProject()
  const found = shallowRef(nothing)
  const failure = ref('')

  watch(
    [from, to, () => project.revision],
    async () => {
      failure.value = ''
      if (from.value === null || !project.derived) return void (found.value = nothing)
      const end = to.value ?? project.revision
      const [first, last] = from.value <= end ? [from.value, end] : [end, from.value]
      try {
        const [between, since] = await Promise.all([
          api.difference(project.id, first, last),
          last === project.revision
            ? { changes: [] }
            : api.difference(project.id, last, project.revision),
        ])
        const { catalog } = project.derived
        const after = applyChanges(project.derived.plan, invert(since.changes))
        const before = applyChanges(after, invert(between.changes))
        found.value = {
          words: between.changes.map((change) => wordChange(change, before, after, catalog)),
          marks: marksOf(between.changes, before, after, catalog),
        }
      } catch (error) {
        found.value = nothing
        failure.value = (error as Error).message
      }
    },
    { immediate: true },
  )

  const counts = computed(() =>
    (['added', 'removed', 'changed'] as const)
      .map((how) => [how, found.value.words.filter((one) => one.how === how).length] as const)
      .filter(([, count]) => count > 0),
  )
  const summary = computed(() =>
    counts.value.length === 0
      ? 'Nothing differs.'
      : counts.value.map(([how, count]) => `${count} ${how}`).join(', '),
  )
  return {
    words: computed(() => found.value.words),
    marks: computed(() => found.value.marks),
    summary,
    failure,
  }
}

/** How a change is drawn. */
export const changeSigns = { added: '+', removed: '−', changed: '~' } as const
