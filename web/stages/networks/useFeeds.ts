import {
  consumersOf,
  suppliesOf,
  type CommandOf,
  type Consumer,
  type Fed,
  type Supply,
} from '@kataxis/core'
import { computed } from 'vue'
import { useProject } from '../../stores/project'
import { conductorOf, keyOfConsumer, noSupply, supplyChoices } from './feed-words'

/** The supplies of the plan, what takes current from them, and how that is changed. */
export function useFeeds() {
  const project = useProject()
  const supplies = computed<readonly Supply[]>(() =>
    project.derived ? suppliesOf(project.derived) : [],
  )
  const choices = computed(() => (project.derived ? supplyChoices(project.derived) : []))
  const fed = computed(
    () =>
      new Map<string, Fed>(
        supplies.value.flatMap((supply) => supply.fed.map((one) => [keyOfConsumer(one), one])),
      ),
  )
  /** All that takes current: of the stations of the plan that are no supplies themselves, or hang on
   *  one. */
  const consumers = computed<readonly Consumer[]>(() =>
    [...(project.derived?.stations.values() ?? [])]
      .filter(({ device, station }) => !device?.source || station.feed)
      .flatMap(consumersOf),
  )
  type Words = CommandOf<'setFeeds'>['edits'][number]['set']
  const set = ({ at }: Consumer, words: Words) =>
    void project.run({ type: 'setFeeds', edits: [{ at, set: words }] })
  const hang = (one: Consumer, from: string) => set(one, from === noSupply ? null : { from })
  const setConductor = (one: Consumer, value: string) => set(one, conductorOf(value))
  return { supplies, choices, fed, consumers, set, hang, setConductor }
}
