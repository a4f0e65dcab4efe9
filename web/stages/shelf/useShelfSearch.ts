import { ref, shallowRef, watch } from 'vue'
import { api, type ShelfHit } from '../../api/client'
import { useShelf } from '../../stores/shelf'

/** Search while typing, asked again when files have come or gone: answers that come late for an
 *  older text are dropped. */
export function useShelfSearch() {
  const text = ref('')
  const hits = shallowRef<readonly ShelfHit[]>([])
  const isComplete = ref(true)
  const isSearching = ref(false)
  let latest = 0

  async function search(): Promise<void> {
    const asked = ++latest
    const wanted = text.value.trim()
    if (wanted === '') {
      hits.value = []
      return
    }
    isSearching.value = true
    try {
      const found = await api.searchShelf(wanted)
      if (asked !== latest) return
      hits.value = found.hits
      isComplete.value = found.isComplete
    } finally {
      if (asked === latest) isSearching.value = false
    }
  }

  const shelf = useShelf()
  watch(() => shelf.files, search)

  return { text, hits, isComplete, isSearching, search }
}
