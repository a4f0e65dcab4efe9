<script setup lang="ts">
import { switchBank, type SwitchBank, type WrittenSheet } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import SwitchFields from '../../parts/SwitchFields.vue'
import TextField from '../../parts/TextField.vue'

/** The F parameters of a fail-safe module in a device sheet. */
type FailSafe = NonNullable<NonNullable<WrittenSheet['modules']>[number]['failSafe']>
const failSafe = defineModel<FailSafe | undefined>({ required: true })
const set = (values: Partial<FailSafe>) => (failSafe.value = { ...failSafe.value, ...values })
const switches = computed<SwitchBank | null>(() =>
  failSafe.value?.switches ? switchBank.parse(failSafe.value.switches) : null,
)
const trailers = [
  { value: 0, label: 'none' },
  { value: 4, label: '4 octets' },
  { value: 5, label: '5 octets' },
]
</script>

<template>
  <div class="fail-safe">
    <NCheckbox
      :checked="failSafe !== undefined"
      @update:checked="failSafe = $event ? {} : undefined"
    >
      It is a fail-safe module
    </NCheckbox>
    <div v-if="failSafe" class="pairs">
      <NumberField
        label="Record with the F parameters"
        shown
        :min="0"
        :max="65535"
        :value="failSafe.index ?? 1"
        @update:value="set({ index: $event ?? 1 })"
      />
      <PickField
        label="SIL"
        shown
        :value="failSafe.sil ?? 3"
        :options="[1, 2, 3].map((value) => ({ value, label: `SIL ${value}` }))"
        @update:value="set({ sil: $event })"
      />
      <NumberField
        label="Monitoring time, default"
        shown
        unit="ms"
        :min="1"
        :max="65535"
        :value="failSafe.watchdogMs ?? 150"
        @update:value="set({ watchdogMs: $event ?? 150 })"
      />
      <TextField
        label="Monitoring times it takes"
        shown
        mono
        :value="failSafe.watchdogAllowed ?? '1..65535'"
        @update:value="set({ watchdogAllowed: $event ?? '' })"
      />
      <TextField
        label="Destination addresses it takes"
        shown
        mono
        :value="failSafe.addressAllowed ?? '1..65534'"
        @update:value="set({ addressAllowed: $event ?? '' })"
      />
      <PickField
        label="Fail-safe layer behind the data"
        shown
        :value="failSafe.trailerOctets ?? 4"
        :options="trailers"
        @update:value="set({ trailerOctets: $event as 0 | 4 | 5 })"
      />
      <NCheckbox
        :checked="failSafe.ownParametersSum ?? false"
        @update:checked="set({ ownParametersSum: $event })"
      >
        with a check sum over its own parameters
      </NCheckbox>
    </div>
    <SwitchFields
      v-if="failSafe"
      :model-value="switches"
      @update:model-value="set({ switches: $event ?? undefined })"
    />
  </div>
</template>

<style scoped src="./sheet-form.css"></style>
<style scoped>
.fail-safe {
  display: grid;
  gap: 8px;
}
</style>
