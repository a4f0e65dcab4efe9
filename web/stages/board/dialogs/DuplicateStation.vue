<script setup lang="ts">
import {
  applyCommand,
  ipOf,
  newId,
  oneOr,
  protocolOn,
  tagIdentity,
  wordRefusal,
  type Command,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, reactive } from 'vue'
import DialogBox from '../../../parts/DialogBox.vue'
import NumberField from '../../../parts/NumberField.vue'
import PickField from '../../../parts/PickField.vue'
import TextField from '../../../parts/TextField.vue'
import { useProject } from '../../../stores/project'

const props = defineProps<{ stationId: string }>()
const emit = defineEmits<{ close: []; done: [ids: string[]] }>()
const project = useProject()
const group = computed(() => project.plan!.stations[props.stationId]!)
const network = computed(() => project.plan!.networks[group.value.station.networkId]!)
const networks = computed(() =>
  Object.values(project.plan!.networks).filter(
    (other) => protocolOn(other) === protocolOn(network.value),
  ),
)
const tags = computed(() =>
  Object.values(group.value.signals)
    .map(({ tag }) => tag)
    .filter(Boolean),
)

const [, stem = '', number = ''] = /^(.*?)(\d*)$/.exec(group.value.station.name) ?? []
/** Behind every number that stations of this name already have. */
const nextNumber =
  Math.max(
    Number(number || '1'),
    ...Object.values(project.plan!.stations)
      .map(({ station: { name } }) =>
        name.startsWith(stem) ? /^-?(\d+)$/.exec(name.slice(stem.length))?.[1] : undefined,
      )
      .map((digits) => Number(digits ?? 0)),
  ) + 1
/** What all tags of the station begin with, up to its last separator: the part that most likely
 *  names the station. */
function commonBeginning(all: readonly string[]): string {
  const [first = '', ...rest] = all
  let length = first.length
  for (const tag of rest) while (!tag.startsWith(first.slice(0, length))) length--
  return /^.*[_\d]/.exec(first.slice(0, length))?.[0] ?? ''
}
const beginning = commonBeginning(tags.value)
const draft = reactive({
  count: 1,
  from: nextNumber,
  name: number === '' ? `${stem}-{n}` : `${stem}{n}`,
  find: beginning,
  with: beginning === '' ? '' : `${beginning.replace(/_?\d*_?$/, '')}{n}_`,
  networkId: network.value.id,
})

const ids = Array.from({ length: 1000 }, () => newId())
const count = computed(() => Math.max(0, Math.min(1000, Math.trunc(Number(draft.count) || 0))))
const fill = (pattern: string, i: number) => pattern.replaceAll('{n}', String(draft.from + i))
const command = computed<Command>(() => ({
  type: 'copyStation',
  sourceId: props.stationId,
  networkId: draft.networkId,
  copies: ids.slice(0, count.value).map((id, i) => ({
    id,
    name: fill(draft.name, i),
    find: draft.find,
    with: fill(draft.with, i),
  })),
}))
const result = computed(() => {
  if (count.value === 0) return { fault: 'At least one copy is needed.', rows: [] }
  const applied = applyCommand(project.plan!, project.derived!.catalog, command.value)
  if (!applied.ok) return { fault: wordRefusal(applied.refusal), rows: [] }
  const seen = new Set(
    [
      ...Object.values(project.plan!.stations).flatMap(({ signals }) => Object.values(signals)),
      ...Object.values(project.plan!.unplaced),
    ].map(({ tag }) => tagIdentity(tag)),
  )
  const names = new Set(Object.values(project.plan!.stations).map(({ station }) => station.name))
  const rows = ids.slice(0, count.value).map((id) => {
    const copy = applied.plan.stations[id]!
    const own = Object.values(copy.signals)
      .map(({ tag }) => tag)
      .filter(Boolean)
    const twice = own.filter((tag) => seen.has(tagIdentity(tag)) || !seen.add(tagIdentity(tag)))
    const isNameTaken = names.has(copy.station.name)
    names.add(copy.station.name)
    return { station: copy.station, tags: own, twice, isNameTaken }
  })
  return { fault: '', rows }
})
const collisions = computed(() =>
  result.value.rows.reduce(
    (sum, { twice, isNameTaken }) => sum + twice.length + Number(isNameTaken),
    0,
  ),
)
function take(): void {
  if (project.run(command.value)) emit('done', ids.slice(0, count.value))
}
</script>

<template>
  <DialogBox :title="`Copies of ${group.station.name}`" wide @close="emit('close')">
    <form class="form" @submit.prevent="take">
      <div class="fields">
        <NumberField v-model:value="draft.count" label="How many" shown :min="1" :max="1000" />
        <NumberField v-model:value="draft.from" label="{n} begins at" shown :min="0" />
        <TextField v-model:value="draft.name" class="grow" label="Names" shown mono />
        <PickField
          v-model:value="draft.networkId"
          class="grow"
          label="On"
          shown
          :options="networks.map((other) => ({ value: other.id, label: other.name }))"
        />
      </div>
      <div v-if="tags.length > 0" class="fields">
        <TextField
          v-model:value="draft.find"
          class="grow"
          label="In tags, replace"
          shown
          mono
          placeholder="nothing: copies carry no tags"
        />
        <TextField
          v-model:value="draft.with"
          class="grow"
          label="with"
          shown
          mono
          :disabled="draft.find === ''"
        />
      </div>
      <p v-if="result.fault" class="fault" role="alert">{{ result.fault }}</p>
      <NTable v-else size="small" :bordered="false" aria-label="What will be made">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Address</th>
            <th scope="col">Number</th>
            <th scope="col">Tags</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in result.rows.slice(0, 6)" :key="row.station.id">
            <td class="mono" :class="{ fault: row.isNameTaken }">
              {{ row.station.name }}{{ row.isNameTaken ? ' is taken' : '' }}
            </td>
            <td class="mono">{{ ipOf(row.station) || '–' }}</td>
            <td class="mono">{{ row.station.deviceNumber }}</td>
            <td>
              <span class="mono">{{ row.tags.slice(0, 2).join(', ') }}</span>{{
                row.tags.length > 2
                  ? ` and ${row.tags.length - 2} more`
                  : row.tags.length === 0
                    ? 'none'
                    : ''
              }}<strong v-if="row.twice.length > 0" class="fault">
                {{ row.twice.length }} stand already</strong
              >
            </td>
          </tr>
        </tbody>
      </NTable>
      <p v-if="result.rows.length > 6" class="quiet">and {{ result.rows.length - 6 }} more</p>
      <div class="actions">
        <NButton type="primary" attr-type="submit" :disabled="result.fault !== ''">
          Make {{ oneOr(count, 'the copy', 'copies') }}
        </NButton>
        <NButton @click="emit('close')">Cancel</NButton>
        <span v-if="collisions > 0" class="fault"
          >{{ collisions }} names or tags would stand twice and show as blockers.</span
        >
      </div>
    </form>
  </DialogBox>
</template>
