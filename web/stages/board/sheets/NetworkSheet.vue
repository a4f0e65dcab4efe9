<script setup lang="ts">
import { computed, ref } from 'vue'
import {
  formatSubnet,
  ipOfHost,
  kindOf,
  logicalImage,
  parseValueList,
  requestRoundMs,
  subnetOf,
  type NetworkRow,
  type NumberPool,
} from '@kataxis/core'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'
import SafetyNetworkSection from './SafetyNetworkSection.vue'
import IdentitiesDialog from '../dialogs/IdentitiesDialog.vue'

const props = defineProps<{ id: string }>()
const project = useProject()
const network = computed(() => project.plan!.networks[props.id]!)
const kind = computed(() => kindOf(network.value))
const stations = computed(
  () =>
    project
      .derived!.controllers.flatMap(({ networks }) => networks)
      .find((one) => one.network.id === props.id)!.stations,
)
const subnet = computed(
  () => kind.value.hasIp && subnetOf(network.value.controllerIp, network.value.prefixLength),
)
const set = (values: Partial<NetworkRow>) =>
  project.run({ type: 'updateNetwork', id: props.id, set: values })
const isRenumbering = ref(false)
function setWhole(
  key: 'prefixLength' | 'requestMs',
  text: string,
  first: number,
  last: number,
  what: string,
): void {
  const number = Number(text)
  if (!Number.isInteger(number) || number < first || number > last)
    return project.tell(
      `"${text}" is no ${what}; a whole number from ${first} to ${last} is needed.`,
    )
  set({ [key]: number })
}
const span = computed(() =>
  kind.value.hasIp
    ? { first: 1, last: 2 ** (32 - network.value.prefixLength) - 2 }
    : kind.value.number,
)
function setPool(values: Partial<NumberPool>): void {
  const pool = {
    first: kind.value.hasIp ? 11 : kind.value.number.start,
    last: Math.min(span.value.last, 250),
    step: 1,
    reserved: '',
    ...network.value.pool,
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
  const { pool } = network.value
  if (!pool) return ''
  const word = (number: number) =>
    kind.value.hasIp ? (ipOfHost(network.value, number) ?? String(number)) : String(number)
  return `${word(pool.first)} to ${word(pool.last)}${pool.step > 1 ? ` in steps of ${pool.step}` : ''}`
})
const sharing = computed(() =>
  Object.values(project.plan!.networks)
    .filter(
      ({ id, cable, kind: other }) =>
        id !== props.id &&
        cable === network.value.cable &&
        kindOf({ kind: other }).hasIp === kind.value.hasIp,
    )
    .map(({ name }) => name),
)
const logical = computed(() =>
  network.value.kind === 'ethercat' ? logicalImage(stations.value) : null,
)
const bitWords = (part: { bit: number; bits: number } | null) =>
  part
    ? part.bits === 8
      ? `${part.bit >> 3}`
      : part.bits % 8 === 0
        ? `${part.bit >> 3} to ${(part.bit + part.bits) / 8 - 1}`
        : `${part.bit >> 3}.${part.bit & 7} to .${(part.bit & 7) + part.bits - 1}`
    : '–'
const roundMs = computed(() => requestRoundMs(network.value, stations.value))
const bauds = [1200, 2400, 4800, 9600, 19_200, 38_400, 57_600, 115_200]
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Network · {{ kind.name }}</h3>
      <h1>{{ network.name || '(no name)' }}</h1>
      <p v-if="subnet" class="quiet">
        Subnet <span class="mono">{{ formatSubnet(subnet) }}</span>, room for
        {{ subnet.broadcast - subnet.network - 2 }} stations beside the controller
      </p>
    </header>
    <FindingList :ids="[id]" />
    <section>
      <EditField label="Name" :value="network.name" @change="set({ name: $event.trim() })" />
      <div v-if="kind.hasIp" class="pair">
        <EditField
          label="Controller’s IP address"
          :value="network.controllerIp"
          mono
          @change="set({ controllerIp: $event.trim() })"
        />
        <EditField
          label="Prefix length"
          :value="String(network.prefixLength)"
          mono
          @change="setWhole('prefixLength', $event, 1, 30, 'prefix length')"
        />
      </div>
      <EditField
        label="Cable it shares, empty: the plant’s"
        :value="network.cable"
        @change="set({ cable: $event.trim() })"
      />
      <p v-if="kind.hasIp" class="quiet">
        {{
          sharing.length === 0
            ? 'No other network with IP addresses is on it.'
            : `Addresses are unique together with ${sharing.join(', ')}.`
        }}
      </p>
    </section>
    <SafetyNetworkSection :network="network" />
    <section>
      <h2>Identities</h2>
      <p class="quiet">
        {{ kind.number.word }} {{ kind.number.first }} to {{ kind.number.last
        }}<template v-if="kind.number.isUnit"> tells stations apart that share an address</template
        >; {{ stations.length }} stations.
      </p>
      <EditField
        label="Names of new stations"
        :value="network.namePattern"
        mono
        @change="set({ namePattern: $event.trim() })"
      />
      <EditField
        v-if="network.kind === 'ethernet-ip'"
        label="Role names of served stations"
        :value="network.rolePattern"
        mono
        @change="set({ rolePattern: $event.trim() })"
      />
      <p class="quiet">Like <code>intake-{n:03}</code>; empty: after the device.</p>
      <label v-if="kind.hasIp && !kind.number.isUnit" class="check"
        ><input
          type="checkbox"
          :checked="network.tied"
          @change="set({ tied: ($event.target as HTMLInputElement).checked })"
        />
        name, last octet and {{ kind.number.word.toLowerCase() }} follow one number</label
      >
      <label class="check"
        ><input
          type="checkbox"
          :checked="network.pool !== null"
          @change="($event.target as HTMLInputElement).checked ? setPool({}) : set({ pool: null })"
        />
        new stations take their {{ kind.hasIp ? 'last octet' : 'number' }} from a pool</label
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
      <button
        class="button small begin"
        :disabled="stations.length === 0"
        @click="isRenumbering = true"
      >
        New identities for many …
      </button>
    </section>
    <section v-if="network.kind === 'modbus-rtu' || network.kind === 'modbus-tcp'">
      <h2>Requests</h2>
      <div v-if="network.kind === 'modbus-rtu'" class="four">
        <label
          ><span class="label">Bit/s</span
          ><select
            class="field"
            :value="network.line.baud"
            @change="
              set({
                line: { ...network.line, baud: Number(($event.target as HTMLSelectElement).value) },
              })
            "
          >
            <option v-for="baud in bauds" :key="baud">{{ baud }}</option>
          </select></label
        >
        <label
          ><span class="label">Parity</span
          ><select
            class="field"
            :value="network.line.parity"
            @change="
              set({
                line: {
                  ...network.line,
                  parity: ($event.target as HTMLSelectElement).value as 'even',
                },
              })
            "
          >
            <option>even</option>
            <option>odd</option>
            <option>none</option>
          </select></label
        >
        <label
          ><span class="label">Stop bits</span
          ><select
            class="field"
            :value="network.line.stopBits"
            @change="
              set({
                line: {
                  ...network.line,
                  stopBits: Number(($event.target as HTMLSelectElement).value) as 1,
                },
              })
            "
          >
            <option>1</option>
            <option>2</option>
          </select></label
        >
        <EditField
          label="Every, ms"
          :value="String(network.requestMs)"
          mono
          @change="setWhole('requestMs', $event, 1, 3_600_000, 'period')"
        />
      </div>
      <EditField
        v-else
        label="Every, ms"
        :value="String(network.requestMs)"
        mono
        @change="setWhole('requestMs', $event, 1, 3_600_000, 'period')"
      />
      <FillBar
        v-if="network.kind === 'modbus-rtu'"
        label="One round of all requests"
        :used="Math.ceil(roundMs)"
        :limit="network.requestMs"
        unit="ms"
      />
      <p v-if="network.kind === 'modbus-rtu'" class="quiet">
        These settings are the same on every node of the line.
      </p>
    </section>
    <section v-if="logical && logical.parts.length > 0">
      <h2>Logical image</h2>
      <p class="quiet">
        {{ logical.outputBytes }} bytes out, then {{ logical.inputBytes }} in,
        {{ logical.datagrams === 1 ? 'one datagram' : `${logical.datagrams} datagrams` }}; the
        working counter is {{ logical.workingCounter }} when all answer.
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th scope="col">Slave</th>
            <th scope="col">Out, byte</th>
            <th scope="col">In, byte</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="part in logical.parts" :key="part.view.id">
            <td>{{ part.view.station.name }}</td>
            <td class="mono">{{ bitWords(part.out) }}</td>
            <td class="mono">{{ bitWords(part.in) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <button class="button small" @click="project.run({ type: 'removeNetwork', id })">
      Remove the network and its stations
    </button>
    <IdentitiesDialog v-if="isRenumbering" :network-id="id" @close="isRenumbering = false" />
  </div>
</template>

<style scoped>
.check {
  font: 13px/1.35 var(--sans);
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.begin {
  justify-self: start;
}
code {
  font: 12px/1 var(--mono);
}
</style>
