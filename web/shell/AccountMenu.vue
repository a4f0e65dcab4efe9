<script setup lang="ts">
import { roles } from '@kataxis/core'
import { NButton, NPopover } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import LinkButton from '../parts/LinkButton.vue'
import TextField from '../parts/TextField.vue'
import { initialsOf } from '../stores/presence'
import { useSession } from '../stores/session'

/** Who is signed in, and the way out. */
const session = useSession()
const isOpen = ref(false)
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
  <NPopover
    v-if="session.user && role"
    v-model:show="isOpen"
    trigger="click"
    placement="bottom-end"
    :show-arrow="false"
  >
    <template #trigger>
      <NButton
        circle
        class="who"
        :title="`${session.user.fullName}, ${role.name}`"
        :aria-label="`Signed in as ${session.user.fullName}, ${role.name}`"
        :aria-expanded="isOpen"
        >{{ initialsOf(session.user.fullName) }}</NButton
      >
    </template>
    <div class="menu" @keydown.esc.stop="isOpen = false">
      <strong>{{ session.user.fullName }}</strong>
      <span class="quiet">{{ role.name }}: {{ role.says }}</span>
      <LinkButton v-if="session.may('own')" size="small" to="/accounts" @click="isOpen = false"
        >Accounts</LinkButton
      >
      <form v-if="passwords" class="stacked" @submit.prevent="changePassword(passwords)">
        <TextField
          v-model:value="passwords.current"
          label="Present password"
          shown
          type="password"
          :more="{ required: true, autocomplete: 'current-password' }"
        />
        <TextField
          v-model:value="passwords.password"
          label="New password"
          shown
          type="password"
          :more="{ required: true, autocomplete: 'new-password' }"
        />
        <NButton size="small" type="primary" attr-type="submit">Change password</NButton>
      </form>
      <NButton v-else size="small" @click="((passwords = { ...noPasswords }), (told = ''))">
        Change password
      </NButton>
      <p v-if="told" class="told" role="status">{{ told }}</p>
      <NButton size="small" @click="session.signOut()">Sign out</NButton>
    </div>
  </NPopover>
</template>

<style scoped>
.who {
  font: 600 11px/1 var(--sans);
}
.menu {
  width: 230px;
  display: grid;
  gap: 8px;
  justify-items: start;
  font: 13px/1.4 var(--narrow);
}
.menu form {
  justify-self: stretch;
}
.menu form .n-button {
  justify-self: start;
}
</style>
