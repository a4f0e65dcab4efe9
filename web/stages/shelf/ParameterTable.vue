<script setup lang="ts">
import {
  menuPath,
  numbered,
  oneOr,
  typeName,
  type Parameter,
  type ParameterRecord,
} from '@kataxis/core'
import { NTable } from 'naive-ui'

/** Parameter records as the file describes them, with their default bytes. */
defineProps<{ records: readonly ParameterRecord[] }>()
const mostShown = 200

function recordName({ index, subindex, name, transitions }: ParameterRecord): string {
  const number =
    index === null
      ? 'Parameter bytes'
      : `Record ${index}${index > 999 ? ` (0x${index.toString(16)})` : ''}${subindex === undefined ? '' : `:${subindex}`}`
  return [
    number,
    name,
    transitions && transitions.length > 0 ? `sent at ${transitions.join(', ')}` : '',
  ]
    .filter(Boolean)
    .join(' · ')
}
function place({ offsetBytes, offsetBits, bits }: Parameter): string {
  return `${offsetBytes}${bits % 8 === 0 && offsetBits === 0 ? '' : `.${offsetBits}`}, ${oneOr(bits, '1 bit', 'bits')}`
}
function valueWithText({ texts }: Parameter, value: number | string): string {
  const text = texts[String(value)]
  return text === undefined ? String(value) : `${value} = ${text}`
}
const mostListed = 16
function allowedWords(parameter: Parameter): string {
  const { allowed, texts } = parameter
  if (allowed.length === 0) return 'whatever fits'
  const hasTexts = Object.keys(texts).length > 0
  return allowed
    .map(([from, to]) => {
      if (from === to) return valueWithText(parameter, from)
      if (!hasTexts || to - from >= mostListed) return `${from} to ${to}`
      return Array.from({ length: to - from + 1 }, (_, i) =>
        valueWithText(parameter, from + i),
      ).join(', ')
    })
    .join(', ')
}
</script>

<template>
  <div v-for="(record, r) in records" :key="r" class="record">
    <h3>
      {{ recordName(record) }}
      <span class="quiet">{{ numbered(record.length, 'byte') }}</span>
    </h3>
    <code class="bytes"
      >{{ record.bytes.slice(0, 400) }}{{ record.bytes.length > 400 ? ' …' : '' }}</code
    >
    <NTable v-if="record.parameters.length > 0" size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Parameter</th>
          <th scope="col">Type</th>
          <th scope="col">At byte</th>
          <th scope="col">Default</th>
          <th scope="col">Allowed</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="parameter in record.parameters.slice(0, mostShown)" :key="parameter.key">
          <td>
            <span v-if="menuPath(parameter).length > 0" class="quiet"
              >{{ menuPath(parameter).join(' › ') }} › </span
            >{{ parameter.name || parameter.key }}
            <span v-if="!parameter.changeable" class="quiet">cannot be changed</span>
          </td>
          <td class="mono">{{ typeName(parameter.type) }}</td>
          <td class="mono">{{ place(parameter) }}</td>
          <td>{{ valueWithText(parameter, parameter.default) }} {{ parameter.unit }}</td>
          <td>{{ allowedWords(parameter) }}</td>
        </tr>
      </tbody>
    </NTable>
    <p v-if="record.parameters.length > mostShown" class="quiet">
      {{ record.parameters.length - mostShown }} more parameters
    </p>
  </div>
</template>

<style scoped>
.record {
  display: grid;
  gap: 2px;
  margin: 4px 0 8px;
}
.bytes {
  font: 12px/1.4 var(--mono);
  overflow-wrap: anywhere;
}
</style>
