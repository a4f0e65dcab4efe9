<script setup lang="ts">
import { numbered } from '@kataxis/core'
import { NButton, NTag } from 'naive-ui'
import { computed } from 'vue'
import { useWhatIf } from '../stores/what-if'

/** What is to fail, and what that costs in all networks. */
const whatIf = useWhatIf()
const count = (fate: string) => [...whatIf.fateOf.values()].filter((one) => one === fate).length
const cost = computed(() =>
  [
    `${numbered(count('unreachable'), 'station')} unreachable`,
    `${count('drops')} ${count('drops') === 1 ? 'drops' : 'drop'} out and ${count('drops') === 1 ? 'comes' : 'come'} back`,
    `${count('rides')} ${count('rides') === 1 ? 'rides' : 'ride'} through`,
    `${numbered(whatIf.lostTags.length, 'signal')} lost`,
  ].join(' · '),
)
</script>

<template>
  <section v-if="whatIf.isAsked" class="bar" aria-label="What if">
    <strong>What if</strong>
    <NTag v-for="one in whatIf.failing" :key="one.id" closable @close="one.back">
      {{ one.words }}
    </NTag>
    <span role="status">{{ cost }}</span>
    <span
      v-if="whatIf.lostTags.length > 0"
      class="tags mono"
      :title="whatIf.lostTags.slice(0, 200).join(', ')"
      >{{ whatIf.lostTags.slice(0, 6).join(', ')
      }}{{ whatIf.lostTags.length > 6 ? ' …' : '' }}</span
    >
    <span class="gap" />
    <slot />
    <NButton size="small" @click="whatIf.clear">Clear</NButton>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 6px 18px;
  background: var(--paper-2);
  border-bottom: 1px solid var(--line);
}
.tags {
  max-width: 380px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink-2);
}
.gap {
  flex: 1;
}
</style>
