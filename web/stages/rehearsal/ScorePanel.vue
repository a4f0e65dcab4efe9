<script setup lang="ts">
import { numbered, type Scored } from '@kataxis/core'
import { NTable } from 'naive-ui'
import { computed } from 'vue'
import { wordDifference } from './difference-words'

/** What was otherwise than planned, and what became of it. */
const props = defineProps<{ score: readonly Scored[] }>()
const found = computed(() => props.score.filter(({ isFound }) => isFound).length)
const mended = computed(() => props.score.filter(({ isMended }) => isMended).length)
</script>

<template>
  <section class="score" aria-label="Score">
    <h2>Score</h2>
    <p v-if="score.length === 0">Nothing was otherwise than planned.</p>
    <template v-else>
      <p role="status">
        Of {{ numbered(score.length, 'difference') }} {{ found }} found, {{ mended }} mended.
      </p>
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">What was different</th>
            <th scope="col">Found</th>
            <th scope="col">Mended</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, i) in score" :key="i">
            <td>{{ wordDifference(one.difference) }}</td>
            <td>{{ one.isFound ? 'yes' : 'no' }}</td>
            <td>{{ one.isMended ? 'yes' : 'no' }}</td>
          </tr>
        </tbody>
      </NTable>
    </template>
  </section>
</template>

<style scoped>
.score {
  border: 1px solid var(--line);
  padding: 10px 16px;
  display: grid;
  gap: 6px;
}
</style>
