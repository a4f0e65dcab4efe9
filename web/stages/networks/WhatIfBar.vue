<script setup lang="ts">
import { numbered, type WiredNetwork } from '@kataxis/core'
import { NButton, NTag } from 'naive-ui'
import { computed } from 'vue'
import type { useNetworks } from './useNetworks'
import { linkWords, nameOfNode } from './wire-words'

/** What is to fail, and what that costs in all networks. */
const props = defineProps<{ wired: WiredNetwork; nets: ReturnType<typeof useNetworks> }>()
const count = (fate: string) =>
  [...props.nets.fateOf.value.values()].filter((one) => one === fate).length
const cost = computed(() =>
  [
    `${numbered(count('unreachable'), 'station')} unreachable`,
    `${count('drops')} ${count('drops') === 1 ? 'drops' : 'drop'} out and ${count('drops') === 1 ? 'comes' : 'come'} back`,
    `${count('rides')} ${count('rides') === 1 ? 'rides' : 'ride'} through`,
    `${numbered(props.nets.lostTags.value.length, 'signal')} lost`,
  ].join(' · '),
)
const cutLinks = computed(() => props.wired.links.filter(({ id }) => props.nets.cut.value.has(id)))
</script>

<template>
  <section class="bar" aria-label="What if">
    <strong>What if</strong>
    <NTag v-for="one in cutLinks" :key="one.id" closable @close="nets.turnLink(one.id)">
      cut {{ one.link.label || linkWords(wired, one) }}
    </NTag>
    <NTag v-for="id in nets.lost.value" :key="id" closable @close="nets.turnNode(id)">
      lose {{ nameOfNode(wired, id) }}
    </NTag>
    <span role="status">{{ cost }}</span>
    <span
      v-if="nets.lostTags.value.length > 0"
      class="tags mono"
      :title="nets.lostTags.value.join(', ')"
      >{{ nets.lostTags.value.slice(0, 6).join(', ')
      }}{{ nets.lostTags.value.length > 6 ? ' …' : '' }}</span
    >
    <span class="gap" />
    <NButton size="small" @click="nets.clear">Clear</NButton>
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
