<script setup lang="ts">
import {
  hexOctet,
  hasByteOrder,
  numberKindOf,
  passage,
  placeOf,
  placeText,
  sameTurn,
  turnNames,
  turnNeeded,
  turnOf,
  turnWords,
  wireOrderOf,
  type Channel,
  type DerivedModule,
  type DerivedStation,
  type Turn,
} from '@kataxis/core'
import { NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { plainChoices } from '../../../parts/choices'
import PickField from '../../../parts/PickField.vue'
import TextField from '../../../parts/TextField.vue'
import { useProject } from '../../../stores/project'

/** Numbers of more than one octet on their way: as they travel, as they lie in the image, and as
 *  the program reads them. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule }>()
const project = useProject()
const numbers = computed(() =>
  (props.module.layout?.channels ?? []).filter(
    (channel) => channel.kind === 'analog' && hasByteOrder(channel),
  ),
)
const program = computed(
  () =>
    project.plan!.controllers[
      project.plan!.networks[props.view.station.networkId]?.controllerId ?? ''
    ]?.byteOrder ?? 'network',
)
const wire = computed(() => (props.view.device ? wireOrderOf(props.view.device) : 'big'))
const orders = computed(() => props.module.row?.orders ?? props.view.station.orders)
const example = ref('1000')
const hex = (octets: Uint8Array) => [...octets].map(hexOctet).join(' ').toUpperCase()
const rows = computed(() =>
  numbers.value.map((channel) => {
    const turn = turnOf(orders.value, channel)
    const value = Number(example.value.replace(',', '.'))
    const {
      wire: sent,
      image,
      seen,
    } = passage(Number.isFinite(value) ? value : 0, channel.bits, numberKindOf(channel.holds), {
      wire: channel.order ?? wire.value,
      turn,
      program: program.value,
    })
    const needed = turnNeeded(channel.bits, channel.order ?? wire.value, program.value)
    return {
      channel,
      turn,
      sent: hex(sent),
      image: hex(image),
      seen: Number.isInteger(seen) ? String(seen) : String(Number(seen.toPrecision(6))),
      isWrong: !sameTurn(channel.bits, turn, needed),
    }
  }),
)
const set = (channels: readonly Channel[], turn: Turn) =>
  project.run({
    type: 'setByteOrder',
    moduleId: props.module.id,
    values: channels.map(placeOf),
    turn,
  })
const orderWords = {
  network: 'turns octets as the network asks',
  little: 'reads the lowest octet first',
  big: 'reads the highest octet first',
} as const
</script>

<template>
  <section v-if="rows.length > 0" aria-label="Order of octets">
    <h2>Order of octets</h2>
    <p class="quiet">
      The device sends the {{ wire === 'big' ? 'highest' : 'lowest' }} octet first; the program
      {{ orderWords[program] }}.
    </p>
    <div class="given">
      <TextField
        v-model:value="example"
        label="The device sends"
        shown
        mono
        :more="{ inputmode: 'decimal' }"
      />
      <PickField
        v-if="rows.length > 1"
        label="All of them"
        shown
        :value="null"
        :options="[
          { value: '', label: turnWords[''] },
          ...turnNames.map((name) => ({ value: name, label: turnWords[name] })),
        ]"
        @update:value="set(numbers, $event as Turn)"
      />
    </div>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Value</th>
          <th scope="col">Turned</th>
          <th scope="col">On the wire</th>
          <th scope="col">In the image</th>
          <th scope="col">Read as</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ channel, turn, sent, image, seen, isWrong } in rows" :key="placeText(channel)">
          <td>{{ channel.name }}</td>
          <td>
            <PickField
              :label="`Octets of ${channel.name}`"
              class="turn"
              size="small"
              :value="turn"
              :options="[{ value: '', label: 'ABCD' }, ...plainChoices(turnNames)]"
              @update:value="set([channel], $event as Turn)"
            />
          </td>
          <td class="octets">{{ sent }}</td>
          <td class="octets">{{ image }}</td>
          <td class="mono" :class="{ wrong: isWrong }">{{ seen }}{{ isWrong ? ' !' : '' }}</td>
        </tr>
      </tbody>
    </NTable>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.given {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 10px;
}
.octets {
  font: 11px/1.3 var(--mono);
  white-space: nowrap;
}
.turn {
  width: 84px;
}
.wrong {
  color: var(--accent);
  font-weight: 600;
}
</style>
