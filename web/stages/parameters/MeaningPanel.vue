<script setup lang="ts">
import {
  commonMeanings,
  meaningOf,
  meanings,
  meaningWords,
  type Meaning,
  type PlacedRecord,
} from '@kataxis/core'
import { NButton, NCollapse, NCollapseItem } from 'naive-ui'
import { computed, ref } from 'vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'

/** What the parameters of this module mean in everybody's words, and rules of the project for names
 *  that the common ones do not know. */
const props = defineProps<{ records: readonly PlacedRecord[] }>()
const project = useProject()
const own = computed(() => project.plan!.project.meanings)
const words = ref('')
const meaning = ref<Meaning>('range')
const recognised = computed(() => {
  const names = new Map<string, Meaning | null>()
  for (const { record, isFailSafe } of props.records)
    if (!isFailSafe)
      for (const parameter of record.parameters)
        names.set(parameter.name, meaningOf(parameter, own.value))
  return [...names].map(([name, means]) => ({ name, means }))
})
const write = (next: typeof own.value) =>
  project.run({ type: 'setProject', set: { meanings: next } })
function add(): void {
  if (
    words.value.trim() !== '' &&
    write([{ words: words.value.trim(), meaning: meaning.value }, ...own.value])
  )
    words.value = ''
}
</script>

<template>
  <NCollapse
    ><NCollapseItem name="it" title="Meaning of these parameters">
      <p class="quiet">
        Recognised by words in the name, so that the Ledger and the findings know a range from a
        filter whatever its maker calls it.
      </p>
      <ul>
        <li v-for="one in recognised.slice(0, 30)" :key="one.name">
          <strong>{{ one.name }}</strong>
          {{ one.means ? meaningWords[one.means] : 'nothing known' }}
        </li>
      </ul>
      <form @submit.prevent="add">
        <TextField
          v-model:value="words"
          label="Words in the name"
          placeholder="words in the name, by |"
        />
        <PickField
          v-model:value="meaning"
          label="Meaning"
          :options="meanings.map((one) => ({ value: one, label: meaningWords[one] }))"
        />
        <NButton size="small" attr-type="submit">Add a rule</NButton>
      </form>
      <ul>
        <li v-for="(rule, i) in own" :key="rule.words + rule.meaning">
          <span class="mono">{{ rule.words }}</span> {{ meaningWords[rule.meaning] }}
          <NButton
            size="small"
            quaternary
            :aria-label="`Remove the rule for ${rule.words}`"
            @click="write(own.filter((_, at) => at !== i))"
          >
            ×
          </NButton>
        </li>
      </ul>
      <p class="quiet">Behind these come {{ commonMeanings.length }} common rules.</p>
    </NCollapseItem></NCollapse
  >
</template>

<style scoped>
form {
  display: flex;
  gap: 6px;
  margin: 6px 0;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
</style>
