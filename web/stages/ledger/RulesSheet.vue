<script setup lang="ts">
import { rawTypes, typeBounds, type ProjectRow, type RawType } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { tableChoices, plainChoices } from '../../parts/choices'
import EditField from '../../parts/EditField.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'

/** What the project asks of its signals: tags as the target takes them, spare, and raw formats of
 *  its own. */
const project = useProject()
const row = computed(() => project.plan!.project)
const set = (change: Partial<ProjectRow>) => project.run({ type: 'setProject', set: change })
const lengths = [24, 32, 40, 63] as const
const cases = {
  any: 'as they are typed',
  upper: 'capitals only',
  lower: 'small ones only',
} as const

function setNumber(
  name: 'tagLength' | 'sparePercent',
  text: string,
  [least, most]: readonly [number, number],
): void {
  const value = Number(text.trim())
  if (Number.isInteger(value) && value >= least && value <= most) set({ [name]: value })
  else project.tell(`“${text}” is not taken; a whole number from ${least} to ${most} is needed.`)
}
function setReserved(text: string): void {
  set({ reservedWords: [...new Set(text.split(/[\s,;]+/).filter(Boolean))] })
}

const draft = ref({
  name: '',
  type: 'INT' as RawType,
  low: '0',
  high: '',
  least: '',
  most: '',
  underflow: '',
  overflow: '',
})
const numbers = ['low', 'high', 'least', 'most', 'underflow', 'overflow'] as const
const words = {
  low: 'Counts at the low end',
  high: 'at the high end',
  least: 'Lowest valid',
  most: 'Highest valid',
  underflow: 'Code below',
  overflow: 'Code above',
} as const
function addFormat(): void {
  const { name, type } = draft.value
  const read = (key: (typeof numbers)[number]) =>
    draft.value[key].trim() === '' ? undefined : Number(draft.value[key].trim())
  const [low, high, least, most, underflow, overflow] = numbers.map(read)
  const [lowest, highest] = typeBounds[type]
  const wrong = [low, high, least, most, underflow, overflow].find(
    (value) => value !== undefined && !(value >= lowest && value <= highest),
  )
  if (name.trim() === '') return project.tell('The format needs a name.')
  if (low === undefined || high === undefined || low === high)
    return project.tell('The format needs counts at both ends, and they must differ.')
  if (wrong !== undefined)
    return project.tell(`${type} holds ${lowest} to ${highest}; ${wrong} is outside.`)
  const key = `own-${Date.now().toString(36)}`
  if (
    set({
      ownFormats: {
        ...row.value.ownFormats,
        [key]: {
          name: name.trim(),
          type,
          low,
          high,
          least: least ?? lowest,
          most: most ?? highest,
          ...(underflow !== undefined && { underflow }),
          ...(overflow !== undefined && { overflow }),
          step: type === 'REAL' ? 0 : 1,
        },
      },
    })
  )
    draft.value = {
      name: '',
      type,
      low: '0',
      high: '',
      least: '',
      most: '',
      underflow: '',
      overflow: '',
    }
}
function removeFormat(key: string): void {
  const { [key]: _gone, ...others } = row.value.ownFormats
  set({
    ownFormats: others,
    moduleFormats: Object.fromEntries(
      Object.entries(row.value.moduleFormats).filter(([, format]) => format !== key),
    ),
  })
}
const usesOf = (key: string) =>
  Object.values(row.value.moduleFormats).filter((format) => format === key).length
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Ledger</h3>
      <h1>Rules of the project</h1>
    </header>
    <section class="form">
      <h2>Tags</h2>
      <div class="length">
        <EditField
          label="Longest tag"
          :value="String(row.tagLength)"
          mono
          @change="setNumber('tagLength', $event, [8, 255])"
        /><NButton
          v-for="one in lengths"
          :key="one"
          size="small"
          :type="row.tagLength === one ? 'info' : 'default'"
          :aria-pressed="row.tagLength === one"
          @click="set({ tagLength: one })"
        >
          {{ one }}
        </NButton>
      </div>
      <PickField
        label="Letters"
        shown
        :value="row.tagCase"
        :options="tableChoices(cases, (text) => text)"
        @update:value="set({ tagCase: $event as ProjectRow['tagCase'] })"
      />
      <EditField
        label="Reserved words of the target, beside those of IEC 61131-3"
        :value="row.reservedWords.join(' ')"
        mono
        @change="setReserved"
      />
    </section>
    <section class="form">
      <h2>Spare</h2>
      <EditField
        label="Channels of each kind to be kept free, per cent; 0: not required"
        :value="String(row.sparePercent)"
        mono
        @change="setNumber('sparePercent', $event, [0, 90])"
      />
    </section>
    <section class="form">
      <h2>Raw formats of the project</h2>
      <NTable v-if="Object.keys(row.ownFormats).length > 0" size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Type</th>
            <th scope="col">Ends</th>
            <th scope="col">Valid</th>
            <th scope="col"></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, key) in row.ownFormats" :key="key">
            <td>{{ one.name }}</td>
            <td class="mono">{{ one.type }}</td>
            <td class="mono">{{ one.low }}…{{ one.high }}</td>
            <td class="mono">{{ one.least }}…{{ one.most }}</td>
            <td>
              <NButton
                size="small"
                :aria-label="`Remove ${one.name}`"
                :title="usesOf(key) > 0 ? `${usesOf(key)} types of modules count in it` : ''"
                @click="removeFormat(key)"
              >
                Remove
              </NButton>
            </td>
          </tr>
        </tbody>
      </NTable>
      <div class="grid">
        <TextField v-model:value="draft.name" class="wide" label="Name" shown />
        <PickField
          v-model:value="draft.type"
          label="Type"
          shown
          :options="plainChoices(rawTypes)"
        />
        <TextField
          v-for="key in numbers"
          :key="key"
          v-model:value="draft[key]"
          :label="words[key]"
          shown
          mono
        />
      </div>
      <NButton @click="addFormat">Add the format</NButton>
      <p class="quiet">Which type of module counts in which format is chosen on the Range bench.</p>
    </section>
  </div>
</template>

<style scoped>
.length {
  display: flex;
  gap: 6px;
  align-items: end;
}
.length :deep(.n-input) {
  width: 80px;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
  align-items: end;
}
.wide {
  grid-column: span 2;
}
.n-button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
</style>
