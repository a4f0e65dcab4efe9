<script lang="ts">
/** A column of a list of like things: what it is called, what it holds. */
export interface FieldColumn {
  readonly key: string
  readonly label: string
  /** `said`: a text that is left out where it is empty; `repeat`: how often and how far apart. */
  readonly kind:
    'text' | 'code' | 'said' | 'number' | 'texts' | 'repeat' | 'yes' | readonly string[]
  /** Share of the width, as in a grid. */
  readonly width: string
  readonly optional?: boolean
}
export type FieldRow = Record<string, unknown>

/** `0=off, 1=on` and back; what has no `=` is kept until it has one. */
export function writeTexts(texts: unknown): string {
  return Object.entries((texts ?? {}) as Record<string, string>)
    .map(([value, text]) => `${value}=${text}`)
    .join(', ')
}
/** `8 every 2 bytes`, `4 every 3 bits from 1`, and back; null where it is neither. */
export function writeRepeat(repeat: unknown): string {
  if (!repeat) return ''
  const { count, everyBytes = 0, everyBits = 0, from = 0 } = repeat as Record<string, number>
  const step = everyBits > 0 ? `${everyBits} bits` : `${everyBytes} bytes`
  return `${count} every ${step}${from > 0 ? ` from ${from}` : ''}`
}
export function readRepeat(text: string): object | undefined {
  const found = /^(\d+) (?:every )?(\d+) ?(bytes?|bits?)?(?: from (\d+))?$/i.exec(text.trim())
  if (!found) return undefined
  const [, count, step, unit = 'bytes', from = '0'] = found
  return {
    count: Number(count),
    [/^bit/i.test(unit) ? 'everyBits' : 'everyBytes']: Number(step),
    from: Number(from),
  }
}
export function readTexts(text: string): Record<string, string> {
  const pairs = text
    .split(',')
    .map((part) => part.trim().split('='))
    .filter(([, ...rest]) => rest.length > 0)
  return Object.fromEntries(pairs.map(([value, ...rest]) => [value!.trim(), rest.join('=').trim()]))
}
</script>

<script setup lang="ts" generic="Row extends object">
import { NButton, NCheckbox } from 'naive-ui'
import { plainChoices } from '../../parts/choices'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import TypedInput from '../../parts/TypedInput.vue'
/** Rows of like things in the form of a device sheet, one line each. */
const props = defineProps<{
  label: string
  columns: readonly FieldColumn[]
  blank: Row
  add: string
  hint?: (row: Row) => { words: string; take: string; change: Partial<Row> } | null
}>()
const rows = defineModel<Row[] | undefined>({ required: true })
const valueOf = (row: Row, key: string) => (row as FieldRow)[key]
const numberIn = (row: Row, key: string) => valueOf(row, key) as number | null
const textIn = (row: Row, key: string) => (valueOf(row, key) ?? '') as string
const set = (at: number, key: string, value: unknown) =>
  (rows.value = (rows.value ?? []).map((row, i) => (i === at ? { ...row, [key]: value } : row)))
const addRow = () => (rows.value = [...(rows.value ?? []), { ...props.blank, ...carried() }])
/** A new line is most often like the last one: its choices stay. */
function carried(): Partial<Row> {
  const last = rows.value?.at(-1)
  return last
    ? (Object.fromEntries(
        props.columns
          .filter(({ kind }) => Array.isArray(kind))
          .map(({ key }) => [key, valueOf(last, key)]),
      ) as Partial<Row>)
    : {}
}
</script>

<template>
  <fieldset>
    <legend class="label">{{ label }}</legend>
    <template v-for="(row, i) in rows" :key="i">
      <div
        class="row"
        :style="{ gridTemplateColumns: `${columns.map(({ width }) => width).join(' ')} auto` }"
      >
        <template v-for="column in columns" :key="column.key">
          <PickField
            v-if="Array.isArray(column.kind)"
            size="small"
            :label="`${label}, line ${i + 1}: ${column.label}`"
            :value="textIn(row, column.key)"
            :options="plainChoices(column.kind)"
            @update:value="set(i, column.key, $event)"
          />
          <NumberField
            v-else-if="column.kind === 'number'"
            size="small"
            :optional="column.optional ?? false"
            :label="`${label}, line ${i + 1}: ${column.label}`"
            :min="0"
            :placeholder="column.label"
            :title="column.label"
            :value="numberIn(row, column.key)"
            @update:value="set(i, column.key, $event ?? (column.optional ? undefined : 0))"
          />
          <TypedInput
            v-else-if="column.kind === 'texts'"
            size="small"
            :label="`${label}, line ${i + 1}: ${column.label}`"
            :placeholder="column.label"
            :title="column.label"
            :value="writeTexts(valueOf(row, column.key))"
            @change="set(i, column.key, readTexts($event))"
          />
          <TypedInput
            v-else-if="column.kind === 'repeat'"
            size="small"
            :label="`${label}, line ${i + 1}: one for each signal`"
            :placeholder="column.label"
            title="One for each signal, {n} being its number: how many, and how far apart"
            :value="writeRepeat(valueOf(row, column.key))"
            @change="set(i, column.key, readRepeat($event))"
          />
          <NCheckbox
            v-else-if="column.kind === 'yes'"
            :checked="valueOf(row, column.key) === true"
            :aria-label="`${label}, line ${i + 1}: ${column.label}`"
            @update:checked="set(i, column.key, $event)"
            >{{ column.label }}</NCheckbox
          >
          <TextField
            v-else
            size="small"
            :label="`${label}, line ${i + 1}: ${column.label}`"
            :mono="column.kind === 'code'"
            :placeholder="column.label"
            :title="column.label"
            :value="textIn(row, column.key)"
            @update:value="
              set(i, column.key, column.kind === 'said' && $event === '' ? undefined : $event)
            "
          />
        </template>
        <NButton
          size="small"
          :aria-label="`Remove line ${i + 1} of ${label}`"
          @click="rows = (rows ?? []).filter((_, at) => at !== i)"
        >
          ×
        </NButton>
      </div>
      <p v-if="hint?.(row)" class="quiet hint">
        {{ hint(row)!.words }}
        <NButton
          size="small"
          @click="
            rows = (rows ?? []).map((one, at) =>
              at === i ? { ...one, ...hint!(row)!.change } : one,
            )
          "
        >
          {{ hint(row)!.take }}
        </NButton>
      </p>
    </template>
    <NButton size="small" @click="addRow">{{ add }}</NButton>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 3px;
  justify-items: start;
  min-width: 0;
}
.row {
  display: grid;
  gap: 4px;
  width: 100%;
}
</style>
