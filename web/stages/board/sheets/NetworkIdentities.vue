<script setup lang="ts">
import {
  ipOfHost,
  kindOf,
  parseValueList,
  prefixLengthOf,
  type CommandOf,
  type NetworkRow,
  type NumberPool,
} from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import EditField from '../../../parts/EditField.vue'
import { useProject } from '../../../stores/project'
import IdentitiesDialog from '../dialogs/IdentitiesDialog.vue'

/** How stations of a network get their names, numbers and addresses. */
const props = defineProps<{ network: NetworkRow; stations: number }>()
const project = useProject()
const kind = computed(() => kindOf(props.network))
const set = (values: CommandOf<'updateNetwork'>['set']) =>
  project.run({ type: 'updateNetwork', id: props.network.id, set: values })
const isRenumbering = ref(false)
const span = computed(() =>
  kind.value.hasIp
    ? { first: 1, last: 2 ** (32 - prefixLengthOf(props.network)) - 2 }
    : kind.value.number,
)
function setPool(values: Partial<NumberPool>): void {
  const pool = {
    first: kind.value.hasIp ? 11 : kind.value.number.start,
    last: Math.min(span.value.last, 250),
    step: 1,
    reserved: '',
    ...props.network.pool,
    ...values,
  }
  const wrong = [pool.first, pool.last, pool.step].find(
    (number) => !Number.isInteger(number) || number < 0 || number > 65_535,
  )
  if (wrong !== undefined)
    return project.tell(
      `"${wrong}" is no number for a pool; whole numbers from 0 to 65535 are needed.`,
    )
  if (parseValueList(pool.reserved) === null)
    return project.tell(`"${pool.reserved}" is no list of numbers; write it like 200..220 254.`)
  set({ pool })
}
const poolWords = computed(() => {
  const { pool } = props.network
  if (!pool) return ''
  const word = (number: number) =>
    kind.value.hasIp ? (ipOfHost(props.network, number) ?? String(number)) : String(number)
  return `${word(pool.first)} to ${word(pool.last)}${pool.step > 1 ? ` in steps of ${pool.step}` : ''}`
})
</script>

<template>
  <section>
    <h2>Identities</h2>
    <p class="quiet">
      {{ kind.number.word }} {{ kind.number.first }} to {{ kind.number.last
      }}<template v-if="kind.number.isUnit"> tells stations apart that share an address</template>;
      {{ stations }} stations.
    </p>
    <EditField
      label="Names of new stations"
      :value="network.namePattern"
      mono
      @change="set({ namePattern: $event.trim() })"
    />
    <EditField
      v-if="'rolePattern' in network.settings"
      label="Role names of served stations"
      :value="network.settings.rolePattern"
      mono
      @change="set({ settings: { rolePattern: $event.trim() } })"
    />
    <p class="quiet">Like <code>intake-{n:03}</code>; empty: after the device.</p>
    <NCheckbox
      v-if="kind.hasIp && !kind.number.isUnit"
      :checked="network.tied"
      @update:checked="set({ tied: $event })"
      >name, last octet and {{ kind.number.word.toLowerCase() }} follow one number</NCheckbox
    >
    <NCheckbox
      :checked="network.pool !== null"
      @update:checked="$event ? setPool({}) : set({ pool: null })"
      >new stations take their {{ kind.hasIp ? 'last octet' : 'number' }} from a pool</NCheckbox
    >
    <template v-if="network.pool">
      <div class="four">
        <EditField
          label="From"
          :value="String(network.pool.first)"
          mono
          @change="setPool({ first: Number($event) })"
        />
        <EditField
          label="to"
          :value="String(network.pool.last)"
          mono
          @change="setPool({ last: Number($event) })"
        />
        <EditField
          label="Step"
          :value="String(network.pool.step)"
          mono
          @change="setPool({ step: Number($event) })"
        />
        <EditField
          label="Reserved"
          :value="network.pool.reserved"
          mono
          @change="setPool({ reserved: $event.trim() })"
        />
      </div>
      <p class="quiet">
        {{ poolWords }}{{ network.pool.reserved ? `, without ${network.pool.reserved}` : '' }}
      </p>
    </template>
    <NButton size="small" class="begin" :disabled="stations === 0" @click="isRenumbering = true">
      New identities for many …
    </NButton>
    <IdentitiesDialog
      v-if="isRenumbering"
      :network-id="network.id"
      @close="isRenumbering = false"
    />
  </section>
</template>

<style scoped>
.begin {
  justify-self: start;
}
code {
  font: 12px/1 var(--mono);
}
</style>
