<script setup lang="ts">
import { wordSerialLine, type DerivedStation, type NetworkRow } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import LineFields from '../../parts/LineFields.vue'
import { useProject } from '../../stores/project'

/** How the serial line is set at the device itself. */
const props = defineProps<{ view: DerivedStation; network: NetworkRow; disabled: boolean }>()
const project = useProject()
const line = computed(() => ('line' in props.network.settings ? props.network.settings.line : null))
const own = computed(() =>
  'line' in props.view.station.settings ? props.view.station.settings.line : null,
)
const asMade = computed(() => {
  const { device } = props.view
  return device && 'sheet' in device ? (device.sheet.modbus.line ?? null) : null
})
const set = (value: typeof own.value) =>
  project.run({ type: 'updateStation', id: props.view.id, set: { settings: { line: value } } })
</script>

<template>
  <section v-if="line">
    <h2>Serial line</h2>
    <NCheckbox
      :checked="own !== null"
      :disabled="disabled"
      @update:checked="set($event ? line : null)"
      >Set otherwise at the device than on its line</NCheckbox
    >
    <div v-if="own" class="four">
      <LineFields :model-value="own" :disabled="disabled" @update:model-value="set" />
    </div>
    <p class="quiet">
      The line has {{ wordSerialLine(line)
      }}<template v-if="asMade"
        >; the device comes with {{ wordSerialLine(asMade) }}, to be set at the device</template
      >.
    </p>
  </section>
</template>
