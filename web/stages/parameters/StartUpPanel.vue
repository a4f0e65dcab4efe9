<script setup lang="ts">
import {
  parseObjectIndex,
  recordsOnWire,
  startUpList,
  startUpOf,
  type DerivedStation,
  type StartUpLine,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { plainChoices } from '../../parts/choices'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'

/** What the master writes into an EtherCAT slave while it comes up, with lines of one's own. */
const props = defineProps<{ view: DerivedStation }>()
const project = useProject()
const steps = computed(() => startUpList(props.view, recordsOnWire(props.view, project.catalog)))
const draft = ref({
  transition: 'PS' as StartUpLine['transition'],
  index: '',
  subindex: 0,
  data: '',
  comment: '',
})
const hex = (value: number, digits: number) => `0x${value.toString(16).padStart(digits, '0')}`
const write = (startUp: StartUpLine[]) =>
  project.run({ type: 'updateStation', id: props.view.id, set: { settings: { startUp } } })

function add(): void {
  const { transition, index, subindex, data, comment } = draft.value
  const octets = (data.toLowerCase().match(/[0-9a-f]{2}/g) ?? []).join(' ')
  const object = parseObjectIndex(index)
  if (object === null)
    return project.tell(`"${index}" is no index; four hexadecimal digits such as 8010 are needed.`)
  if (octets.replaceAll(' ', '') !== data.toLowerCase().replace(/[\s,]|0x/g, ''))
    return project.tell(`"${data}" are no octets in hex, e.g. 10 27.`)
  if (
    write([
      ...startUpOf(props.view.station),
      { transition, index: object, subindex, data: octets, comment },
    ])
  )
    draft.value = { ...draft.value, index: '', data: '', comment: '' }
}
/** Own lines in their own order; the list shows them by transition. */
const remove = (line: (typeof steps.value)[number]) =>
  write(
    startUpOf(props.view.station).filter(
      (one) =>
        !(
          one.index === line.index &&
          one.subindex === line.subindex &&
          one.transition === line.transition &&
          one.data === line.data
        ),
    ),
  )
</script>

<template>
  <section class="stacked" aria-label="Start-up list">
    <h2>Start-up list</h2>
    <NTable v-if="steps.length > 0" size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">At</th>
          <th scope="col">Object</th>
          <th scope="col">Octets</th>
          <th scope="col">What for</th>
          <th scope="col"><span class="sr">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(step, i) in steps" :key="i">
          <td class="mono">{{ step.transition }}</td>
          <td class="mono">{{ hex(step.index, 4) }}:{{ step.subindex }}</td>
          <td class="mono">{{ step.data }}</td>
          <td>
            {{ step.comment }}
            <span class="quiet">{{
              step.from === 'own'
                ? 'added'
                : step.from.slot === 0
                  ? 'from the description'
                  : `slot ${step.from.slot}`
            }}</span>
          </td>
          <td>
            <NButton
              v-if="step.from === 'own'"
              size="small"
              quaternary
              :aria-label="`Remove ${hex(step.index, 4)}`"
              @click="remove(step)"
            >
              ×
            </NButton>
          </td>
        </tr>
      </tbody>
    </NTable>
    <p v-else class="quiet">The description writes nothing at start.</p>
    <form class="draft" @submit.prevent="add">
      <PickField
        v-model:value="draft.transition"
        label="Transition"
        :options="plainChoices(['IP', 'PS', 'SO', 'SP', 'OS', 'PI'])"
      />
      <TextField
        v-model:value="draft.index"
        label="Index"
        mono
        placeholder="8010"
        title="Hexadecimal: 8010, 0x8010 or #x8010"
      /><NumberField
        label="Subindex"
        :value="draft.subindex"
        :min="0"
        :max="255"
        @update:value="draft.subindex = $event ?? 0"
      />
      <TextField v-model:value="draft.data" label="Octets" mono placeholder="10 27" /><TextField
        v-model:value="draft.comment"
        label="What for"
        placeholder="what for"
      />
      <NButton size="small" attr-type="submit">Add</NButton>
    </form>
  </section>
</template>

<style scoped>
.draft {
  display: grid;
  grid-template-columns: 60px 84px 56px 1fr 1fr auto;
  gap: 4px;
}
</style>
