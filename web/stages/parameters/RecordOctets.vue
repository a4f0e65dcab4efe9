<script setup lang="ts">
import {
  bitPlaces,
  fromHex,
  hexOctet,
  numbered,
  type Parameter,
  type PlacedRecord,
} from '@kataxis/core'
import { computed, ref, watch } from 'vue'
import { useGrowing } from '../../parts/useGrowing'

/** The octets of a record as the device gets them. Each bit leads to its parameter, and the
 *  parameter in sight shows its bits. */
const props = defineProps<{
  placed: PlacedRecord
  bytes: string
  lit: string | null
  withOwner: boolean
}>()
const emit = defineEmits<{ light: [parameter: string] }>()
const octets = computed(() => [...fromHex(props.bytes)])
const standard = computed(() => [...fromHex(props.placed.record.bytes)])
const owners = computed(() => {
  const map = new Map<number, Parameter>()
  for (const parameter of props.placed.record.parameters)
    for (const { octet, bit } of bitPlaces(parameter)) map.set(octet * 8 + bit, parameter)
  return map
})
const litBits = computed(() => {
  const lit = props.placed.record.parameters.find(({ key }) => key === props.lit)
  return new Set(lit ? bitPlaces(lit).map(({ octet, bit }) => octet * 8 + bit) : [])
})
const litOctets = computed(() => new Set([...litBits.value].map((bit) => bit >> 3)))
const drawn = useGrowing(
  computed(() => props.placed),
  () => octets.value.length,
  64,
  96,
)
const open = ref<number | null>(null)
const shownOctet = computed(
  () => open.value ?? (litBits.value.size > 0 ? Math.min(...litBits.value) >> 3 : null),
)
watch(
  () => props.lit,
  (lit) => lit !== null && (open.value = null),
)
const bitsOf = (octet: number) =>
  Array.from({ length: 8 }, (_, i) => 7 - i).map((bit) => ({
    bit,
    owner: owners.value.get(octet * 8 + bit) ?? null,
    value: (octets.value[octet]! >> bit) & 1,
  }))
const title = computed(() => {
  const { record, isFailSafe, owner } = props.placed
  return [
    props.withOwner ? owner : '',
    record.index === null
      ? 'Parameter bytes'
      : `Record ${record.index}${record.index > 999 ? ` (0x${record.index.toString(16)})` : ''}`,
    isFailSafe ? 'F parameters' : (record.name ?? ''),
    numbered(record.length, 'octet'),
  ]
    .filter(Boolean)
    .join(' · ')
})
</script>

<template>
  <section class="record" :aria-label="title">
    <h3>{{ title }}</h3>
    <div class="octets">
      <button
        v-for="(octet, i) in octets.slice(0, drawn)"
        :key="i"
        class="octet mono"
        :class="{ changed: octet !== standard[i], lit: litOctets.has(i), open: shownOctet === i }"
        :title="`Octet ${i}`"
        :aria-label="`Octet ${i}: ${hexOctet(octet)}`"
        @click="open = i"
      >
        {{ hexOctet(octet) }}
      </button>
    </div>
    <div v-if="shownOctet !== null && shownOctet < octets.length" class="bits">
      <span class="mono at">octet {{ shownOctet }}</span>
      <button
        v-for="{ bit, owner, value } in bitsOf(shownOctet)"
        :key="bit"
        class="bit"
        :class="{ lit: litBits.has(shownOctet * 8 + bit), free: !owner }"
        :title="owner?.name ?? 'constant'"
        @click="owner && emit('light', owner.key)"
      >
        <span class="mono">{{ value }}</span><small>{{ bit }}</small>
      </button>
      <span class="whose">{{
        [...new Set(bitsOf(shownOctet).map(({ owner }) => owner?.name ?? 'constant'))].join(' · ')
      }}</span>
    </div>
  </section>
</template>

<style scoped>
.record {
  display: grid;
  gap: 5px;
}
.octets {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(27px, 1fr));
  max-width: 480px;
}
.octet,
.bit {
  border: 1px solid transparent;
  background: transparent;
  color: var(--ink);
  padding: 2px 3px;
  cursor: pointer;
}
.octet.changed {
  font-weight: 600;
  text-decoration: underline;
  text-decoration-color: var(--accent);
  text-underline-offset: 3px;
}
.lit {
  background: var(--accent-soft);
}
.octet.open {
  border-color: var(--ink-2);
}
.bits {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  align-items: center;
}
.at {
  color: var(--ink-2);
  margin-right: 6px;
}
.bit {
  display: grid;
  justify-items: center;
  width: 24px;
  border-color: var(--line);
}
.bit.free {
  color: var(--ink-3);
}
small {
  font: 9px/1 var(--mono);
  color: var(--ink-3);
}
.whose {
  flex-basis: 100%;
  font: 12px/1.4 var(--narrow);
  color: var(--ink-2);
}
</style>
