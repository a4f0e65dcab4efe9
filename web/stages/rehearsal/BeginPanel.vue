<script setup lang="ts">
import type { Difficulty, RehearsalWish } from '@kataxis/core'
import { NButton, NInputNumber, NRadio, NRadioGroup } from 'naive-ui'
import { ref } from 'vue'

/** How much is otherwise on site than planned; which things they are is told at the end. */
defineProps<{ busy: boolean; canCancel: boolean }>()
const emit = defineEmits<{ begin: [wish: RehearsalWish]; cancel: [] }>()
const difficulty = ref<Difficulty>('few')
const seed = ref<number | null>(null)
const choices: readonly (readonly [Difficulty, string, string])[] = [
  ['none', 'No differences', 'Everything is as planned; shows that the plan can start.'],
  ['few', 'A few differences', 'Up to four, as on a good day.'],
  ['badDay', 'A bad day', 'About one station in four.'],
]
function begin() {
  emit('begin', {
    difficulty: difficulty.value,
    ...(seed.value === null ? {} : { seed: seed.value }),
  })
}
</script>

<template>
  <section class="begin" aria-label="New rehearsal">
    <h2>New rehearsal</h2>
    <p>
      Stand-ins take the place of all planned stations. What differs from the plan is hidden until
      the end.
    </p>
    <NRadioGroup v-model:value="difficulty" aria-label="Difficulty">
      <p v-for="[value, label, says] in choices" :key="value" class="choice">
        <NRadio :value="value">{{ label }}</NRadio> <span class="quiet">{{ says }}</span>
      </p>
    </NRadioGroup>
    <p class="seed">
      <label for="seed">Seed, for the same differences again</label>
      <NInputNumber
        v-model:value="seed"
        size="small"
        :min="0"
        :max="4294967295"
        :precision="0"
        placeholder="by chance"
        :input-props="{ id: 'seed' }"
      />
    </p>
    <p class="buttons">
      <NButton type="primary" :disabled="busy" @click="begin">Begin and scan</NButton>
      <NButton v-if="canCancel" quaternary @click="emit('cancel')">Cancel</NButton>
    </p>
  </section>
</template>

<style scoped>
.begin {
  border: 1px solid var(--line);
  border-left: 5px solid var(--accent);
  padding: 14px 18px;
  max-width: 720px;
  display: grid;
  gap: 8px;
}
.choice {
  margin: 2px 0;
}
.seed,
.buttons {
  display: flex;
  gap: 10px;
  align-items: center;
  font: 13px/1.3 var(--narrow);
}
</style>
