<script setup lang="ts">
import { numbered, readLayoutTable, type DataField } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import PasteBox from '../../parts/PasteBox.vue'

/** A table out of a data sheet becomes fields. */
const emit = defineEmits<{ put: [fields: readonly DataField[], instead: boolean]; close: [] }>()
const text = ref('')
const read = computed(() => readLayoutTable(text.value))
const example = 'Offset\tBits\tName\tType\n0\t16\tLevel\tINT\n2.0\t1\tAlarm\tBOOL'
</script>

<template>
  <PasteBox
    v-model:text="text"
    title="Paste a table of fields"
    about="octet (or octet.bit), bits, name, type"
    label="Table"
    :example="example"
    :count="read.fields.length"
    one="field"
    :faults="read.faults"
    @close="emit('close')"
  >
    <NButton
      type="primary"
      :disabled="read.fields.length === 0"
      @click="emit('put', read.fields, true)"
    >
      Replace all fields by {{ read.fields.length }}
    </NButton>
    <NButton :disabled="read.fields.length === 0" @click="emit('put', read.fields, false)">
      Add {{ numbered(read.fields.length, 'field') }}
    </NButton>
  </PasteBox>
</template>
