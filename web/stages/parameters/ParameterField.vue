<script setup lang="ts">
import { shownValue, typedValue, wordParameterValue, type ParameterRow } from '@kataxis/core'
import { NButton, NSwitch } from 'naive-ui'
import { computed } from 'vue'
import PickField from '../../parts/PickField.vue'
import TypedInput from '../../parts/TypedInput.vue'

/** One parameter: its name, its value to be set, what it may be, and where it stands in the
 *  record. */
const props = defineProps<{ row: ParameterRow; lit: boolean }>()
const emit = defineEmits<{ set: [value: number | string | null]; light: [] }>()
const mostChoices = 60
const parameter = computed(() => props.row.parameter)
/** Values to choose from, where the description names them or allows only few. */
const choices = computed(() => {
  const { texts, allowed } = parameter.value
  const listed = allowed.flatMap(([from, to]) =>
    to - from < mostChoices && Number.isInteger(from) && Number.isInteger(to)
      ? Array.from({ length: to - from + 1 }, (_, i) => from + i)
      : [NaN],
  )
  const named = Object.keys(texts).map(Number)
  if (named.length === 0 || listed.includes(NaN) || listed.length > mostChoices) return null
  return listed.length > 0 ? listed : named
})
const options = computed(() => {
  const listed = choices.value ?? []
  const now = Number(props.row.value)
  return [
    ...(listed.includes(now) ? [] : [{ value: now, label: `${now} (not allowed)` }]),
    ...listed.map((value) => ({
      value,
      label: parameter.value.texts[String(value)] ?? String(value),
    })),
  ]
})
const isSwitch = computed(
  () => parameter.value.bits === 1 && Object.keys(parameter.value.texts).length === 0,
)
const place = computed(() => {
  const { offsetBytes, offsetBits, bits } = parameter.value
  return bits % 8 === 0 && offsetBits === 0
    ? bits === 8
      ? `${offsetBytes}`
      : `${offsetBytes}–${offsetBytes + bits / 8 - 1}`
    : `${offsetBytes}.${offsetBits}${bits > 1 ? `–${offsetBits + bits - 1}` : ''}`
})
const range = computed(() => {
  const { allowed, unit } = parameter.value
  if (choices.value || allowed.length === 0) return unit ?? ''
  const shown = (value: number) => shownValue(parameter.value, value)
  return `${allowed.map(([from, to]) => (from === to ? shown(from) : `${shown(from)} to ${shown(to)}`)).join(', ')} ${unit ?? ''}`
})
</script>

<template>
  <div
    class="row"
    :class="{ chosen: row.isChosen, lit, wrong: row.fault }"
    @mouseenter="emit('light')"
    @focusin="emit('light')"
  >
    <span class="mark" :title="row.isChosen ? 'Other than the description proposes' : ''">{{
      row.isChosen ? '◆' : ''
    }}</span>
    <span class="name" :title="parameter.info"
      >{{ parameter.name || parameter.key
      }}<small v-if="parameter.info"> {{ parameter.info }}</small></span
    >
    <span class="value">
      <span v-if="row.isFixed" class="fixed">{{ wordParameterValue(parameter, row.value) }}</span>
      <span v-else-if="isSwitch" class="switch"
        ><NSwitch
          size="small"
          :aria-label="parameter.name"
          :value="Number(row.value) !== 0"
          @update:value="emit('set', $event ? 1 : 0)"
        />{{ Number(row.value) === 0 ? 'off' : 'on' }}</span
      >
      <PickField
        v-else-if="choices"
        size="small"
        :label="parameter.name"
        :value="Number(row.value)"
        :options="options"
        @update:value="emit('set', $event)"
      />
      <TypedInput
        v-else
        size="small"
        :label="parameter.name"
        mono
        :value="shownValue(parameter, row.value)"
        :wrong="row.fault !== null"
        @change="emit('set', typedValue(parameter, $event))"
      />
    </span>
    <span class="range">{{ row.isFixed ? 'fixed' : range }}</span>
    <span class="place mono">{{ place }}</span>
    <NButton
      v-if="row.isChosen && !row.isFixed"
      size="small"
      quaternary
      class="back"
      :aria-label="`${parameter.name} as the description says`"
      :title="`Back to ${wordParameterValue(parameter, parameter.default)}`"
      @click="emit('set', null)"
    >
      ↺
    </NButton>
    <p v-if="row.fault" class="fault">{{ row.fault }} It is kept and not sent.</p>
    <p v-if="row.hidden" class="fault">
      The device does not use it as things are: {{ row.hidden }}. It is kept.
    </p>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 16px minmax(140px, 2fr) minmax(130px, 190px) minmax(60px, 1fr) 54px 28px;
  gap: 2px 8px;
  align-items: center;
  min-height: 30px;
  padding: 1px 0;
  font: 13px/1.3 var(--narrow);
  border-bottom: 1px solid var(--paper-3);
}
.lit {
  background: var(--paper-2);
}
.mark {
  color: var(--accent);
  font-size: 9px;
  text-align: center;
}
.chosen .name {
  font-weight: 600;
}
small {
  margin-left: 6px;
}
small,
.range {
  color: var(--ink-3);
  font-weight: 400;
}
.range {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.place {
  color: var(--ink-3);
  text-align: right;
}
.switch {
  display: flex;
  gap: 6px;
  align-items: center;
}
.back {
  padding: 2px 6px;
}
.fault {
  grid-column: 2 / -1;
  color: var(--accent);
}
</style>
