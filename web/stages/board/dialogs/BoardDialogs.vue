<script lang="ts">
/** What is asked over the Board. */
export type BoardDialog =
  | { kind: 'add'; networkId: string }
  | { kind: 'copies'; stationId: string }
  | { kind: 'replace'; of: 'module' | 'station'; ids: readonly string[] }
</script>

<script setup lang="ts">
import AddStation from './AddStation.vue'
import DuplicateStation from './DuplicateStation.vue'
import ReplaceType from './ReplaceType.vue'

defineProps<{ dialog: BoardDialog | null }>()
const emit = defineEmits<{
  close: []
  added: [stationId: string]
  copied: [stationIds: readonly string[]]
}>()
</script>

<template>
  <AddStation
    v-if="dialog?.kind === 'add'"
    :network-id="dialog.networkId"
    @close="emit('close')"
    @added="emit('added', $event)"
  />
  <DuplicateStation
    v-else-if="dialog?.kind === 'copies'"
    :station-id="dialog.stationId"
    @close="emit('close')"
    @done="(ids) => (emit('close'), emit('copied', ids))"
  />
  <ReplaceType
    v-else-if="dialog?.kind === 'replace'"
    :kind="dialog.of"
    :ids="dialog.ids"
    @close="emit('close')"
  />
</template>
