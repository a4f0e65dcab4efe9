<script setup lang="ts">
import {
  choicesOf,
  type DerivedModule,
  type DerivedStation,
  type ParameterChoices,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { plainChoices } from '../../parts/choices'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'

/** Values kept under a name for modules of this kind. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule }>()
const emit = defineEmits<{ put: [values: ParameterChoices, file: string, from: string] }>()
const project = useProject()
const sets = computed(() => project.plan!.project.parameterSets)
const values = computed(() => choicesOf(props.view, props.module).values)
const isNaming = ref(false)
const name = ref('')

function put(wanted: string): void {
  const set = sets.value.find((one) => one.name === wanted)
  if (set) emit('put', set.values, set.file, set.type)
}
function save(): void {
  const set = {
    name: name.value.trim(),
    file: props.view.station.file,
    type: props.module.row?.module ?? props.view.station.device,
    values: values.value,
  }
  if (
    set.name !== '' &&
    project.run({
      type: 'setProject',
      set: { parameterSets: [...sets.value.filter((one) => one.name !== set.name), set] },
    })
  )
    isNaming.value = false
}
</script>

<template>
  <PickField
    v-if="sets.length > 0"
    label="Apply a set of values"
    class="pick"
    :value="null"
    placeholder="Apply a set …"
    :options="plainChoices(sets.map((set) => set.name))"
    @update:value="put"
  />
  <form v-if="isNaming" class="naming" @submit.prevent="save">
    <TextField
      v-model:value="name"
      label="Name of the set"
      placeholder="Name of the set"
      @keydown.esc="isNaming = false"
    /><NButton size="small" attr-type="submit">Save</NButton>
  </form>
  <NButton
    v-else
    size="small"
    :disabled="Object.keys(values).length === 0"
    @click="isNaming = true"
  >
    Save values as a set …
  </NButton>
</template>

<style scoped>
.text-field,
.pick {
  width: 170px;
}
.naming {
  display: flex;
  gap: 6px;
}
</style>
