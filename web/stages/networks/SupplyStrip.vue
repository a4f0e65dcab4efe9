<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useWhatIf } from '../../stores/what-if'
import { loadWords } from './feed-words'
import type { Chosen } from './useNetworks'
import { useFeeds } from './useFeeds'

/** The supplies of the plan above the drawing; what hangs on the chosen one is framed below. */
defineProps<{ chosen: Chosen }>()
defineEmits<{ choose: [chosen: Chosen] }>()
const { supplies } = useFeeds()
const whatIf = useWhatIf()
</script>

<template>
  <div class="strip" role="group" aria-label="Supplies">
    <NButton
      v-for="supply in supplies"
      :key="supply.view.id"
      size="small"
      :secondary="chosen?.id === supply.view.id"
      :type="whatIf.lost.has(supply.view.id) ? 'error' : 'default'"
      @click="$emit('choose', { kind: 'supply', id: supply.view.id })"
    >
      {{ supply.view.station.name || '(no name)' }} · {{ loadWords(supply) }}
    </NButton>
  </div>
</template>

<style scoped>
.strip {
  position: sticky;
  left: 0;
  top: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 10px 18px;
}
</style>
