<script setup lang="ts">
import { readFieldType, readOffset, wordOffset, type DataField } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { plainChoices } from '../../parts/choices'

/** Adds one field, or several of a kind behind each other. */
const props = defineProps<{ next: number; disabled: boolean }>()
const emit = defineEmits<{ add: [field: DataField, count: number] }>()
const types = [
  'BOOL',
  'USINT',
  'SINT',
  'UINT',
  'INT',
  'UDINT',
  'DINT',
  'REAL',
  'octets',
  'unused',
  'port',
]
const place = ref('')
const type = ref('UINT')
const size = ref<number | null>(1)
const count = ref<number | null>(1)
const name = ref('')
const isSized = computed(() => ['octets', 'unused', 'port'].includes(type.value))
const offset = computed(() => (place.value === '' ? props.next : readOffset(place.value)))
const fault = computed(() =>
  offset.value === null ? 'Octet and bit such as 3.5 are needed.' : null,
)
function add(): void {
  const read =
    type.value === 'port' ? { type: 'port' as const, bits: null } : readFieldType(type.value)
  if (offset.value === null || !read || count.value === null) return
  const bits = read.bits ?? 8 * (size.value ?? 1)
  emit(
    'add',
    {
      name: name.value.trim(),
      type: read.type,
      offsetBits: read.type === 'bit' ? offset.value : Math.ceil(offset.value / 8) * 8,
      bits,
      ...(read.type === 'port' && { port: 1 }),
    },
    count.value,
  )
  place.value = ''
  name.value = ''
}
</script>

<template>
  <form class="add" aria-label="Add fields" @submit.prevent="add">
    <TextField
      v-model:value="place"
      label="Octet.bit"
      shown
      mono
      :placeholder="wordOffset(next)"
      :fault="fault"
    />
    <PickField v-model:value="type" label="Type" shown :options="plainChoices(types)" />
    <NumberField
      v-if="isSized"
      v-model:value="size"
      label="Octets each"
      shown
      :min="1"
      :max="8192"
    />
    <NumberField v-model:value="count" label="How many" shown :min="1" :max="4096" />
    <TextField v-model:value="name" label="Name" shown class="name" placeholder="Level" />
    <NButton size="small" attr-type="submit" :disabled="disabled || fault !== null">
      Add {{ count === 1 ? 'the field' : `${count ?? 0} fields` }}
    </NButton>
  </form>
</template>

<style scoped>
.add {
  display: flex;
  gap: 8px;
  align-items: end;
}
.add > * {
  width: 92px;
}
.add .name {
  flex: 1;
}
.add .n-button {
  width: auto;
}
</style>
