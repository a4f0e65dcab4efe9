import { onMounted, ref, shallowRef, watch } from 'vue'
import { refDebounced } from '@vueuse/core'
import { wordChange, wordCommand } from '@kataxis/core'
import { api, type HistoryEntry } from '../../api/client'
import { useProject } from '../../stores/project'

/** As many as the server gives at once. */
const pageLength = 100
const kindWords = {
  do: '',
  undo: 'Took back',
  redo: 'Brought back',
  back: 'Went back to',
  repair: 'Repaired the project',
} as const

/** The changes of the project, newest first, of which only those with some words where a filter is
 *  typed; older ones on asking. */
export function useEntries(failure: { value: string }) {
  const project = useProject()
  const filter = ref('')
  const words = refDebounced(filter, 200)
  const entries = shallowRef<readonly HistoryEntry[]>([])
  const isAtEnd = ref(false)
  const isLoaded = ref(false)
  let asked = 0

  async function load(before?: number): Promise<void> {
    const mine = ++asked
    try {
      const given = await api.history(project.id, {
        words: words.value,
        ...(before === undefined ? {} : { before }),
      })
      if (mine !== asked) return
      entries.value = before === undefined ? given.entries : [...entries.value, ...given.entries]
      isAtEnd.value = given.entries.length < pageLength
      isLoaded.value = true
      failure.value = ''
    } catch (error) {
      if (mine === asked) failure.value = (error as Error).message
    }
  }
  onMounted(() => load())
  watch([words, () => project.revision], () => load())

  return {
    filter,
    words,
    entries,
    isAtEnd,
    isLoaded,
    more: () => load(entries.value.at(-1)?.revision),
  }
}

/** What somebody did, in a few words; `versions`: names of revisions. */
export function whatOf(entry: HistoryEntry, versions: ReadonlyMap<number, string>): string {
  if (entry.kind === 'back')
    return [`${kindWords.back} r${entry.target}`, versions.get(entry.target!)]
      .filter(Boolean)
      .join(' · ')
  if (entry.kind === 'repair') return kindWords.repair
  const done = entry.command ? wordCommand(entry.command) : 'a change'
  return entry.kind === 'do' ? done : `${kindWords[entry.kind]}: ${done}`
}

/** The first rows of an entry with what became of them, in the names of the plan as it is now. */
export function rowsOf(
  { first }: HistoryEntry,
  derived: ReturnType<typeof useProject>['derived'],
): string[] {
  return derived
    ? first.map((change) => wordChange(change, derived.plan, derived.plan, derived.catalog).words)
    : []
}
