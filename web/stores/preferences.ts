import { usePreferredDark, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watchEffect } from 'vue'
import type { NotationName } from '@kataxis/core'

/** What this browser remembers of its user. */
export const usePreferences = defineStore('preferences', () => {
  const wish = useStorage<'light' | 'dark' | 'system'>('kataxis.theme', 'system')
  const systemDark = usePreferredDark()
  const theme = computed<'light' | 'dark'>(() =>
    wish.value === 'system' ? (systemDark.value ? 'dark' : 'light') : wish.value,
  )
  watchEffect(() => document.documentElement.setAttribute('data-theme', theme.value))
  /** For a moment addresses may be written in another notation than their controllers ask; not
   *  remembered. */
  const notation = ref<NotationName | ''>('')
  const toggleTheme = () => (wish.value = theme.value === 'dark' ? 'light' : 'dark')
  return { theme, notation, toggleTheme }
})
