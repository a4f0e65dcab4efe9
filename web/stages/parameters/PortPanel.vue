<script setup lang="ts">
import { computed } from 'vue'
import { subslotsOf, wordBytes, type Device, type DerivedModule, type DerivedStation } from '@kataxis/core'
import BitStrip from '../../parts/BitStrip.vue'
import { useProject } from '../../stores/project'

/** The ports of a master: what each is used for, and the process data below it to the bit, with the trap of the octets' order. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule }>()
const project = useProject()
const ports = computed(() => subslotsOf(project.catalog, props.view, props.module).filter(({ isPort, below, allowed }) => isPort || below || allowed.length > 0))
const unused = computed(() => ports.value.filter(({ submodule, below, isFixed }) => !isFixed && submodule !== '' && !below))
const set = (subslot: number, submodule: string, below: { file: string; device: string } | null) => project.run({ type: 'setSubslot', moduleId: props.module.id, subslot, submodule, file: submodule === '' ? '' : below?.file ?? '', device: submodule === '' ? '' : below?.device ?? '' })
const emptyAll = () => project.run({ type: 'batch', label: `Take the submodules out of ${unused.value.length} unused ports`, commands: unused.value.map(({ subslot }) => ({ type: 'setSubslot' as const, moduleId: props.module.id, subslot, submodule: '', file: '', device: '' })) })
const cycle = (device: Device) => (device.protocol === 'io-link' && device.ioLink.minCycleTimeUs !== null ? `${device.ioLink.minCycleTimeUs / 1000} ms at the shortest, ${device.ioLink.transmissionRate ?? ''}` : '')
const data = (device: Device) => device.submodules[0] ?? null
/** An IODD counts bits from the last octet; manuals often count octets from the first. */
const places = (device: Device) => (data(device)?.inputs ?? []).map(({ name, offsetBits, bits }) => {
  const bit = offsetBits & 7
  const last = data(device)!.inputBytes - 1 - (offsetBits >> 3)
  const first = last + 1 - Math.ceil((bit + bits) / 8)
  return { name, offsetBits, sent: first === last ? `${last}, bit ${bit}${bits > 1 ? ` to ${bit + bits - 1}` : ''}` : `${first} to ${last}${bit > 0 ? `, from bit ${bit} of ${last}` : ''}` }
})
</script>

<template>
  <section v-if="ports.length > 0" aria-label="Ports">
    <h2>Ports <button v-if="unused.length > 0" class="button small" @click="emptyAll">Switch {{ unused.length }} unused {{ unused.length === 1 ? 'port' : 'ports' }} off</button></h2>
    <div v-for="port in ports" :key="port.subslot" class="port">
      <h3>
        <span class="mono">{{ port.subslot }}</span>
        <select v-if="port.allowed.length > 0 && !port.isFixed" class="field" :aria-label="`Use of port ${port.subslot}`" :value="port.submodule" @change="set(port.subslot, ($event.target as HTMLSelectElement).value, port.below)"><option value="">off</option><option v-for="one in port.allowed" :key="one.key" :value="one.key">{{ one.name }} · {{ wordBytes(one) }}</option></select>
        <span v-else>{{ port.name }}</span>
        <strong v-if="port.device">{{ port.device.name }}</strong><span v-else-if="port.submodule === ''" class="quiet">off</span><span v-else class="quiet">no device below</span>
      </h3>
      <template v-if="port.device">
        <p class="quiet">{{ cycle(port.device) }}</p>
        <BitStrip v-if="data(port.device)" :data="data(port.device)!" from-end />
        <table class="plain-table">
          <thead><tr><th scope="col">Value</th><th scope="col">Bit offset in the IODD</th><th scope="col">As sent: octet</th></tr></thead>
          <tbody><tr v-for="place in places(port.device)" :key="place.offsetBits"><td>{{ place.name }}</td><td class="mono">{{ place.offsetBits }}</td><td class="mono">{{ place.sent }}</td></tr></tbody>
        </table>
        <p class="quiet">The IODD counts from the last octet’s bit 0, the wire sends the first octet first.</p>
      </template>
    </div>
  </section>
</template>

<style scoped>
section,
.port {
  display: grid;
  gap: 6px;
}
h3 {
  display: flex;
  gap: 8px;
  align-items: center;
}
.field {
  width: 190px;
}
</style>
