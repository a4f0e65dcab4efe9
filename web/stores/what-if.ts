import {
  tagsOfOutcome,
  whatIfInPlan,
  wiredNetworks,
  wordOnLoss,
  type DerivedStation,
  type Id,
  type StationChannel,
} from '@kataxis/core'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { useProject } from './project'

/** What becomes of a station in a what-if. */
export type Fate = 'unreachable' | 'drops' | 'rides'
export const fateWords: Readonly<Record<Fate, string>> = {
  unreachable: 'unreachable',
  drops: 'drops out, comes back',
  rides: 'rides through',
}

/** What is to fail in the open project, and what that costs: shown by every stage alike. */
export const useWhatIf = defineStore('what-if', () => {
  const project = useProject()
  const cut = ref<ReadonlySet<string>>(new Set())
  /** Stations, supplies, and controllers' interfaces by the id of their network. */
  const lost = ref<ReadonlySet<Id>>(new Set())
  watch(
    () => project.id,
    () => clear(),
  )
  function clear(): void {
    cut.value = new Set()
    lost.value = new Set()
  }
  const turned = <T>(set: ReadonlySet<T>, one: T): ReadonlySet<T> => {
    const next = new Set(set)
    if (!next.delete(one)) next.add(one)
    return next
  }
  const turnLink = (id: string) => void (cut.value = turned(cut.value, id))
  const turnNode = (id: Id) => void (lost.value = turned(lost.value, id))

  const isAsked = computed(() => cut.value.size + lost.value.size > 0)
  const outcome = computed(() =>
    isAsked.value && project.derived
      ? whatIfInPlan(project.derived, { links: cut.value, nodes: lost.value })
      : null,
  )
  const fateOf = computed<ReadonlyMap<Id, Fate>>(() => {
    const of = (fate: Fate, views: readonly DerivedStation[] = []) =>
      views.map(({ id }) => [id, fate] as const)
    return new Map([
      ...of('unreachable', outcome.value?.unreachable),
      ...of('drops', outcome.value?.drops),
      ...of('rides', outcome.value?.ridesThrough),
    ])
  })
  const unfed = computed(() => new Set(outcome.value?.unfed.map(({ id }) => id)))
  const lostTags = computed(() => (outcome.value ? tagsOfOutcome(outcome.value) : []))

  /** What becomes of a channel, in words; of outputs also what they do. Null: nothing. */
  function wordChannel(listed: StationChannel): string | null {
    const fate = unfed.value.has(listed.module.id) ? 'no supply' : fateOf.value.get(listed.view.id)
    if (fate === undefined) return null
    if (fate === 'no supply') return fate
    if (fate === 'rides' || listed.channel.direction === 'in' || !project.derived)
      return fateWords[fate]
    const { view, module, channel } = listed
    const { project: rules } = project.derived.plan
    const onLoss = wordOnLoss(project.catalog, view, module, channel, rules)
    return `${fateWords[fate]}; ${onLoss ?? 'what it does is not said'}`
  }

  /** Whether the value of a channel is lost, for good or for a moment. */
  const isGone = ({ module, view }: StationChannel) =>
    unfed.value.has(module.id) ||
    ['unreachable', 'drops'].includes(fateOf.value.get(view.id) ?? 'rides')
  /** A signal that is lost, to begin with. */
  const firstLost = computed<Id | null>(() => {
    const { unreachable = [], unfed: modules = [] } = outcome.value ?? {}
    const named = [...unreachable.flatMap(({ modules: all }) => all), ...modules].flatMap(
      ({ signals }) => [...signals.values()].filter(({ tag }) => tag !== ''),
    )
    return named[0]?.id ?? null
  })

  /** What fails, each with what takes it back. */
  const failing = computed(() => {
    const { derived } = project
    if (!derived || !isAsked.value) return []
    const networks = wiredNetworks(derived)
    const nameOf = (id: Id) =>
      derived.stations.get(id)?.station.name ||
      networks.find(({ network }) => network.id === id)?.nodes[0]?.name ||
      '(no name)'
    const links = networks.flatMap((one) => one.links.filter(({ id }) => cut.value.has(id)))
    return [
      ...[...new Map(links.map((one) => [one.id, one])).values()].map(({ id, link, from, to }) => ({
        id,
        words: `cut ${link.label || `${nameOf(from.node)} – ${nameOf(to.node)}`}`,
        back: () => turnLink(id),
      })),
      ...[...lost.value].map((id) => ({
        id,
        words: `lose ${nameOf(id)}`,
        back: () => turnNode(id),
      })),
    ]
  })
  return {
    ...{ cut, lost, isAsked, outcome, fateOf, unfed, lostTags, failing },
    ...{ clear, turnLink, turnNode, wordChannel, isGone, firstLost },
  }
})
