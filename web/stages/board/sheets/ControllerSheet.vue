<script setup lang="ts">
import { notationNames, notations, type ControllerRow, type NotationName } from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import FindingList from '../../../parts/FindingList.vue'
import LinkButton from '../../../parts/LinkButton.vue'
import PickField from '../../../parts/PickField.vue'
import { useProject } from '../../../stores/project'
import GivingAddresses, { type ControllerSize } from './GivingAddresses.vue'

const props = defineProps<{ id: string }>()
const project = useProject()
const view = computed(() =>
  project.derived!.controllers.find(({ controller }) => controller.id === props.id)!,
)
const set = (values: Partial<Omit<ControllerRow, 'id'>>) =>
  project.run({ type: 'updateController', id: props.id, set: values })
const mostOf: Readonly<Partial<Record<ControllerSize, number>>> = {
  reserveBytes: 65_535,
  reservePercent: 400,
}
function setSize(which: ControllerSize, text: string) {
  const bytes = Number(text)
  if (!Number.isInteger(bytes) || bytes < 0 || bytes > (mostOf[which] ?? 1_048_575))
    return project.tell(
      `"${text}" is not possible here; a whole number from 0 to ${mostOf[which] ?? 1_048_575} is needed.`,
    )
  set({ [which]: bytes })
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Controller</h3>
      <h1>{{ view.controller.name || '(no name)' }}</h1>
    </header>
    <FindingList :ids="[id]" />
    <EditField label="Name" :value="view.controller.name" @change="set({ name: $event.trim() })" />
    <div class="pair">
      <EditField
        label="Input image, bytes"
        :value="String(view.controller.inputBytes)"
        mono
        @change="setSize('inputBytes', $event)"
      />
      <EditField
        label="Output image, bytes"
        :value="String(view.controller.outputBytes)"
        mono
        @change="setSize('outputBytes', $event)"
      />
    </div>
    <NCheckbox :checked="view.controller.aligned" @update:checked="set({ aligned: $event })"
      >New 16- and 32-bit values start at even and 4-divisible bytes</NCheckbox
    >
    <PickField
      label="Addresses are written as"
      shown
      :value="view.controller.notation"
      :options="
        notationNames.map((name) => ({
          value: name,
          label: `${notations[name].name}, ${notations[name].label}`,
        }))
      "
      @update:value="set({ notation: $event as NotationName })"
    />
    <PickField
      label="The program reads the octets of numbers"
      shown
      :value="view.controller.byteOrder"
      :options="[
        { value: 'network', label: 'as each network sends them' },
        { value: 'little', label: 'lowest octet first' },
        { value: 'big', label: 'highest octet first' },
      ]"
      @update:value="set({ byteOrder: $event as 'network' })"
    />
    <GivingAddresses :controller="view.controller" @set-size="setSize" />
    <section>
      <h2>Given out</h2>
      <FillBar
        label="Inputs"
        :used="view.inputBytes"
        :limit="view.controller.inputBytes"
        unit="bytes"
      />
      <FillBar
        label="Outputs"
        :used="view.outputBytes"
        :limit="view.controller.outputBytes"
        unit="bytes"
      />
      <p class="quiet">
        What has an address keeps it, whatever is inserted, moved or removed elsewhere.
      </p>
      <LinkButton size="small" :to="{ name: 'memory', query: { at: `controller:${id}` } }"
        >Show the memory</LinkButton
      >
    </section>
    <NButton size="small" @click="project.run({ type: 'removeController', id })">
      Remove the controller and all on it
    </NButton>
  </div>
</template>

<style scoped>
section > .n-button {
  justify-self: start;
}
</style>
