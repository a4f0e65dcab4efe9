<script lang="ts">
/** Sizes of a controller that somebody types. */
export type ControllerSize =
  'inputBytes' | 'outputBytes' | 'firstInput' | 'firstOutput' | 'reserveBytes' | 'reservePercent'
</script>

<script setup lang="ts">
import type { ControllerRow } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import EditField from '../../../parts/EditField.vue'
import { useProject } from '../../../stores/project'
import AreaRows from './AreaRows.vue'

/** From where a controller gives out addresses, what stays free, and which areas it keeps. */
defineProps<{ controller: ControllerRow }>()
const emit = defineEmits<{ setSize: [which: ControllerSize, text: string] }>()
const project = useProject()
</script>

<template>
  <section>
    <h2>How addresses are given out</h2>
    <div class="four">
      <EditField
        label="Inputs from byte"
        :value="String(controller.firstInput)"
        mono
        @change="emit('setSize', 'firstInput', $event)"
      />
      <EditField
        label="Outputs from byte"
        :value="String(controller.firstOutput)"
        mono
        @change="emit('setSize', 'firstOutput', $event)"
      />
      <EditField
        label="Reserve, bytes"
        :value="String(controller.reserveBytes)"
        mono
        @change="emit('setSize', 'reserveBytes', $event)"
      />
      <EditField
        label="and per cent"
        :value="String(controller.reservePercent)"
        mono
        @change="emit('setSize', 'reservePercent', $event)"
      />
    </div>
    <p class="quiet">The reserve stays free behind each station, for its own modules to come.</p>
    <NCheckbox
      :checked="project.plan!.project.packsBits"
      @update:checked="
        project.run({
          type: 'setProject',
          set: { packsBits: $event },
        })
      "
      >In the whole project, modules of up to four bits stand side by side in one byte of their
      station</NCheckbox
    >
    <AreaRows :controller="controller" />
  </section>
</template>
