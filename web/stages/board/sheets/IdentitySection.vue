<script setup lang="ts">
import {
  expectedRole,
  hostOf,
  ipOf,
  ipOfHost,
  kindOf,
  lostReactions,
  numberOf,
  rackDecisions,
  roleNameOf,
  switchAddress,
  switchesOf,
  wireName,
  wordSetBy,
  type DerivedStation,
  type LostReaction,
  type SwitchBank,
} from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import EditField from '../../../parts/EditField.vue'
import PickField from '../../../parts/PickField.vue'
import LockedPart from '../../../parts/LockedPart.vue'
import SwitchCard from '../../../parts/SwitchCard.vue'
import SwitchFields from '../../../parts/SwitchFields.vue'
import { useGuard } from '../../../stores/guard'
import { useProject } from '../../../stores/project'

/** Under what a station is known on its network: name, address, number, role name, switches. */
const props = defineProps<{ view: DerivedStation }>()
const project = useProject()
const guard = useGuard()
const station = computed(() => props.view.station)
const network = computed(() => project.plan!.networks[station.value.networkId]!)
const kind = computed(() => kindOf(network.value))
const isWrong = (codes: readonly string[]) =>
  (project.findings?.all ?? []).some(
    ({ at, code }) => at.id === props.view.id && codes.includes(code),
  )
const set = (values: object) =>
  project.run({ type: 'updateStation', id: props.view.id, set: values })
/** What tied identities follow: another address or number takes the others along. */
function setIp(ip: string): void {
  const host = hostOf(network.value, ip)
  set({
    settings: { ip },
    ...(network.value.tied && !kind.value.number.isUnit && host !== null && { deviceNumber: host }),
  })
}
function setNumber(text: string): void {
  const number = Number(text)
  const { word, first, last, isUnit } = kind.value.number
  if (text.trim() === '' || !Number.isInteger(number) || number < first || number > last)
    return project.tell(
      `"${text}" is no ${word.toLowerCase()}; a whole number from ${first} to ${last} is needed.`,
    )
  const ip =
    network.value.tied && kind.value.hasIp && !isUnit ? ipOfHost(network.value, number) : null
  set({ deviceNumber: number, ...(ip !== null && { settings: { ip } }) })
}
const onWire = computed(() =>
  kind.value.hasWireNames ? wireName(station.value.name) : station.value.name,
)
const asked = computed(() => expectedRole(network.value, props.view.device, station.value))
const isServed = computed(() => roleNameOf(station.value) !== '')
const setServed = (served: boolean) =>
  set({
    settings: {
      roleName: served
        ? (asked.value ??
          `${props.view.device?.orderNumber ?? 'device'}-${String(numberOf(network.value, station.value) ?? 0).padStart(3, '0')}`)
        : '',
    },
  })

const rack = computed(() => rackDecisions(station.value))
const lostWords: Readonly<Record<LostReaction, string>> = {
  none: 'no reaction',
  warning: 'warning',
  shutdown: 'shutdown',
}
const bank = computed(() => switchesOf(props.view.device, station.value))
const isChoosing = ref(false)
const alike = computed(() =>
  [...project.derived!.stations.values()].filter(
    ({ station: other }) =>
      other.file === station.value.file &&
      other.device === station.value.device &&
      other.id !== station.value.id,
  ),
)
function setBank(switches: SwitchBank | null, everywhere = false): void {
  const ids = everywhere ? [props.view.id, ...alike.value.map(({ id }) => id)] : [props.view.id]
  project.run({
    type: 'batch',
    label: `Chose the switches of ${ids.length === 1 ? station.value.name : `${ids.length} stations`}`,
    commands: ids.map((id) => ({ type: 'updateStation', id, set: { switches } })),
  })
}
function take(address: number): void {
  if (bank.value?.sets === 'lastOctet') setIp(ipOf(station.value).replace(/\d+$/, String(address)))
  else setNumber(String(address))
}
</script>

<template>
  <section class="identity" aria-label="Identity">
    <LockedPart :why="guard.whyNotIdentity(view)">
      <EditField
        label="Station name"
        :value="station.name"
        mono
        :wrong="isWrong(['station.name', 'station.nameDuplicate'])"
        @change="set({ name: $event.trim() })"
      />
      <p v-if="onWire !== station.name" class="quiet">
        On the wire <span class="mono">{{ onWire }}</span>, {{ onWire.length }} of 240 characters
      </p>
      <div class="pair">
        <EditField
          v-if="kind.hasIp"
          label="IP address"
          :value="ipOf(station)"
          mono
          :wrong="isWrong(['station.ip', 'station.ipDuplicate'])"
          @change="setIp($event.trim())"
        />
        <EditField
          :label="kind.number.word"
          :wrong="isWrong(['station.number', 'station.deviceNumberDuplicate'])"
          :value="String(station.deviceNumber)"
          mono
          @change="setNumber"
        />
      </div>
      <template v-if="'rolePattern' in network.settings">
        <NCheckbox :checked="isServed" @update:checked="setServed($event)"
          >is served its address under a role name</NCheckbox
        >
        <EditField
          v-if="isServed"
          label="Role name, case and padding count"
          :value="roleNameOf(station)"
          mono
          :wrong="isWrong(['station.roleName', 'station.roleDuplicate'])"
          @change="set({ settings: { roleName: $event } })"
        />
      </template>
      <div v-if="rack" class="rack" role="group" aria-label="When the rack is lost">
        <PickField
          label="When the rack is lost"
          shown
          :value="rack.onLost"
          :options="lostReactions.map((value) => ({ value, label: lostWords[value] }))"
          @update:value="set({ settings: { onLost: $event } })"
        />
        <EditField
          label="Prefix of its alarms"
          :value="rack.alarmPrefix"
          @change="set({ settings: { alarmPrefix: $event } })"
        />
      </div>
      <p class="quiet">{{ wordSetBy(view, bank) }}</p>
      <SwitchCard
        v-if="bank"
        :ip="kind.hasIp ? ipOf(station) : undefined"
        :bank="bank"
        :address="switchAddress(bank, station)"
        :title="station.name"
        @take="take"
      />
      <template v-if="!view.device?.switches">
        <NButton v-if="!isChoosing" size="small" class="choose" @click="isChoosing = true">
          {{ bank ? 'Set otherwise …' : 'How the address is set …' }}
        </NButton>
        <div v-else class="choosing">
          <SwitchFields :model-value="station.switches" @update:model-value="setBank($event)" />
          <div class="row">
            <NButton
              v-if="station.switches && alike.length > 0"
              size="small"
              @click="setBank(station.switches, true)"
            >
              The same for all {{ alike.length + 1 }} of this type
            </NButton>
            <NButton size="small" @click="isChoosing = false">Done</NButton>
          </div>
        </div>
      </template>
    </LockedPart>
  </section>
</template>

<style scoped>
.rack {
  display: grid;
  gap: 10px;
}
.identity,
.choosing {
  display: grid;
  gap: 10px;
}
.choose {
  justify-self: start;
}
.row {
  display: flex;
  gap: 8px;
}
</style>
