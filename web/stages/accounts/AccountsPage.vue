<script setup lang="ts">
import { roleNames, roles, type RoleName } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { onMounted, ref } from 'vue'
import { api, type User } from '../../api/client'
import PickField from '../../parts/PickField.vue'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import TextField from '../../parts/TextField.vue'
import { useSession } from '../../stores/session'

/** Accounts and their roles; for owners. */
const session = useSession()
const users = ref<User[]>([])
const sentence = ref('')
const draft = ref({ name: '', fullName: '', role: 'planner' as RoleName, password: '' })

const columns: readonly RowColumn<User>[] = [
  { key: 'name', title: 'Name', isMono: true },
  { key: 'fullName', title: 'Full name' },
  { key: 'role', title: 'Role', width: 190, choices: true, text: ({ role }) => roles[role].name },
  { key: 'password', title: 'New password', width: 210, isFixed: true },
  { key: 'remove', title: '', width: 90, isFixed: true },
]

async function act(work: () => Promise<unknown>): Promise<boolean> {
  sentence.value = ''
  let isDone = true
  try {
    await work()
  } catch (error) {
    sentence.value = (error as Error).message
    isDone = false
  }
  // A refused choice goes back to what holds.
  users.value = (await api.users().catch(() => ({ users: [] }))).users
  return isDone
}
onMounted(() => act(async () => undefined))
async function add(): Promise<void> {
  if (await act(() => api.addUser(draft.value)))
    draft.value = { name: '', fullName: '', role: 'planner', password: '' }
}
const passwords = ref<Record<string, string>>({})
async function setPassword(id: string): Promise<void> {
  if (await act(() => api.changeUser(id, { password: passwords.value[id] ?? '' })))
    passwords.value[id] = ''
}
</script>

<template>
  <main class="page">
    <p><RouterLink to="/">← All projects</RouterLink></p>
    <h1>Accounts</h1>
    <p v-if="!session.may('own')" role="alert">{{ session.whyNot('own') }}</p>
    <template v-else>
      <RowTable
        label="Accounts"
        :rows="users"
        :columns="columns"
        :key-of="({ id, role }) => `${id} ${role}`"
        height="52vh"
      >
        <template #role="{ row: user }">
          <PickField
            :label="`Role of ${user.name}`"
            :value="user.role"
            :options="roleNames.map((role) => ({ value: role, label: roles[role].name }))"
            @update:value="(role) => act(() => api.changeUser(user.id, { role }))"
          />
        </template>
        <template #password="{ row: user }">
          <form class="pair" @submit.prevent="setPassword(user.id)">
            <TextField
              v-model:value="passwords[user.id]"
              :label="`New password of ${user.name}`"
              type="password"
              :more="{ autocomplete: 'new-password' }"
            /><NButton size="small" attr-type="submit" :disabled="!passwords[user.id]">Set</NButton>
          </form>
        </template>
        <template #remove="{ row: user }">
          <NButton
            size="small"
            :aria-label="`Remove ${user.name}`"
            :disabled="user.id === session.user?.id"
            @click="act(() => api.removeUser(user.id))"
          >
            Remove
          </NButton>
        </template>
      </RowTable>
      <form class="draft" @submit.prevent="add">
        <TextField
          v-model:value="draft.name"
          label="Name"
          shown
          :more="{ required: true, maxlength: 60, autocomplete: 'off' }"
        />
        <TextField
          v-model:value="draft.fullName"
          label="Full name"
          shown
          :more="{ maxlength: 100, autocomplete: 'off' }"
        />
        <PickField
          v-model:value="draft.role"
          label="Role"
          shown
          :options="
            roleNames.map((role) => ({
              value: role,
              label: `${roles[role].name}: ${roles[role].says}`,
            }))
          "
        />
        <TextField
          v-model:value="draft.password"
          label="Password"
          shown
          type="password"
          :more="{ required: true, autocomplete: 'new-password' }"
        />
        <NButton type="primary" attr-type="submit">Add</NButton>
      </form>
      <p v-if="sentence" class="told" role="alert">{{ sentence }}</p>
    </template>
  </main>
</template>

<style scoped>
.page {
  max-width: 920px;
  margin: 0 auto;
  padding: 5vh 20px;
  display: grid;
  gap: 18px;
}
.pair {
  display: flex;
  gap: 6px;
}
.draft {
  display: grid;
  grid-template-columns: 1fr 1fr 1.4fr 1fr auto;
  gap: 10px;
  align-items: end;
}
a {
  color: inherit;
}
</style>
