import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { may as roleMay, wordMissingRight, type Right } from '@kataxis/core'
import { api, ServerAway, sessionWord, type Session, type User } from '../api/client'

/** Who was signed in here last: the page can start with it while the server is away. */
const remembered = 'kataxis.user'
const firstRetryMs = 1500
const longestRetryMs = 15_000

/** Who is signed in, and what that allows. The server checks everything anew. */
export const useSession = defineStore('session', () => {
  const session = shallowRef<Session | null>(null)
  const sentence = ref('')
  /** Whose work stands on the screen: it stays when the session ends by itself. */
  const guest = ref<string | null>(null)
  const user = computed(() => session.value?.user ?? null)

  let loading: Promise<void> | null = null
  /** Known from before; nobody has said yet that it still holds. */
  const isRemembered = ref(false)

  function take(next: Session): void {
    session.value = next
    sessionWord.csrf = next.csrf ?? ''
    isRemembered.value = false
    if (next.user) {
      guest.value = next.user.id
      localStorage.setItem(remembered, JSON.stringify(next.user))
    }
    sentence.value = ''
  }
  async function attempt(work: () => Promise<Session>): Promise<void> {
    try {
      take(await work())
    } catch (error) {
      sentence.value = (error as Error).message
    }
  }
  /** Asks who is signed in; while the server is away the page starts with whom it remembers, and
   *  asks again by itself. */
  function load(): Promise<void> {
    loading ??= asking().finally(() => (loading = null))
    return loading
  }
  async function asking(): Promise<void> {
    for (let waitMs = firstRetryMs; ; waitMs = Math.min(longestRetryMs, waitMs * 1.6)) {
      try {
        return take(await api.session())
      } catch (error) {
        sentence.value = `${(error as Error).message} It is tried again by itself.`
        if (!(error instanceof ServerAway)) return
        if (!session.value) startRemembered()
        await new Promise((go) => setTimeout(go, waitMs))
      }
    }
  }
  function startRemembered(): void {
    const text = localStorage.getItem(remembered)
    if (text === null) return
    const known = JSON.parse(text) as User
    isRemembered.value = true
    session.value = { user: known, csrf: null, needsOwner: false, demo: null }
    guest.value = known.id
  }
  const signIn = (name: string, password: string) => attempt(() => api.signIn(name, password))
  const becomeOwner = (name: string, fullName: string, password: string) =>
    attempt(() => api.becomeOwner(name, fullName, password))
  async function signOut(): Promise<void> {
    await api.signOut().catch(() => undefined)
    guest.value = null
    localStorage.removeItem(remembered)
    await load()
  }
  sessionWord.onLost = () => {
    if (user.value) void load()
  }

  /** Why somebody may not do that; null where he may. */
  const whyNot = (right: Right) =>
    !user.value
      ? 'You are not signed in.'
      : roleMay(user.value.role, right)
        ? null
        : wordMissingRight(user.value.role, right)
  const may = (right: Right) => whyNot(right) === null
  return {
    session,
    isRemembered,
    user,
    guest,
    sentence,
    load,
    signIn,
    becomeOwner,
    signOut,
    may,
    whyNot,
  }
})
