<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import type { WireSetting } from './wire-settings'

/** The settings of a row that are about its wire. */
const props = defineProps<{
  settings: object
  fields: readonly WireSetting[]
  disabled: boolean
}>()
const emit = defineEmits<{ set: [settings: Record<string, number | boolean | null>] }>()
const known = computed(() => props.settings as Readonly<Record<string, number | null>>)
const holds = (key: string) => (props.settings as Readonly<Record<string, unknown>>)[key] === true
const own = computed(() =>
  props.fields.filter(
    ({ key, unless }) => key in props.settings && !(unless !== undefined && holds(unless)),
  ),
)
/** An open value stands among the choices as −1. */
const openValue = -1
const choicesOf = ({ choices = [], open }: WireSetting) =>
  open === undefined ? choices : [{ value: openValue, label: open }, ...choices]
const set = (key: string, value: number | boolean | null) => emit('set', { [key]: value })
</script>

<template>
  <section v-if="own.length > 0" class="fields">
    <template v-for="field in own" :key="field.key">
      <NCheckbox
        v-if="field.yes"
        class="wide"
        :checked="holds(field.key)"
        :disabled="disabled"
        @update:checked="set(field.key, $event)"
        >{{ field.label }}</NCheckbox
      >
      <PickField
        v-else-if="field.choices"
        shown
        size="small"
        :label="field.label"
        :value="known[field.key] ?? (field.open === undefined ? null : openValue)"
        :options="choicesOf(field)"
        :disabled="disabled"
        @update:value="set(field.key, $event === openValue ? null : $event)"
      />
      <NumberField
        v-else
        shown
        size="small"
        :label="field.label"
        :value="known[field.key]"
        :unit="field.unit"
        :min="field.min"
        :max="field.max"
        :optional="field.open !== undefined"
        :placeholder="field.open"
        :disabled="disabled"
        @update:value="set(field.key, $event)"
      />
    </template>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
