<script setup lang="ts">
import { numbered, readLayoutTable, type DataField } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import TextField from '../../parts/TextField.vue'

/** A table out of a data sheet becomes fields; lines that are none are told and left out. */
const emit = defineEmits<{ put: [fields: readonly DataField[], instead: boolean]; close: [] }>()
const text = ref('')
const read = computed(() => readLayoutTable(text.value))
const mostTold = 8
</script>

<template>
  <DialogBox title="Paste a table of fields" wide @close="emit('close')">
    <p class="quiet">
      Columns: octet (or octet.bit), bits, name, type. With headings they may stand in any order;
      tabs, commas or semicolons between them.
    </p>
    <TextField
      v-model:value="text"
      label="Table"
      type="textarea"
      mono
      :rows="12"
      placeholder="Offset	Bits	Name	Type
0	16	Level	INT
2.0	1	Alarm	BOOL"
    />
    <p role="status">
      {{ numbered(read.fields.length, 'field') }} read<template v-if="read.faults.length > 0"
        >, {{ numbered(read.faults.length, 'line') }} left out</template
      >.
    </p>
    <ul v-if="read.faults.length > 0" class="faults">
      <li v-for="fault in read.faults.slice(0, mostTold)" :key="fault.line">
        {{ fault.sentence }}
      </li>
      <li v-if="read.faults.length > mostTold">
        and {{ numbered(read.faults.length - mostTold, 'line') }} more.
      </li>
    </ul>
    <div class="actions">
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
      <NButton @click="emit('close')">Cancel</NButton>
    </div>
  </DialogBox>
</template>

<style scoped>
.faults {
  margin: 0;
  padding-left: 18px;
  font: 13px/1.5 var(--narrow);
  color: var(--accent);
}
.actions {
  display: flex;
  gap: 8px;
}
</style>
