<script setup lang="ts">
import { computed } from 'vue'
import { addressOf, channelAddress, formatAddress, kindOfChannel, newId, signalOn, wordBytes, type Channel, type DataBlock, type Module } from '@kataxis/core'
import EditField from '../../../parts/EditField.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ replace: [] }>()
const project = useProject()
const found = computed(() => {
  for (const view of project.derived!.stations.values()) {
    const module = view.modules.find(({ id, row }) => row && id === props.id)
    if (module) return { view, module }
  }
  throw new Error('the sheet is open for a module that is not there')
})
const view = computed(() => found.value.view)
const module = computed(() => found.value.module)
const described = computed(() => module.value.described as Module | null)
const allowed = computed(() => view.value.device?.slots.filter(({ allowed: keys }) => described.value && keys.includes(described.value.key)).map(({ slot }) => slot) ?? [])
const channels = computed(() => (module.value.layout?.channels ?? []).map((channel) => {
  const place = channelAddress(module.value, channel)
  return { channel, address: place ? formatAddress(place) : '–', signal: signalOn(module.value, channel) }
}))
const findingIds = computed(() => [props.id, ...[...module.value.signals.values()].map(({ id }) => id)])

function setTag(channel: Channel, tag: string) {
  const signal = signalOn(module.value, channel)
  const { subslot, direction, offsetBits } = channel
  project.run({ type: 'editSignals', edits: [{ id: signal?.id ?? newId(), place: { moduleId: props.id, subslot, direction, offsetBits }, tag }] })
}
function setByte({ subslot, direction }: DataBlock, text: string) {
  const byte = Number(text)
  if (!Number.isInteger(byte) || byte < 0) return project.tell(`"${text}" is no byte address; a whole number from 0 is needed.`)
  project.run({ type: 'setAddress', moduleId: props.id, subslot, direction, byte })
}
const rangeOf = ({ subslot, direction, bytes }: DataBlock) => {
  const start = addressOf(module.value.addresses, subslot, direction)
  return start === null ? 'no address' : bytes === 1 ? `byte ${start}` : `bytes ${start} to ${start + bytes - 1}`
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>{{ view.station.name }} · slot {{ module.slot }}</h3>
      <h1>{{ described?.name ?? module.row!.module }}</h1>
      <p v-if="described" class="quiet"><span class="mono">{{ described.orderNumber }}</span> · {{ described.category }} · {{ wordBytes(described) }}</p>
      <p v-if="described?.info">{{ described.info }}</p>
    </header>
    <FindingList :ids="findingIds" />
    <section v-if="module.layout && module.layout.blocks.length > 0">
      <h2>Addresses</h2>
      <div v-for="block in module.layout.blocks" :key="`${block.subslot}${block.direction}`" class="block">
        <EditField :label="`${block.direction === 'in' ? 'Input' : 'Output'} data start at byte`" :value="String(addressOf(module.addresses, block.subslot, block.direction) ?? '')" mono @change="setByte(block, $event)" />
        <span class="quiet">{{ block.bytes }} {{ block.bytes === 1 ? 'byte' : 'bytes' }}: {{ rangeOf(block) }}</span>
      </div>
    </section>
    <section v-if="channels.length > 0">
      <h2>Channels and data items</h2>
      <table class="plain-table">
        <thead><tr><th scope="col">Address</th><th scope="col">Kind</th><th scope="col">In the description</th><th scope="col">Tag</th></tr></thead>
        <tbody>
          <tr v-for="{ channel, address, signal } in channels" :key="`${channel.subslot}${channel.direction}${channel.offsetBits}`">
            <td class="mono">{{ address }}</td>
            <td>{{ kindOfChannel(channel) }}</td>
            <td>{{ channel.name }}<span v-if="channel.bits > 1" class="type">{{ channel.type }}</span></td>
            <td class="tag"><input class="cell mono" :value="signal?.tag ?? ''" :title="signal?.comment" :aria-label="`Tag of ${channel.name}`" @change="setTag(channel, ($event.target as HTMLInputElement).value.trim())" /></td>
          </tr>
        </tbody>
      </table>
    </section>
    <section>
      <h2>Limits</h2>
      <p>The description allows it in {{ allowed.length === 0 ? 'no slot' : `${allowed.length} slots, ${allowed[0]} to ${allowed.at(-1)}` }} of this head.</p>
      <p v-if="described?.ident !== null" class="quiet">Module ident <span class="mono">0x{{ described?.ident?.toString(16).padStart(8, '0') }}</span></p>
    </section>
    <div class="row">
      <button class="button small" @click="emit('replace')">Another type …</button>
      <button class="button small" @click="project.run({ type: 'removeModules', ids: [id] })">Remove the module</button>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
}
.block {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 10px;
  align-items: end;
  font: 12.5px/2.2 var(--narrow);
}
.type {
  display: block;
  color: var(--ink-3);
  font-size: 11.5px;
}
.tag {
  padding: 1px 0;
  width: 45%;
}
.cell {
  width: 100%;
  border: 1px solid transparent;
  background: var(--paper-2);
  color: var(--ink);
  padding: 3px 5px;
  font-size: 11.5px;
}
.cell:hover,
.cell:focus {
  border-color: var(--line);
  background: var(--paper);
}
</style>
