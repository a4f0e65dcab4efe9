<script setup lang="ts">
import type { ChangeWords } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, toRef } from 'vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import { changeSigns, useDifference } from './useDifference'

/** What became of each row from one revision to another, or to now. */
const props = defineProps<{ from: number; to: number | null }>()
const project = useProject()
const { goTo } = useFocus()
const mostShown = 300
const { words, summary, failure } = useDifference(
  toRef(() => props.from),
  toRef(() => props.to),
)
const onBoard = computed(() => ({
  name: 'board',
  params: { project: project.id },
  query: { from: props.from, ...(props.to === null ? {} : { to: props.to }) },
}))
const canGo = (one: ChangeWords) =>
  one.how !== 'removed' && ['station', 'module', 'network', 'controller'].includes(one.kind)
const go = (one: ChangeWords) => void goTo('board', { kind: one.kind as 'station', id: one.id })
</script>

<template>
  <h2>r{{ from }} against {{ to === null ? 'now' : `r${to}` }}</h2>
  <p v-if="failure" class="fault" role="alert">{{ failure }}</p>
  <p v-else role="status">{{ summary }}</p>
  <p v-if="words.length > 0"><RouterLink :to="onBoard">Show it on the Board</RouterLink></p>
  <ol>
    <li v-for="one in words.slice(0, mostShown)" :key="`${one.kind}${one.id}`" :class="one.how">
      <span class="sign" aria-hidden="true">{{ changeSigns[one.how] }}</span><NButton
        v-if="canGo(one)"
        text
        class="go"
        @click="go(one)"
      >
        {{ one.words }}</NButton
      ><span v-else>{{ one.words }}</span>
    </li>
  </ol>
  <p v-if="words.length > mostShown" class="quiet">and {{ words.length - mostShown }} more</p>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
  font: 13px/1.4 var(--narrow);
}
.fault {
  color: var(--accent);
}
a {
  color: inherit;
}
ol li {
  display: grid;
  grid-template-columns: 14px 1fr;
}
.sign {
  font-family: var(--mono);
  color: var(--ink-2);
}
.go {
  white-space: normal;
  text-align: left;
  text-decoration: underline;
  text-decoration-color: var(--ink-faint);
}
</style>
