<script setup lang="ts">
import {
  carriedBy,
  fallsAway,
  namedOn,
  neededInside,
  plural,
  suggestConnection,
  timeoutMultipliers,
  timesOfConnection,
  type DerivedStation,
  type TimeoutMultiplier,
} from '@kataxis/core'
import { NButton, NCheckbox, NCollapse, NCollapseItem } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import NumberField from '../../../parts/NumberField.vue'
import PickField from '../../../parts/PickField.vue'
import { useProject } from '../../../stores/project'

/** Which of a head's connections carries its data: chosen, or suggested from what is wanted. */
const props = defineProps<{ view: DerivedStation }>()
const project = useProject()
const device = computed(() => props.view.device!)
function take(connection: string): void {
  const { device: key, file } = props.view.station
  project.run({ type: 'replaceHead', id: props.view.id, file, device: key, connection })
}
const isTimed = computed(() => 'timeoutMultiplier' in props.view.station.settings)
const connection = computed(() =>
  device.value.connections.find(({ key }) => key === props.view.station.connection),
)
const limits = computed(() => connection.value?.intervalLimitsUs ?? [100, 0xffffffff])
const times = computed(() => timesOfConnection(props.view.station, connection.value))
type IntervalKey = 'outputIntervalUs' | 'inputIntervalUs'
const decided = computed(
  () => props.view.station.settings as Partial<Record<IntervalKey, number | null>>,
)
const intervals: readonly { key: IntervalKey; label: string }[] = [
  { key: 'outputIntervalUs', label: 'Interval of outputs (RPI)' },
  { key: 'inputIntervalUs', label: 'Interval of inputs (RPI)' },
]
const setTime = (key: string, value: number | null) =>
  project.run({ type: 'updateStation', id: props.view.id, set: { settings: { [key]: value } } })
const words = computed(() => [...new Set(device.value.connections.flatMap(carriedBy))])
const wanted = ref<ReadonlySet<string>>(new Set())
watch(
  () => props.view.id,
  () => (wanted.value = new Set()),
)
function toggle(word: string): void {
  const next = new Set(wanted.value)
  if (!next.delete(word)) next.add(word)
  wanted.value = next
}
const named = computed(() =>
  connection.value ? namedOn(connection.value, props.view.modules[0]!) : [],
)
/** What the connection of now carries and the suggested one does not. */
const lost = computed(() =>
  connection.value && suggested.value && suggested.value.key !== connection.value.key
    ? fallsAway(connection.value, suggested.value)
    : [],
)
const suggested = computed(() =>
  wanted.value.size === 0
    ? null
    : suggestConnection(device.value, wanted.value, neededInside(device.value, props.view.modules)),
)
</script>

<template>
  <section class="connection">
    <PickField
      label="Connection"
      shown
      :value="view.station.connection"
      :options="
        device.connections.map((connection) => ({
          value: connection.key,
          label: `${connection.name} · ${connection.inputBytes} bytes in, ${connection.outputBytes} out`,
        }))
      "
      @update:value="take($event)"
    />
    <div v-if="isTimed" class="times" role="group" aria-label="Times of the connection">
      <NumberField
        v-for="{ key, label } in intervals"
        :key="key"
        :label="label"
        shown
        optional
        unit="ms"
        :min="limits[0] / 1000"
        :max="limits[1] / 1000"
        :step="1"
        :value="decided[key] === null || decided[key] === undefined ? null : decided[key] / 1000"
        :placeholder="times[key] === null ? '' : String(times[key] / 1000)"
        @update:value="setTime(key, $event === null ? null : Math.round($event * 1000))"
      />
      <PickField
        label="Time-out after"
        shown
        :value="times.timeoutMultiplier"
        :options="timeoutMultipliers.map((one) => ({ value: one, label: `${one} intervals` }))"
        @update:value="setTime('timeoutMultiplier', $event as TimeoutMultiplier)"
      />
      <p v-if="times.watchdogUs !== null" class="quiet">
        The connection ends {{ times.watchdogUs / 1000 }} ms after the last data from the device.
      </p>
    </div>
    <NCollapse v-if="device.connections.length > 1 && words.length > 0"
      ><NCollapseItem name="it" title="Find it by what it has to carry">
        <NButton size="small" :disabled="named.length === 0" @click="wanted = new Set(named)">
          What has a tag ({{ named.length }})
        </NButton>
        <div class="words">
          <NCheckbox
            v-for="word in words"
            :key="word"
            :checked="wanted.has(word)"
            @update:checked="toggle(word)"
            >{{ word }}</NCheckbox
          >
        </div>
        <p v-if="wanted.size > 0" role="status">
          <template v-if="suggested"
            >The smallest that carries {{ plural(wanted.size, 'it', 'all of it') }}:
            <strong>{{ suggested.name }}</strong>, {{ suggested.inputBytes }} bytes in,
            {{ suggested.outputBytes }} out.
            <NButton
              v-if="suggested.key !== view.station.connection"
              size="small"
              @click="take(suggested.key)"
            >
              Use this connection
            </NButton></template
          >
          <template v-else>No connection carries all of it.</template>
        </p>
        <p v-if="suggested && lost.length > 0" class="quiet">
          With it would fall away: {{ lost.slice(0, 12).join(', ')
          }}{{ lost.length > 12 ? ` and ${lost.length - 12} more` : '' }}.
        </p>
      </NCollapseItem></NCollapse
    >
  </section>
</template>

<style scoped>
.connection {
  display: grid;
  gap: 8px;
}

.times {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
  align-items: end;
}
.times p {
  grid-column: 1 / -1;
  margin: 0;
}
.words {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 10px;
  max-height: 190px;
  overflow: auto;
  font: 12.5px/1.4 var(--narrow);
  margin: 6px 0;
}
</style>
