<script setup lang="ts">
import {
  channelsOfStation,
  kindOfChannel,
  placeOf,
  placeText,
  type ListOrder,
  type SignalPlace,
} from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'
import type { ListImport } from './useListImport'

/** What becomes of rows that name no place: they wait, or go on channels in order from a chosen one. */
const { of: list } = defineProps<{ of: ListImport }>()
const { order } = list
const project = useProject()
const route = useRoute()
const by = ref<'wait' | ListOrder['by']>('wait')
const station = ref<string | null>(null)
const channel = ref<string | null>(null)
const onlyFree = ref(true)
const sameKind = ref(true)

const stations = computed(() =>
  [...(project.derived?.stations.values() ?? [])]
    .filter(({ channels }) => channels > 0)
    .map(({ id, station: { name } }) => ({ value: id, label: name })),
)
const channels = computed(() => {
  const view = project.derived?.stations.get(station.value ?? '')
  return view
    ? [...channelsOfStation(view)].map(({ module, channel: one, signal }) => {
        const place: SignalPlace = { moduleId: module.id, ...placeOf(one) }
        return {
          value: `${module.id}/${placeText(one)}`,
          label: `${module.row ? `slot ${module.slot}` : 'head'} · ${one.name} · ${kindOfChannel(one)}${signal?.tag ? ` · ${signal.tag}` : ''}`,
          place,
          isUsual: (signal?.tag ?? '') === '' && one.kind !== 'port',
        }
      })
    : []
})
/** The first free channel for a bit or a number, until another is chosen. */
watch(channels, (all) => {
  if (!all.some(({ value }) => value === channel.value))
    channel.value = (all.find(({ isUsual }) => isUsual) ?? all[0])?.value ?? null
})
watch(
  [by, channel, channels, onlyFree, sameKind],
  () => {
    const from = channels.value.find(({ value }) => value === channel.value)?.place
    order.value =
      by.value === 'wait' || !from
        ? null
        : { by: by.value, from, onlyFree: onlyFree.value, sameKind: sameKind.value }
  },
  { immediate: true },
)
/** The Ledger says from which channel on. */
const asked = String(route.query['from'] ?? '')
if (asked !== '') {
  const view = [...(project.derived?.stations.values() ?? [])].find(({ modules }) =>
    modules.some(({ id }) => asked.startsWith(`${id}/`)),
  )
  if (view) [by.value, station.value, channel.value] = ['order', view.id, asked]
}
const ways = [
  { value: 'wait', label: 'wait as unassigned signals' },
  { value: 'order', label: 'go in order from a channel' },
  { value: 'number', label: 'go by running number' },
] as const
</script>

<template>
  <section class="order" aria-label="Rows without a place">
    <h2>Rows without a place</h2>
    <PickField v-model:value="by" label="They" shown :options="ways" />
    <template v-if="by !== 'wait'">
      <PickField v-model:value="station" label="From station" shown :options="stations" />
      <PickField
        v-model:value="channel"
        label="From channel"
        shown
        :disabled="station === null"
        :options="channels"
      />
      <NCheckbox v-if="by === 'order'" v-model:checked="onlyFree">only free channels</NCheckbox>
      <NCheckbox v-model:checked="sameKind">only channels of its kind</NCheckbox>
    </template>
  </section>
</template>

<style scoped>
.order {
  display: grid;
  gap: 8px;
  margin: 14px 0;
}
</style>
