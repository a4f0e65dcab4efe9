import { ref, watch, type Ref } from 'vue'

/** A list that is walked with the arrow keys from the field above it: Enter takes, Esc closes. */
export function usePickList<T>(
  entries: Ref<readonly T[]>,
  take: (entry: T) => void,
  close: () => void,
) {
  const at = ref(0)
  watch(entries, () => (at.value = 0))

  const deeds: Record<string, () => void> = {
    ArrowDown: () => (at.value = Math.min(at.value + 1, entries.value.length - 1)),
    ArrowUp: () => (at.value = Math.max(at.value - 1, 0)),
    Enter: () => {
      const entry = entries.value[at.value]
      if (entry !== undefined) take(entry)
    },
    Escape: close,
  }
  function onKey(event: KeyboardEvent): void {
    const deed = deeds[event.key]
    event.stopPropagation()
    if (!deed) return
    event.preventDefault()
    deed()
  }

  return { at, onKey }
}
