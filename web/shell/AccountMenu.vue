<script setup lang="ts">
import TextField from '../parts/TextField.vue'
import LinkButton from '../parts/LinkButton.vue'
import { NButton } from 'naive-ui'
import { onClickOutside } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { roles } from '@kataxis/core'
import { api } from '../api/client'
import { initialsOf } from '../stores/presence'
import { useSession } from '../stores/session'

/** Who is signed in, and the way out. */
const session = useSession()
const isOpen = ref(false)
const menu = ref<HTMLElement>()
onClickOutside(menu, () => (isOpen.value = false))
const role = computed(() => (session.user ? roles[session.user.role] : null))

const noPasswords = { current: '', password: '' }
const passwords = ref<typeof noPasswords | null>(null)
const told = ref('')
async function changePassword({ current, password }: typeof noPasswords): Promise<void> {
  try {
    await api.changePassword(current, password)
    passwords.value = null
    told.value = 'The new password holds.'
  } catch (error) {
    told.value = (error as Error).message
  }
}
watch(isOpen, () => {
  passwords.value = null
  told.value = ''
})
</script>

<template>
  <div v-if="session.user && role" ref="menu" class="account" @keydown.esc.stop="isOpen = false">
    <button
      class="who"
      :title="`${session.user.fullName}, ${role.name}`"
      :aria-label="`Signed in as ${session.user.fullName}, ${role.name}`"
      :aria-expanded="isOpen"
      @click="isOpen = !isOpen"
    >
      {{ initialsOf(session.user.fullName) }}
    </button>
    <div v-if="isOpen" class="menu">
      <strong>{{ session.user.fullName }}</strong>
      <span class="quiet">{{ role.name }}: {{ role.says }}</span>
      <LinkButton size="small" v-if="session.may('own')" to="/accounts" @click="isOpen = false"
        >Accounts</LinkButton
      >
      <form v-if="passwords" class="stacked" @submit.prevent="changePassword(passwords)">
        <TextField
          label="Present password"
          shown
          v-model:value="passwords.current"
          type="password"
          :more="{ required: true, autocomplete: 'current-password' }"
        />
        <TextField
          label="New password"
          shown
          v-model:value="passwords.password"
          type="password"
          :more="{ required: true, autocomplete: 'new-password' }"
        />
        <NButton size="small" type="primary" attr-type="submit">Change it</NButton>
      </form>
      <NButton size="small" v-else @click="((passwords = { ...noPasswords }), (told = ''))">
        Change password
      </NButton>
      <p v-if="told" class="told" role="status">{{ told }}</p>
      <NButton size="small" @click="session.signOut()">Sign out</NButton>
    </div>
  </div>
</template>

<style scoped>
.account {
  position: relative;
}
.who {
  width: 28px;
  height: 28px;
  border-radius: 50%;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font: 600 11px/1 var(--sans);
  cursor: pointer;
}
.menu {
  position: absolute;
  right: 0;
  top: 36px;
  z-index: 40;
  width: 230px;
  display: grid;
  gap: 8px;
  justify-items: start;
  padding: 12px;
  background: var(--paper);
  border: 1px solid var(--line);
  box-shadow: 0 6px 22px var(--veil);
  font: 13px/1.4 var(--narrow);
}
.menu form {
  justify-self: stretch;
}
.menu form .n-button {
  justify-self: start;
}
</style>
