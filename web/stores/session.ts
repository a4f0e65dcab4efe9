import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { may as roleMay, wordMissingRight, type Right } from '@kataxis/core'
import { api, sessionWord, type Session } from '../api/client'

/** Who is signed in, and what that allows. The server checks everything anew. */
export const useSession = defineStore('session', () => {
  const session = shallowRef<Session | null>(null)
  const sentence = ref('')
  /** Whose work stands on the screen: it stays when the session ends by itself. */
  const guest = ref<string | null>(null)
  const user = computed(() => session.value?.user ?? null)

  function take(next: Session): void {
    session.value = next
    sessionWord.csrf = next.csrf ?? ''
    if (next.user) guest.value = next.user.id
    sentence.value = ''
  }
  async function attempt(work: () => Promise<Session>): Promise<void> {
    try {
      take(await work())
    } catch (error) {
      sentence.value = (error as Error).message
    }
  }
  const load = () => attempt(api.session)
  const signIn = (name: string, password: string) => attempt(() => api.signIn(name, password))
  const becomeOwner = (name: string, fullName: string, password: string) => attempt(() => api.becomeOwner(name, fullName, password))
  async function signOut(): Promise<void> {
    await api.signOut().catch(() => undefined)
    guest.value = null
    await load()
  }
  sessionWord.onLost = () => {
    if (user.value) void load()
  }

  /** Why somebody may not do that; null where he may. */
  const whyNot = (right: Right) => (!user.value ? 'You are not signed in.' : roleMay(user.value.role, right) ? null : wordMissingRight(user.value.role, right))
  const may = (right: Right) => whyNot(right) === null
  return { session, user, guest, sentence, load, signIn, becomeOwner, signOut, may, whyNot }
})
