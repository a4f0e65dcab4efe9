<script setup lang="ts">
import { dataContents, type ControllerRow, type ImageArea } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { plainChoices } from '../../../parts/choices'
import PickField from '../../../parts/PickField.vue'
import TypedInput from '../../../parts/TypedInput.vue'
import { useProject } from '../../../stores/project'

/** From where on kinds of data get their addresses in a controller's image. */
const props = defineProps<{ controller: ControllerRow }>()
const project = useProject()
const networks = () =>
  Object.values(project.plan!.networks).filter(
    ({ controllerId }) => controllerId === props.controller.id,
  )
const write = (areas: ImageArea[]) =>
  project.run({ type: 'updateController', id: props.controller.id, set: { areas } })
const set = (at: number, values: Partial<ImageArea>) =>
  write(props.controller.areas.map((area, i) => (i === at ? { ...area, ...values } : area)))
function setByte(at: number, direction: 'in' | 'out', text: string): void {
  const byte = text.trim() === '' ? null : Number(text)
  if (byte !== null && (!Number.isInteger(byte) || byte < 0 || byte > 1_048_575)) {
    project.tell(`"${text}" is no byte; a whole number from 0 is needed, or nothing.`)
    return
  }
  set(at, { [direction]: byte })
}
</script>

<template>
  <div class="areas">
    <NTable v-if="controller.areas.length > 0" size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Data</th>
          <th scope="col">of</th>
          <th scope="col">inputs from</th>
          <th scope="col">outputs from</th>
          <th><span class="sr">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(area, i) in controller.areas" :key="i">
          <td>
            <PickField
              size="small"
              :label="`Area ${i + 1}: data`"
              :value="area.content"
              :options="[{ value: 'any', label: 'all' }, ...plainChoices(dataContents)]"
              @update:value="set(i, { content: $event as 'any' })"
            />
          </td>
          <td>
            <PickField
              size="small"
              :label="`Area ${i + 1}: network`"
              :value="area.networkId"
              :options="[
                { value: '', label: 'all networks' },
                ...networks().map((network) => ({ value: network.id, label: network.name })),
              ]"
              @update:value="set(i, { networkId: $event })"
            />
          </td>
          <td>
            <TypedInput
              size="small"
              :label="`Area ${i + 1}: first input byte`"
              mono
              :value="String(area.in ?? '')"
              @change="setByte(i, 'in', $event)"
            />
          </td>
          <td>
            <TypedInput
              size="small"
              :label="`Area ${i + 1}: first output byte`"
              mono
              :value="String(area.out ?? '')"
              @change="setByte(i, 'out', $event)"
            />
          </td>
          <td>
            <NButton
              size="small"
              quaternary
              :aria-label="`Remove area ${i + 1}`"
              @click="write(controller.areas.filter((_, at) => at !== i))"
            >
              ×
            </NButton>
          </td>
        </tr>
      </tbody>
    </NTable>
    <NButton
      size="small"
      @click="
        write([...controller.areas, { content: 'analog', networkId: '', in: null, out: null }])
      "
    >
      + Area
    </NButton>
  </div>
</template>

<style scoped>
.areas {
  display: grid;
  gap: 6px;
  justify-items: start;
}
</style>
