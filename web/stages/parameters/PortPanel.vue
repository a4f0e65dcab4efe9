<script setup lang="ts">
import {
  hexOctet,
  plural,
  portCycleOctet,
  portMode,
  recordsOfPlaced,
  setPortCommand,
  subslotsOf,
  switchOffUnused,
  wordBytes,
  type DerivedModule,
  type DerivedStation,
  type Device,
  type DeviceData,
  type SubslotView,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed } from 'vue'
import BitStrip from '../../parts/BitStrip.vue'
import PickField from '../../parts/PickField.vue'
import TypedInput from '../../parts/TypedInput.vue'
import { useProject } from '../../stores/project'

/** The ports of a master: what each is used for, and the process data below it to the bit, with the
 *  trap of the octets' order. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule }>()
const project = useProject()
const ports = computed(() =>
  subslotsOf(project.catalog, props.view, props.module).filter(
    ({ isPort, below, allowed }) => isPort || below || allowed.length > 0,
  ),
)
const unused = computed(() =>
  switchOffUnused(project.catalog, props.view, props.module, ports.value),
)
const modes = computed(() =>
  ports.value.map((port) => ({
    port,
    ...portMode(project.catalog, props.view, props.module, port),
  })),
)
const set = (port: SubslotView, submodule: string) =>
  project.run(
    setPortCommand(props.module.id, port, {
      submodule,
      below: submodule === '' ? null : port.below,
    }),
  )
const emptyAll = () =>
  project.run({
    type: 'batch',
    label: `Switch ${unused.value.length} unused ports off`,
    commands: [...unused.value],
  })
const cycle = (device: Device) =>
  'ioLink' in device && device.ioLink.minCycleTimeUs !== null
    ? `${device.ioLink.minCycleTimeUs / 1000} ms at the shortest, ${device.ioLink.transmissionRate ?? ''}`
    : ''
const setCycle = (port: SubslotView, text: string) => {
  const cycleUs = Math.round(Number(text.trim().replace(',', '.')) * 1000)
  if (Number.isFinite(cycleUs) && cycleUs >= 0 && cycleUs <= 132_800)
    project.run(
      setPortCommand(props.module.id, port, {
        submodule: port.submodule,
        below: port.below,
        cycleUs,
      }),
    )
  else
    project.tell(
      `The cycle time is “${text}”; milliseconds from 0.4 to 132.8 are needed, or nothing: as fast as the device can.`,
    )
}
const wordCycle = (us: number) => (us === 0 ? '' : String(us / 1000))
const octetOf = (us: number) => `0x${hexOctet(portCycleOctet(us) ?? 0)}`
/** Where the master's own description has the cycle time among its parameters, that is what it is
 *  sent. */
const cycleParameter = ({ key, subslot }: SubslotView) =>
  (props.module.described
    ? recordsOfPlaced(
        project.catalog,
        props.view.station.file,
        props.module.described,
        props.module.plugged,
      )
    : []
  )
    .filter((placed) => placed.subslot === subslot && !placed.key.startsWith(`${key}p`))
    .flatMap(({ record }) => record.parameters)
    .find(({ name }) => /cycle ?time/i.test(name))?.name ?? null
/** An IODD counts bits from the last octet; manuals often count octets from the first. */
const places = ({ inputs, inputBytes }: DeviceData) =>
  inputs.map(({ name, offsetBits, bits }) => {
    const bit = offsetBits & 7
    const last = inputBytes - 1 - (offsetBits >> 3)
    const first = last + 1 - Math.ceil((bit + bits) / 8)
    return {
      name,
      offsetBits,
      sent:
        first === last
          ? `${last}, bit ${bit}${bits > 1 ? ` to ${bit + bits - 1}` : ''}`
          : `${first} to ${last}${bit > 0 ? `, from bit ${bit} of ${last}` : ''}`,
    }
  })
</script>

<template>
  <section v-if="ports.length > 0" aria-label="Ports">
    <h2>
      Ports
      <NButton v-if="unused.length > 0" size="small" @click="emptyAll">
        Switch {{ unused.length }} unused {{ plural(unused.length, 'port') }} off
      </NButton>
    </h2>
    <div v-for="{ port, uses, mode, parameter } in modes" :key="port.key" class="port">
      <h3>
        <span class="mono">{{ port.subslot }}</span>
        <PickField
          v-if="port.allowed.length > 0 && !port.isFixed"
          :label="`Use of port ${port.subslot}`"
          :value="port.submodule"
          :options="[
            { value: '', label: 'off' },
            ...port.allowed.map((one) => ({
              value: one.key,
              label: `${one.name} · ${wordBytes(one)}`,
            })),
          ]"
          @update:value="set(port, $event)"
        />
        <PickField
          v-else-if="parameter"
          :label="`Use of port ${port.subslot}`"
          :value="mode"
          :options="uses.map((use) => ({ value: use.mode, label: use.words }))"
          @update:value="project.run(uses.find((use) => use.mode === $event)!.command)"
        />
        <span v-else>{{ port.name }}</span>
        <strong v-if="port.device">{{ port.device.name }}</strong><span
          v-else-if="port.submodule === '' && !port.isFixed"
          class="quiet"
          >off</span
        ><span v-else class="quiet">no device below</span>
      </h3>
      <template v-if="port.device">
        <p class="cycle">
          <label
            >Cycle
            <TypedInput
              :label="`Cycle time of port ${port.subslot} in ms`"
              mono
              :value="wordCycle(port.cycleUs)"
              placeholder="fastest"
              @change="setCycle(port, $event)"
            />
            ms</label
          >
          <span class="quiet"
            >octet <span class="mono">{{ octetOf(port.cycleUs) }}</span> ·
            {{ cycle(port.device) }}</span
          >
        </p>
        <p v-if="cycleParameter(port)" class="quiet">
          This master is sent its parameter “{{ cycleParameter(port) }}”; set the same there.
        </p>
        <BitStrip v-if="port.data" :data="port.data" from-end />
        <NTable v-if="port.data" size="small" :bordered="false">
          <thead>
            <tr>
              <th scope="col">Value</th>
              <th scope="col">Bit offset in the IODD</th>
              <th scope="col">As sent: octet</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="place in places(port.data)" :key="place.offsetBits">
              <td>{{ place.name }}</td>
              <td class="mono">{{ place.offsetBits }}</td>
              <td class="mono">{{ place.sent }}</td>
            </tr>
          </tbody>
        </NTable>
        <p class="quiet">
          The IODD counts from the last octet’s bit 0, the wire sends the first octet first.
        </p>
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
h3 .n-select {
  width: 190px;
}
.cycle {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.cycle .text-field {
  display: inline-block;
  width: 80px;
}
</style>
