<script setup lang="ts">
import { commonFormats, entityParameters, type WrittenSheet } from '@kataxis/core'
import { plainChoices, tableChoices } from '../../parts/choices'
import PickField from '../../parts/PickField.vue'
import TypedInput from '../../parts/TypedInput.vue'

type Electrical = NonNullable<NonNullable<WrittenSheet['modules']>[number]['electrical']>

/** What the channels of a module are electrically, in the form of a device sheet; what is left
 *  empty not known. */
const electrical = defineModel<Electrical | undefined>({ required: true })
function set(values: { [K in keyof Electrical]?: Electrical[K] | undefined }): void {
  const said = Object.entries({ ...electrical.value, ...values }).filter(
    ([, value]) => value !== undefined,
  )
  electrical.value = said.length === 0 ? undefined : (Object.fromEntries(said) as Electrical)
}
const number = (typed: string) => (typed === '' ? undefined : Number(typed))
const truths = { '': undefined, yes: true, no: false } as const
const numbers = [
  ['delayMs', 'Delay of its inputs, ms'],
  ['loadMa', 'An output gives at most, mA'],
  ['inrushMa', 'While something starts, mA'],
] as const
const questions = [
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
    <TypedInput
      label="Range that nothing changes"
      shown
      placeholder="4…20 mA"
      :value="electrical?.range ?? ''"
      @change="set({ range: $event.trim() || undefined })"
    />
    <PickField
      label="Takes sensors that"
      shown
      :value="electrical?.takes ?? ''"
      :options="[
        { value: '', label: 'not known' },
        { value: 'pnp', label: 'source (pnp)' },
        { value: 'npn', label: 'sink (npn)' },
        { value: 'both', label: 'source or sink' },
      ]"
      @update:value="set({ takes: ($event || undefined) as Electrical['takes'] })"
    />
    <TypedInput
      v-for="[key, label] in numbers"
      :key="key"
      :label="label"
      shown
      :value="String(electrical?.[key] ?? '')"
      @change="set({ [key]: number($event) })"
    />
    <PickField
      v-for="[key, label] in questions"
      :key="key"
      :label="label"
      shown
      :value="electrical?.[key] === undefined ? '' : electrical[key] ? 'yes' : 'no'"
      :options="[{ value: '', label: 'not known' }, ...plainChoices(['yes', 'no'])]"
      @update:value="set({ [key]: truths[$event as keyof typeof truths] })"
    />
    <PickField
      label="Counts"
      shown
      :value="typeof electrical?.counts === 'object' ? 'own' : (electrical?.counts ?? '')"
      :options="[
        { value: '', label: 'not known' },
        ...(typeof electrical?.counts === 'object'
          ? [{ value: 'own', label: electrical.counts.name }]
          : []),
        ...tableChoices(commonFormats, (one) => one.name),
      ]"
      @update:value="set({ counts: ($event || undefined) as Electrical['counts'] })"
    />
    <TypedInput
      v-for="[key, words, unit] in electrical?.intrinsicallySafe ? own : []"
      :key="key"
      :label="`${words}, ${unit}`"
      shown
      :value="String(electrical?.entity?.[key] ?? '')"
      @change="setEntity(key, number($event))"
    />
  </div>
</template>
