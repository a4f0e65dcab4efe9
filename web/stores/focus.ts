import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

export type FocusKind = 'controller' | 'network' | 'station' | 'module' | 'slot' | 'signal'
export interface Focus {
  readonly kind: FocusKind
  readonly id: string
}

/** The thing in focus stands in the URL, so that findings, search and colleagues can point to
 *  it. */
export function useFocus() {
  const route = useRoute()
  const router = useRouter()
  const focus = computed<Focus | null>(() => {
    const match = /^(controller|network|station|module|slot|signal):(.+)$/.exec(
      String(route.query['at'] ?? ''),
    )
    return match && { kind: match[1] as FocusKind, id: match[2]! }
  })
  /** What else stands in the address, such as two versions that are compared, stays. */
  const setFocus = (next: Focus | null) =>
    router.replace({ query: { ...route.query, at: next ? `${next.kind}:${next.id}` : undefined } })
  const goTo = (stage: string, next: Focus) =>
    router.push({
      name: stage,
      params: { project: route.params['project'] },
      query: { at: `${next.kind}:${next.id}` },
    })
  return { focus, setFocus, goTo }
}
