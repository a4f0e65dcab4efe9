import { useThrottleFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { newId } from '@kataxis/core'
import { api, type Presence } from '../api/client'
import { useLive } from './live'
import { useProject } from './project'

const sayAgainMs = 15_000
/** Who was not heard of for so long is gone. */
const goneAfterMs = 40_000

/** Who else looks at the project, and at which thing. Nobody keeps a list: each browser says where
 *  it is, and the others listen. */
export const usePresence = defineStore('presence', () => {
  const project = useProject()
  const client = newId()
  const heard = shallowRef<ReadonlyMap<string, Presence & { seen: number }>>(new Map())
  const place = ref<string | null>(null)

  const people = computed(() => [...heard.value.values()])
  /** Initials by the thing somebody looks at. */
  const others = computed<ReadonlyMap<string, string>>(
    () =>
      new Map(
        people.value.flatMap(({ at, author }) => (at === null ? [] : [[at, initialsOf(author)]])),
      ),
  )

  const send = (asks: boolean) =>
    project.id !== '' &&
    void api.sayPresence(project.id, { client, at: place.value, asks }).catch(() => undefined)
  const say = useThrottleFn(() => send(false), 400, true)

  function at(thing: string | null): void {
    place.value = thing
    void say()
  }

  function hear(said: Presence): void {
    if (said.client === client) return
    heard.value = new Map(heard.value).set(said.client, { ...said, seen: Date.now() })
    if (said.asks) void say()
  }

  setInterval(() => {
    void say()
    const left = [...heard.value].filter(([, { seen }]) => Date.now() - seen < goneAfterMs)
    if (left.length < heard.value.size) heard.value = new Map(left)
  }, sayAgainMs)

  // For one who has just begun to listen: everybody answers.
  useLive().listen({ presence: hear, heard: (isUp) => isUp && send(true) })

  function forget(): void {
    heard.value = new Map()
  }

  return { people, others, at, hear, forget }
})

export function initialsOf(author: string): string {
  return author
    .split(/\s+/)
    .map((word) => word[0] ?? '')
    .join('')
    .slice(0, 2)
    .toUpperCase()
}
