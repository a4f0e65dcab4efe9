import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { may as roleMay, wordMissingRight, type Right } from '@kataxis/core'
import { api, ServerAway, sessionWord, type Access, type Session, type User } from '../api/client'
import { Patience, pause } from './waiting'

/** Who is signed in, and what that allows. The server checks everything anew. */
export const useSession = defineStore('session', () => {
  const session = shallowRef<Session | null>(null)
  const sentence = ref('')
  /** Whose work stands on the screen: it stays when the session ends by itself. */
  const guest = ref<string | null>(null)
  /** Known from before; nobody has said yet that it still holds. */
  const isRemembered = ref(false)
  const user = computed(() => session.value?.user ?? null)
  /** What holds in the project that is open, where the server has said so. */
  const access = shallowRef<Access | null>(null)

  function take(next: Session): void {
    session.value = next
    sessionWord.csrf = next.csrf ?? ''
    isRemembered.value = false
    if (next.user) {
      guest.value = next.user.id
      remembered.put(next.user)
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
  const load = oneAtATime(() =>
    ask(take, (error) => {
      sentence.value = `${error.message} It is tried again by itself.`
      const known = session.value || !(error instanceof ServerAway) ? null : remembered.get()
      if (!known) return
      isRemembered.value = true
      session.value = { user: known, csrf: null, needsOwner: false, demo: null }
      guest.value = known.id
    }),
  )
  const signIn = (name: string, password: string) => attempt(() => api.signIn(name, password))
  const becomeOwner = (name: string, fullName: string, password: string) =>
    attempt(() => api.becomeOwner(name, fullName, password))
  async function signOut(): Promise<void> {
    await api.signOut().catch(() => undefined)
    guest.value = null
    remembered.forget()
    await load()
  }
  sessionWord.onLost = () => {
    if (user.value) void load()
  }

  const whyNot = (right: Right) => whyMayNot(user.value, right, access.value)
  const may = (right: Right) => whyNot(right) === null
  return {
    ...{ session, isRemembered, user, guest, sentence, access },
    ...{ load, signIn, becomeOwner, signOut, may, whyNot },
  }
})

const key = 'kataxis.user'
/** Who was signed in here last: the page can start with it while the server is away. */
const remembered = {
  get(): User | null {
    const text = localStorage.getItem(key)
    return text === null ? null : (JSON.parse(text) as User)
  },
  put: (user: User) => localStorage.setItem(key, JSON.stringify(user)),
  forget: () => localStorage.removeItem(key),
}

/** Asks until the server answers; ends where it cannot be helped by waiting. */
async function ask(take: (session: Session) => void, failed: (error: Error) => void) {
  for (const patience = new Patience(); ;) {
    try {
      return take(await api.session())
    } catch (error) {
      failed(error as Error)
      if (!(error instanceof ServerAway)) return
      await pause(patience.next())
    }
  }
}

/** Who asks while the work is under way waits for the same one. */
function oneAtATime(work: () => Promise<void>): () => Promise<void> {
  let running: Promise<void> | null = null
  return () => (running ??= work().finally(() => (running = null)))
}

/** Why somebody may not do that; null where he may. */
function whyMayNot(user: User | null, right: Right, access: Access | null): string | null {
  if (!user) return 'You are not signed in.'
  if (access?.state === 'archived' && right !== 'read') return archivedWords
  const role = access?.role ?? user.role
  return roleMay(role, right) ? null : wordMissingRight(role, right)
}
const archivedWords =
  'This project is archived and can only be looked at; restore it on the projects page to change it.'
