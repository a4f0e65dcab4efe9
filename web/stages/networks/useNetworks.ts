import {
  suppliesOf,
  wiredNetworks,
  type Id,
  type Supply,
  type WiredLink,
  type WiredNetwork,
} from '@kataxis/core'
import { computed, ref, watch } from 'vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'

export type Chosen = { readonly kind: 'link' | 'node' | 'supply'; readonly id: string } | null

/** The networks of the plan, the one that is shown, what is chosen in it, and what is to fail. */
export function useNetworks() {
  const project = useProject()
  const { focus, setFocus } = useFocus()
  const all = computed<readonly WiredNetwork[]>(() =>
    project.derived ? wiredNetworks(project.derived) : [],
  )
  /** The network of what is in focus, else the first with stations. What stands between stations may
   *  be in several: then the one that was shown. */
  const networkId = computed<Id | null>((before) => {
    const at = focus.value
    const named = at && (project.derived?.stations.get(at.id)?.station.networkId ?? at.id)
    const holding = all.value.filter(({ nodes }) => nodes.some(({ id }) => id === at?.id))
    const found =
      all.value.find(({ network }) => network.id === named) ??
      holding.find(({ network }) => network.id === before) ??
      holding[0] ??
      all.value.find(({ network }) => network.id === before)
    const first = all.value.find(({ stations }) => stations.length > 0) ?? all.value[0]
    return (found ?? first)?.network.id ?? null
  })
  const wired = computed(
    () => all.value.find(({ network }) => network.id === networkId.value) ?? null,
  )
  const showNetwork = (id: Id) => void setFocus({ kind: 'network', id })

  return { all, wired, networkId, showNetwork, ...useChosen(wired) }
}

function useChosen(wired: { readonly value: WiredNetwork | null }) {
  const project = useProject()
  const { focus, setFocus } = useFocus()
  const linkId = ref<string | null>(null)
  const supply = computed<Supply | null>(
    () =>
      (project.derived ? suppliesOf(project.derived) : []).find(
        ({ view }) => view.id === focus.value?.id,
      ) ?? null,
  )
  const chosen = computed<Chosen>(() => {
    if (linkId.value !== null) return { kind: 'link', id: linkId.value }
    const id = focus.value?.id
    if (supply.value) return { kind: 'supply', id: supply.value.view.id }
    return id !== undefined &&
      id !== wired.value?.network.id &&
      wired.value?.nodes.some((node) => node.id === id)
      ? { kind: 'node', id }
      : null
  })
  const link = computed<WiredLink | null>(
    () => wired.value?.links.find(({ id }) => id === linkId.value) ?? null,
  )
  watch(link, (now) => now === null && (linkId.value = null))
  // A controller's interface is named by its network.
  const isNetwork = (id: Id) => project.plan?.networks[id] !== undefined
  /** Chooses a link or a node; null: the network as a whole. */
  function choose(next: Chosen): void {
    linkId.value = next?.kind === 'link' ? next.id : null
    const network = wired.value?.network.id ?? ''
    if (next?.kind === 'node' || next?.kind === 'supply')
      void setFocus({ kind: isNetwork(next.id) ? 'network' : 'station', id: next.id })
    else if (next === null) void setFocus({ kind: 'network', id: network })
  }
  return { chosen, choose, link, supply }
}
