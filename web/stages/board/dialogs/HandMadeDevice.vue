<script setup lang="ts">
import {
  catalogOfSheet,
  deviceSheet,
  hasSheetPart,
  standsOnNetworks,
  layoutOf,
  sheetTypes,
  wordBytes,
  type Protocol,
  type SheetType,
} from '@kataxis/core'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { plainChoices } from '../../../parts/choices'
import NumberField from '../../../parts/NumberField.vue'
import PickField from '../../../parts/PickField.vue'
import TextField from '../../../parts/TextField.vue'
import { useShelf } from '../../../stores/shelf'

/** A device from the size table of its manual: header octets, values in and out, slots of one size.
 *  It becomes a device sheet on the Shelf. */
const props = defineProps<{ protocol: Protocol }>()
const emit = defineEmits<{ made: [head: { sha256: string; key: string }]; close: [] }>()
const shelf = useShelf()
const types = Object.keys(sheetTypes) as SheetType[]
const draft = reactive({
  maker: '',
  name: '',
  header: { in: 0, out: 0 },
  values: {
    in: { count: 0, type: 'uint16' as SheetType },
    out: { count: 0, type: 'uint16' as SheetType },
  },
  slots: { count: 0, in: 0, out: 0 },
  /** Assemblies of a connection, where the protocol has them. */
  set: {
    in: { instance: 100, bytes: 0 },
    out: { instance: 150, bytes: 0 },
    config: { instance: 151, bytes: 0 },
    runIdleHeader: true,
  },
})
/** Below a port stand plain octets: no header and no slots. */
const isPlain = computed(() => !standsOnNetworks(props.protocol))
const hasSets = computed(() => hasSheetPart(props.protocol, 'dataSets'))
const dataSets = computed(() => {
  const { in: input, out, config, runIdleHeader } = draft.set
  return hasSets.value && input.bytes + out.bytes > 0
    ? [
        {
          key: 'connection',
          name: 'Connection',
          inputInstance: input.instance,
          inputBytes: input.bytes,
          outputInstance: out.instance,
          outputBytes: out.bytes,
          configInstance: config.instance,
          configBytes: config.bytes,
          runIdleHeader,
        },
      ]
    : []
})
const setRows = [
  { key: 'in', words: 'Inputs (T→O)' },
  { key: 'out', words: 'Outputs (O→T)' },
  { key: 'config', words: 'Configuration' },
] as const
const refusal = ref('')

const part = (name: string, type: SheetType, count: number) =>
  count > 0 ? [{ name, type, count }] : []
const written = computed(() => ({
  kataxisSheet: 2,
  maker: draft.maker.trim(),
  name: draft.name.trim(),
  network: props.protocol,
  head: {
    inputs: [
      ...part('Header', 'uint8', draft.header.in),
      ...part('Input', draft.values.in.type, draft.values.in.count),
    ],
    outputs: [
      ...part('Header', 'uint8', draft.header.out),
      ...part('Output', draft.values.out.type, draft.values.out.count),
    ],
  },
  slots: { count: draft.slots.count },
  dataSets: dataSets.value,
  modules:
    draft.slots.count > 0
      ? [
          {
            key: 'slot',
            name: 'Slot data',
            inputs: part('Input byte', 'uint8', draft.slots.in),
            outputs: part('Output byte', 'uint8', draft.slots.out),
          },
        ]
      : [],
}))
const checked = computed(() => deviceSheet.safeParse(written.value))
const device = computed(() =>
  checked.value.success ? catalogOfSheet(checked.value.data).devices[0]! : null,
)
const fault = computed(() =>
  draft.maker.trim() === '' || draft.name.trim() === ''
    ? 'Maker and device are needed.'
    : checked.value.success
      ? ''
      : checked.value.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)[0],
)

async function make(): Promise<void> {
  if (!checked.value.success) return
  const fileName = `${draft.maker}-${draft.name}`
    .trim()
    .replace(/[^\w.-]+/g, '-')
    .toLowerCase()
  const file = new File(
    [`${JSON.stringify(checked.value.data, null, 1)}\n`],
    `${fileName}.sheet.json`,
    { type: 'application/json' },
  )
  await shelf.add([file])
  const [arrival] = shelf.arrivals
  if (!arrival?.sha256)
    return void (refusal.value = arrival?.sentence ?? 'The sheet was not taken.')
  emit('made', { sha256: arrival.sha256, key: device.value!.key })
}
</script>

<template>
  <form class="form" @submit.prevent="make">
    <div class="pair">
      <TextField v-model:value="draft.maker" label="Maker" shown :more="{ required: true }" />
      <TextField v-model:value="draft.name" label="Device" shown :more="{ required: true }" />
    </div>
    <section v-if="hasSets" class="sets" aria-label="Assemblies of the connection">
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Assembly</th>
            <th scope="col">Instance</th>
            <th scope="col">Octets</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ key, words } in setRows" :key="key">
            <th scope="row">{{ words }}</th>
            <td>
              <NumberField
                v-model:value="draft.set[key].instance"
                :label="`Instance of ${words}`"
                class="short"
                :min="0"
                :max="65535"
              />
            </td>
            <td>
              <NumberField
                v-model:value="draft.set[key].bytes"
                :label="`Octets of ${words}`"
                class="short"
                :min="0"
                :max="65535"
              />
            </td>
          </tr>
        </tbody>
      </NTable>
      <NCheckbox v-model:checked="draft.set.runIdleHeader">
        Four octets run/idle stand before the outputs
      </NCheckbox>
      <p class="quiet">
        What stands in these octets can be said below, or named later in the data layout.
      </p>
    </section>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col"></th>
          <th scope="col">To the controller</th>
          <th scope="col">From the controller</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="!isPlain">
          <th scope="row">Header bytes</th>
          <td v-for="way in ['in', 'out'] as const" :key="way">
            <NumberField
              v-model:value="draft.header[way]"
              :label="`Header bytes ${way}`"
              class="short"
              :min="0"
              :max="2048"
            />
          </td>
        </tr>
        <tr>
          <th scope="row">Values</th>
          <td v-for="way in ['in', 'out'] as const" :key="way">
            <span class="value"
              ><NumberField
                v-model:value="draft.values[way].count"
                :label="`Number of values ${way}`"
                class="short"
                :min="0"
                :max="2048" />
              ×
              <PickField
                v-model:value="draft.values[way].type"
                :label="`Type of values ${way}`"
                :options="plainChoices(types)"
            /></span>
          </td>
        </tr>
        <tr v-if="!isPlain">
          <th scope="row">
            Slots
            <NumberField
              v-model:value="draft.slots.count"
              label="Number of slots"
              class="short"
              :min="0"
              :max="512"
            />
          </th>
          <td v-for="way in ['in', 'out'] as const" :key="way">
            <span class="value"
              ><NumberField
                v-model:value="draft.slots[way]"
                :label="`Bytes a slot ${way}`"
                class="short"
                :min="0"
                :max="2048"
              />
              bytes each</span
            >
          </td>
        </tr>
      </tbody>
    </NTable>
    <p v-if="device" class="quiet" role="status">
      {{ device.name }}: {{ wordBytes(layoutOf(device))
      }}{{ device.slots.length > 0 ? `, then ${device.slots.length} slots` : '' }}
    </p>
    <p v-if="fault || refusal" class="fault" role="alert">{{ fault || refusal }}</p>
    <div class="actions">
      <NButton type="primary" attr-type="submit" :disabled="fault !== ''">
        Add to the Shelf and {{ isPlain ? 'put it below the port' : 'the network' }}
      </NButton>
      <NButton @click="emit('close')">Back</NButton>
    </div>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.short {
  width: 72px;
}
.value {
  display: flex;
  align-items: center;
  gap: 6px;
}
.value .n-select {
  width: 100px;
}
.fault {
  color: var(--accent);
}
.actions {
  display: flex;
  gap: 8px;
}
</style>
