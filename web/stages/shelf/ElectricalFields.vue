<script setup lang="ts">
import { commonFormats, entityParameters, type WrittenSheet } from '@kataxis/core'
import TypedInput from '../../parts/TypedInput.vue'

type Electrical = NonNullable<NonNullable<WrittenSheet['modules']>[number]['electrical']>

/** What the channels of a module are electrically, in the form of a device sheet; what is left
 *  empty nobody says. */
const electrical = defineModel<Electrical | undefined>({ required: true })
function set(values: { [K in keyof Electrical]?: Electrical[K] | undefined }): void {
  const said = Object.entries({ ...electrical.value, ...values }).filter(
    ([, value]) => value !== undefined,
  )
  electrical.value = said.length === 0 ? undefined : (Object.fromEntries(said) as Electrical)
}
const text = (event: Event) => (event.target as HTMLInputElement).value
const number = (typed: string) => (typed === '' ? undefined : Number(typed))
const truth = (event: Event) => ({ yes: true, no: false })[text(event) as 'yes' | 'no']
const numbers = [
  ['delayMs', 'Delay of its inputs, ms'],
  ['loadMa', 'An output gives at most, mA'],
  ['inrushMa', 'While something starts, mA'],
] as const
const truths = [
  ['feeds', 'Feeds a transmitter'],
  ['hart', 'Carries HART'],
  ['intrinsicallySafe', 'Is intrinsically safe'],
] as const
const own = entityParameters.filter(
  ([, , , whose]) => whose === 'channel',
) as unknown as readonly (readonly [keyof NonNullable<Electrical['entity']>, string, string])[]
function setEntity(key: (typeof own)[number][0], value: number | undefined): void {
  const entity = Object.fromEntries(
    Object.entries({ ...electrical.value?.entity, [key]: value }).filter(
      ([, one]) => one !== undefined,
    ),
  )
  set({ entity: Object.keys(entity).length > 0 ? entity : undefined })
}
</script>

<template>
  <div class="four">
    <label
      ><span class="label">Range that nothing changes</span
      ><TypedInput
        class="field"
        placeholder="4…20 mA"
        :value="electrical?.range ?? ''"
        @change="set({ range: $event.trim() || undefined })"
    /></label>
    <label
      ><span class="label">Takes sensors that</span
      ><select
        class="field"
        :value="electrical?.takes ?? ''"
        @change="set({ takes: (text($event) || undefined) as Electrical['takes'] })"
      >
        <option value="">nobody says</option>
        <option value="pnp">source (pnp)</option>
        <option value="npn">sink (npn)</option>
        <option value="both">source or sink</option>
      </select></label
    >
    <label v-for="[key, label] in numbers" :key="key"
      ><span class="label">{{ label }}</span
      ><TypedInput
        class="field"
        type="number"
        min="0"
        step="any"
        :value="String(electrical?.[key] ?? '')"
        @change="set({ [key]: number($event) })"
    /></label>
    <label v-for="[key, label] in truths" :key="key"
      ><span class="label">{{ label }}</span
      ><select
        class="field"
        :value="electrical?.[key] === undefined ? '' : electrical[key] ? 'yes' : 'no'"
        @change="set({ [key]: truth($event) })"
      >
        <option value="">nobody says</option>
        <option>yes</option>
        <option>no</option>
      </select></label
    >
    <label
      ><span class="label">Counts</span
      ><select
        class="field"
        :value="typeof electrical?.counts === 'object' ? 'own' : (electrical?.counts ?? '')"
        @change="set({ counts: (text($event) || undefined) as Electrical['counts'] })"
      >
        <option value="">nobody says</option>
        <option v-if="typeof electrical?.counts === 'object'" value="own">
          {{ electrical.counts.name }}
        </option>
        <option v-for="(one, name) in commonFormats" :key="name" :value="name">
          {{ one.name }}
        </option>
      </select></label
    >
    <label v-for="[key, words, unit] in electrical?.intrinsicallySafe ? own : []" :key="key"
      ><span class="label">{{ words }}, {{ unit }}</span
      ><TypedInput
        class="field"
        type="number"
        min="0"
        step="any"
        :value="String(electrical?.entity?.[key] ?? '')"
        @change="setEntity(key, number($event))"
    /></label>
  </div>
</template>
