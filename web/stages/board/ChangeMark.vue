<script setup lang="ts">
import type { Mark } from '@kataxis/core'
import { changeSigns } from '../history/useDifference'

/** The sign of what changed here between two versions; the words are its title. */
defineProps<{ mark: Mark | null }>()
</script>

<template>
  <span v-if="mark" class="mark" :title="mark.words.join('\n')">{{ changeSigns[mark.how] }}</span>
</template>

<style scoped>
.mark {
  flex: none;
  min-width: 13px;
  margin-left: 5px;
  padding: 0 3px;
  text-align: center;
  background: var(--ink);
  color: var(--paper);
  font: 600 11px/13px var(--mono);
}
</style>
