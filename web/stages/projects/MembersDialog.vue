<script setup lang="ts">
import { roleNames, roles, type ListedProject, type RoleName } from '@kataxis/core'
import { NButton, NRadio, NRadioGroup, NSpin } from 'naive-ui'
import { computed, onMounted, ref } from 'vue'
import { api, type User } from '../../api/client'
import { plainChoices, type Choice } from '../../parts/choices'
import DialogBox from '../../parts/DialogBox.vue'
import PickField from '../../parts/PickField.vue'

/** Who may enter a project: everyone with an account, or its members, each in a role. */
const props = defineProps<{ project: ListedProject }>()
const emit = defineEmits<{ close: [] }>()
const people = ref<readonly User[] | null>(null)
const isOpen = ref(true)
/** The role of each account in the project; none where it is no member. */
const roleOf = ref<Record<string, RoleName | 'none'>>({})
const sentence = ref('')

onMounted(async () => {
  try {
    const answer = await api.members(props.project.id)
    roleOf.value = Object.fromEntries(
      answer.people.map(({ id }) => [
        id,
        answer.members.find(({ userId }) => userId === id)?.role ?? 'none',
      ]),
    )
    isOpen.value = answer.isOpen
    people.value = answer.people
  } catch (error) {
    sentence.value = (error as Error).message
  }
})
const choices: readonly Choice<RoleName | 'none'>[] = [
  { value: 'none', label: 'No member' },
  ...plainChoices(roleNames).map(({ value }) => ({ value, label: roles[value].name })),
]
const members = computed(() =>
  Object.entries(roleOf.value).flatMap(([userId, role]) =>
    role === 'none' ? [] : [{ userId, role }],
  ),
)
async function save() {
  try {
    await api.setMembers(props.project.id, { isOpen: isOpen.value, members: members.value })
    emit('close')
  } catch (error) {
    sentence.value = (error as Error).message
  }
}
</script>

<template>
  <DialogBox :title="`Members of ${project.name}`" @close="emit('close')">
    <NSpin v-if="people === null && sentence === ''" />
    <form v-else class="form" @submit.prevent="save">
      <NRadioGroup v-model:value="isOpen" name="open-to" aria-label="Open to">
        <NRadio :value="true">Everyone with an account, in the account’s role</NRadio>
        <NRadio :value="false">Members only, each in the role chosen here</NRadio>
      </NRadioGroup>
      <div v-if="!isOpen" class="people">
        <template v-for="person in people" :key="person.id">
          <span
            >{{ person.fullName }}
            <small class="quiet">{{ roles[person.role].name }} by account</small></span
          >
          <span v-if="person.role === 'owner'" class="quiet">enters every project</span>
          <PickField
            v-else
            v-model:value="roleOf[person.id]!"
            :label="`Role of ${person.fullName}`"
            :options="choices"
          />
        </template>
      </div>
      <p v-if="sentence" class="told" role="alert">{{ sentence }}</p>
      <div class="actions">
        <NButton type="primary" attr-type="submit">Apply</NButton>
        <NButton @click="emit('close')">Cancel</NButton>
      </div>
    </form>
  </DialogBox>
</template>

<style scoped>
.n-radio-group {
  display: grid;
  gap: 6px;
}
.people {
  display: grid;
  grid-template-columns: 1fr 200px;
  gap: 6px 14px;
  align-items: center;
  max-height: 46vh;
  overflow: auto;
}
</style>
