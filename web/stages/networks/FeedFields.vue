<script setup lang="ts">
import { consumersOf, wordConsumer, type DerivedStation } from '@kataxis/core'
import { computed } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import { amperes, conductorChoices, keyOfConsumer, noSupply, volts } from './feed-words'
import { useFeeds } from './useFeeds'

/** Where the parts of a station take their supply from, and what arrives there. */
const props = defineProps<{ view: DerivedStation; disabled: boolean }>()
const { supplies, choices, fed, set, hang, setConductor } = useFeeds()
const consumers = computed(() => consumersOf(props.view))
const capital = (words: string) => words[0]!.toUpperCase() + words.slice(1)
</script>

<template>
  <section v-if="supplies.length > 0 && consumers.length > 0" class="feeds">
    <h2>Supply</h2>
    <div v-for="one in consumers" :key="keyOfConsumer(one)" class="feed">
      <PickField
        shown
        size="small"
        :label="capital(wordConsumer(one))"
        :value="one.feed?.from ?? noSupply"
        :options="choices"
        :disabled="disabled"
        @update:value="hang(one, $event)"
      />
      <template v-if="one.feed">
        <NumberField
          shown
          size="small"
          label="Cable length"
          optional
          unit="m"
          :min="0"
          :max="10000"
          :value="one.feed.lengthM"
          :disabled="disabled"
          @update:value="set(one, { lengthM: $event })"
        />
        <PickField
          shown
          size="small"
          label="Conductor"
          placeholder="mm²"
          :value="one.feed.mm2 === null ? null : `${one.feed.mm2}/${one.feed.flexible}`"
          :options="conductorChoices"
          :disabled="disabled"
          @update:value="setConductor(one, $event)"
        />
        <NumberField
          shown
          size="small"
          label="Current"
          optional
          unit="mA"
          :placeholder="one.isUnsaid ? 'not known' : `${one.needMa}`"
          :min="0"
          :max="1000000"
          :value="one.feed.currentMa"
          :disabled="disabled"
          @update:value="set(one, { currentMa: $event })"
        />
        <p class="quiet">
          Takes {{ amperes(one.needMa) }}, {{ amperes(one.inrushMa) }} at start; gets
          {{ volts(fed.get(keyOfConsumer(one))?.volts ?? null) }},
          {{ volts(fed.get(keyOfConsumer(one))?.startVolts ?? null) }} at start; needs
          {{ volts(one.minVolts) }}.
        </p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.feed {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 10px;
  margin-bottom: 10px;
}
.feed p {
  grid-column: 1 / -1;
}
</style>
