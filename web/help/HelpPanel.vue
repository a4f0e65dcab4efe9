<script setup lang="ts">
import { NTable } from 'naive-ui'
import { computed } from 'vue'
import DialogBox from '../parts/DialogBox.vue'
import { everywhere, stageKeys } from './keys'
import { stageHelp } from './stage-help'

/** What the stage is for, how to begin, its keys, and its page of the manual. */
const props = defineProps<{ stage: string }>()
defineEmits<{ close: [] }>()
const help = computed(() => stageHelp[props.stage])
const keys = computed(() => [...(stageKeys[props.stage] ?? []), ...everywhere])
</script>

<template>
  <DialogBox :title="help ? `Help: ${help.title}` : 'Help'" wide @close="$emit('close')">
    <template v-if="help">
      <p>{{ help.isFor }}</p>
      <ol>
        <li v-for="step in help.steps" :key="step">{{ step }}</li>
      </ol>
      <p>
        <a :href="`/docs/${help.page}`" target="_blank" rel="noopener"
          >The manual’s page about it</a
        >
        · <a href="/docs/using.md" target="_blank" rel="noopener">The whole manual</a>
      </p>
    </template>
    <h3>Keys</h3>
    <NTable size="small" :bordered="false">
      <tbody>
        <tr v-for="[key, does] in keys" :key="key">
          <th scope="row">
            <kbd>{{ key }}</kbd>
          </th>
          <td>{{ does }}</td>
        </tr>
      </tbody>
    </NTable>
  </DialogBox>
</template>

<style scoped>
ol {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 4px;
}
a {
  color: inherit;
}
th {
  width: 260px;
  background: transparent;
}
kbd {
  font: 500 12px/1.4 var(--sans);
}
</style>
