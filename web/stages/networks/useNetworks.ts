import {
  tagsOf,
  whatIf,
  wiredNetworks,
  type Id,
  type Outcome,
  type WiredLink,
  type WiredNetwork,
} from '@kataxis/core'
import { computed, ref, watch } from 'vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'

/** What becomes of a station in a what-if. */
export type Fate = 'unreachable' | 'drops' | 'rides'

export type Chosen = { readonly kind: 'link' | 'node'; readonly id: string } | null

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
      holding[0]
    const first = all.value.find(({ stations }) => stations.length > 0) ?? all.value[0]
    return (found ?? first)?.network.id ?? null
  })
  const wired = computed(
    () => all.value.find(({ network }) => network.id === networkId.value) ?? null,
  )
  const showNetwork = (id: Id) => void setFocus({ kind: 'network', id })

  const { chosen, choose, link } = useChosen(wired)
  const fates = useWhatIf(all, networkId)
  return { all, wired, networkId, showNetwork, chosen, choose, link, ...fates }
}

function useChosen(wired: { readonly value: WiredNetwork | null }) {
  const { focus, setFocus } = useFocus()
  const linkId = ref<string | null>(null)
  const chosen = computed<Chosen>(() => {
    if (linkId.value !== null) return { kind: 'link', id: linkId.value }
    const id = focus.value?.id
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
  /** Chooses a link or a node; null: the network as a whole. */
  function choose(next: Chosen): void {
    linkId.value = next?.kind === 'link' ? next.id : null
    const network = wired.value?.network.id ?? ''
    if (next?.kind === 'node')
      void setFocus({ kind: next.id === network ? 'network' : 'station', id: next.id })
    else if (next === null) void setFocus({ kind: 'network', id: network })
  }
  return { chosen, choose, link }
}

function useWhatIf(
  all: { readonly value: readonly WiredNetwork[] },
  networkId: { readonly value: Id | null },
) {
  const cut = ref<ReadonlySet<string>>(new Set())
  const lost = ref<ReadonlySet<Id>>(new Set())
  watch(networkId, () => clear())
  function clear(): void {
    cut.value = new Set()
    lost.value = new Set()
  }
  const turned = <T>(set: ReadonlySet<T>, one: T): ReadonlySet<T> => {
    const next = new Set(set)
    if (!next.delete(one)) next.add(one)
    return next
  }
  const turnLink = (id: string) => (cut.value = turned(cut.value, id))
  const turnNode = (id: Id) => (lost.value = turned(lost.value, id))
  /** What happens if this alone fails. */
  function ask(what: Chosen): void {
    clear()
    if (what?.kind === 'link') turnLink(what.id)
    else if (what) turnNode(what.id)
  }
  const isAsked = computed(() => cut.value.size + lost.value.size > 0)
  const outcomes = computed<readonly Outcome[]>(() =>
    isAsked.value
      ? all.value.map((one) => whatIf(one, { links: cut.value, nodes: lost.value }))
      : [],
  )
  const fateOf = computed<ReadonlyMap<Id, Fate>>(() => {
    const fates = new Map<Id, Fate>()
    for (const { unreachable, drops, ridesThrough } of outcomes.value) {
      for (const { id } of unreachable) fates.set(id, 'unreachable')
      for (const { id } of drops) fates.set(id, 'drops')
      for (const { id } of ridesThrough) fates.set(id, 'rides')
    }
    return fates
  })
  const lostTags = computed(() =>
    outcomes.value.flatMap(({ unreachable }) => unreachable.flatMap(tagsOf)),
  )
  return { cut, lost, clear, ask, turnLink, turnNode, isAsked, fateOf, lostTags }
}
