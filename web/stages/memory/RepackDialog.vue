<script setup lang="ts">
import {
  applyCommand,
  derive,
  formatAddress,
  memoryMap,
  oneOr,
  wordRefusal,
  type Command,
  type MapBlock,
  type NotationName,
} from '@kataxis/core'
import { NButton, NRadio, NRadioGroup, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'

/** New addresses for a controller's data, shown as old and new before anything moves. */
const props = defineProps<{ controllerId: string; notation: NotationName }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const tight = ref(false)
const networkId = ref('')
const networks = computed(
  () =>
    project.derived!.controllers.find(({ controller }) => controller.id === props.controllerId)!
      .networks,
)
const command = computed<Command>(() => ({
  type: 'repack',
  controllerId: props.controllerId,
  tight: tight.value,
  ...(networkId.value !== '' && {
    stationIds:
      networks.value
        .find(({ network }) => network.id === networkId.value)
        ?.stations.map(({ id }) => id) ?? [],
  }),
}))
const preview = computed(() => {
  const applied = applyCommand(project.plan!, project.derived!.catalog, command.value)
  if (!applied.ok) return { fault: wordRefusal(applied.refusal), moves: [], ends: [] }
  const before = memoryMap(project.derived!, props.controllerId)!
  const after = memoryMap(derive(applied.plan, project.derived!.catalog), props.controllerId)!
  const moves = (['in', 'out'] as const).flatMap((direction) => {
    const old = new Map(before[direction].blocks.map((block) => [block.key, block]))
    return after[direction].blocks
      .filter((block) => !block.isInside && old.get(block.key)?.start !== block.start)
      .map((block) => ({ block, from: old.get(block.key) ?? null }))
  })
  const end = (blocks: readonly MapBlock[]) =>
    blocks.reduce((last, { start, bits }) => Math.max(last, Math.ceil((start + bits) / 8)), 0)
  return {
    fault: '',
    moves,
    ends: (['in', 'out'] as const).map((direction) => ({
      direction,
      from: end(before[direction].blocks),
      to: end(after[direction].blocks),
    })),
  }
})
const word = (block: MapBlock | null) =>
  block
    ? formatAddress(
        {
          direction: block.block.direction,
          byte: block.start >> 3,
          bit: block.start & 7,
          bits: block.bits < 8 ? 1 : 8,
        },
        props.notation,
      )
    : 'none'
const mostShown = 200
function take(): void {
  if (project.run(command.value)) emit('close')
}
</script>

<template>
  <DialogBox title="Repack" wide @close="emit('close')">
    <form class="form" @submit.prevent="take">
      <NRadioGroup v-model:value="tight" aria-label="Order">
        <span class="label">Order</span>
        <NRadio :value="false"
          >network by network, station by station, slot by slot; reserves and areas are kept</NRadio
        >
        <NRadio :value="true">as tight as can be; areas are kept, reserves are not</NRadio>
      </NRadioGroup>
      <PickField
        v-model:value="networkId"
        label="What is moved"
        shown
        :options="[
          { value: '', label: 'everything of this controller that is not fixed' },
          ...networks.map(({ network }) => ({
            value: network.id,
            label: `stations on ${network.name}`,
          })),
        ]"
      />
      <p v-if="preview.fault" class="fault" role="alert">{{ preview.fault }}</p>
      <template v-else>
        <p role="status">
          <strong>{{
            preview.moves.length === 0
              ? 'Nothing would move.'
              : preview.moves.length === 1
                ? 'One block gets another address.'
                : `${preview.moves.length} blocks get other addresses.`
          }}</strong>
          <span v-for="{ direction, from, to } in preview.ends" :key="direction"
            >{{ direction === 'in' ? ' Inputs' : ' Outputs' }} end at byte {{ from }} now and at
            {{ to }} then.</span
          >
        </p>
        <div
          v-if="preview.moves.length > 0"
          class="moves"
          tabindex="0"
          role="region"
          aria-label="What moves"
        >
          <NTable size="small" :bordered="false">
            <thead>
              <tr>
                <th scope="col">Block</th>
                <th scope="col">Now</th>
                <th scope="col">Then</th>
                <th scope="col">Bytes</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="{ block, from } in preview.moves.slice(0, mostShown)" :key="block.key">
                <td>
                  {{ block.view.station.name }} ·
                  {{ block.module.row ? `slot ${block.module.slot}` : 'head' }} ·
                  {{ block.module.described?.name }}
                </td>
                <td class="mono">{{ word(from) }}</td>
                <td class="mono">
                  <strong>{{ word(block) }}</strong>
                </td>
                <td class="mono">{{ block.block.bytes }}</td>
              </tr>
            </tbody>
          </NTable>
          <p v-if="preview.moves.length > mostShown" class="quiet">
            and {{ preview.moves.length - mostShown }} more
          </p>
        </div>
      </template>
      <div class="actions">
        <NButton type="primary" attr-type="submit" :disabled="preview.moves.length === 0">
          {{ `Move ${oneOr(preview.moves.length, 'the block', 'blocks')}` }}
        </NButton>
        <NButton @click="emit('close')">Cancel</NButton>
      </div>
    </form>
  </DialogBox>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 4px;
  font: 13px/1.4 var(--sans);
}
.moves {
  max-height: 40vh;
  overflow: auto;
}
</style>
