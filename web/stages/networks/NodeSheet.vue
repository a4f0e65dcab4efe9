<script setup lang="ts">
import {
  consumersOf,
  numbered,
  portsOfStation,
  tagsOf,
  wireCodes,
  wiresOf,
  type LinkEnd,
  type PortSettings,
  type WiredNetwork,
} from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import FindingList from '../../parts/FindingList.vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import FeedFields from './FeedFields.vue'
import OwnLine from './OwnLine.vue'
import SharingFields from './SharingFields.vue'
import type { Chosen } from './useNetworks'
import { stationSettings } from './wire-settings'
import StarFields from './StarFields.vue'
import { nameOfNode, passivesOf, timeWords } from './wire-words'
import WireSettings from './WireSettings.vue'

/** A station as the network sees it: its ports and their partners, its times, what depends on it. */
const props = defineProps<{ wired: WiredNetwork; id: string; isLost: boolean; disabled: boolean }>()
defineEmits<{ choose: [chosen: Chosen]; lose: [] }>()
const project = useProject()
const { goTo } = useFocus()
const view = computed(() => project.derived!.stations.get(props.id))
const station = computed(() => props.wired.stations.find((one) => one.view.id === props.id))
const wires = computed(() => wiresOf(project.derived!))
const isBus = computed(() => props.wired.segments.length > 0)
const ports = computed(() => {
  const now = view.value
  if (!now) return []
  return portsOfStation(project.catalog, props.wired.network, now.station).map(
    ({ name, segment = 0 }, i) => {
      const at = { node: props.id, port: i + 1 }
      const wire = wires.value.at(at)
      return {
        at,
        name,
        segment,
        settings: now.station.ports[String(i + 1)] ?? {},
        linkId: wire ? `${wire.owner.node}:${wire.owner.port}` : null,
        partner: wire ? `${nameOfNode(props.wired, wire.peer.node)} port ${wire.peer.port}` : '',
      }
    },
  )
})
/** Free ports of other nodes, for a new link: of this network, and of what stands between stations and
 *  is linked nowhere yet. */
const free = computed(() =>
  [...props.wired.nodes, ...passivesOf(project.derived!, props.wired)]
    .filter(({ id }) => id !== props.id)
    .flatMap(({ id, name }) =>
      wires.value
        .freePorts(id)
        .map((port) => ({ value: `${id}:${port}`, label: `${name || '(no name)'} port ${port}` })),
    ),
)
function join(from: LinkEnd, to: string): void {
  const at = to.lastIndexOf(':')
  project.run({
    type: 'linkPorts',
    links: [{ from, to: { node: to.slice(0, at), port: Number(to.slice(at + 1)) } }],
  })
}
function setPort(at: LinkEnd, now: PortSettings, part: Partial<PortSettings>): void {
  const set = Object.fromEntries(
    Object.entries({ ...now, ...part }).filter(([, value]) => value !== undefined),
  )
  project.run({
    type: 'setPorts',
    edits: [{ at, set: Object.keys(set).length === 0 ? null : set }],
  })
}
/** The lines that it stands on, each with the port that decides its terminator: one, of a repeater
 *  several. */
const lines = computed(() =>
  isBus.value
    ? [...new Set(ports.value.map(({ segment }) => segment))].flatMap((segment) => {
        const own = ports.value.filter((port) => port.segment === segment)
        const deciding = own.find(({ linkId }) => linkId !== null) ?? own[0]!
        const links = new Set(own.map(({ linkId }) => linkId))
        const line = props.wired.segments.find((one) => one.links.some(({ id }) => links.has(id)))
        return [
          {
            deciding,
            isOn: line?.terminators.some(({ id }) => id === props.id) ?? false,
            words: `Terminating resistor on${segment === 0 ? '' : `, line ${segment}`}`,
          },
        ]
      })
    : [],
)
const set = (settings: object) =>
  project.run({ type: 'updateStation', id: props.id, set: { settings: settings as never } })
/** Whether the device can report that a link is lost. */
const canReport = computed(() => view.value?.device && 'profinet' in view.value.device)
/** How far the controller is; on one wire all are alike. */
function wayWords(hops: number | null): string {
  if (hops === null) return 'No way to the controller'
  if (isBus.value) return 'On the line of its controller'
  return `${numbered(hops, 'switch', 'switches')} on the way to the controller`
}
const modes = computed(() => {
  const described = view.value?.device
  return described && 'ethercat' in described
    ? described.ethercat.operationModes.map(({ name, info }) => ({
        value: name,
        label: info || name,
      }))
    : []
})
/** Whether a new device at this place can be told by who its neighbours are. */
const isNamedByPlace = computed(() => {
  const described = view.value?.device
  if (!described || !('profinet' in described)) return null
  return described.profinet.reportsNeighbours && ports.value.some(({ linkId }) => linkId !== null)
})
/** The station, and modules of it that feed a group. */
const about = computed(() => [
  props.id,
  ...(view.value ? consumersOf(view.value).map(({ at }) => at.node) : []),
])
const tags = computed(() => (view.value ? tagsOf(view.value).length : 0))
</script>

<template>
  <div v-if="view" class="sheet-body">
    <header>
      <h3>Station · {{ view.device?.name ?? 'description missing' }}</h3>
      <h1>{{ view.station.name || '(no name)' }}</h1>
      <p v-if="station" class="quiet">
        {{ wayWords(station.hops) }}
      </p>
    </header>
    <FindingList :ids="about" :codes="wireCodes" />
    <section class="ports">
      <h2>Ports</h2>
      <div v-for="{ at, name, partner, linkId, settings } in ports" :key="at.port" class="port">
        <span class="port-name">{{ name }}</span>
        <NButton v-if="linkId" text @click="$emit('choose', { kind: 'link', id: linkId })">{{
          partner
        }}</NButton>
        <PickField
          v-else
          size="small"
          :label="`Link ${name} to`"
          placeholder="Link to …"
          :value="null"
          :options="free"
          :disabled="disabled || settings.off"
          @update:value="join(at, $event)"
        />
        <NCheckbox
          v-if="canReport && linkId"
          size="small"
          :checked="settings.alarm === true"
          :disabled="disabled"
          title="The device reports when this link is lost"
          @update:checked="setPort(at, settings, { alarm: $event ? true : undefined })"
          >alarm</NCheckbox
        >
        <NCheckbox
          v-else-if="!isBus && !linkId"
          size="small"
          :checked="settings.off === true"
          :disabled="disabled"
          @update:checked="setPort(at, settings, { off: $event ? true : undefined })"
          >off</NCheckbox
        >
      </div>
      <NCheckbox
        v-for="{ deciding, isOn, words } in lines"
        :key="deciding.at.port"
        :checked="isOn"
        :disabled="disabled"
        @update:checked="setPort(deciding.at, deciding.settings, { terminated: $event })"
        >{{ words }}</NCheckbox
      >
      <NumberField
        v-if="isBus && ports[0]"
        shown
        optional
        size="small"
        label="Spur to its line"
        unit="m"
        :min="0"
        :max="1000"
        :value="ports[0].settings.spurM"
        :disabled="disabled"
        @update:value="setPort(ports[0].at, ports[0].settings, { spurM: $event ?? undefined })"
      />
    </section>
    <section v-if="station && station.frameBytes.in !== null" class="figures">
      <p>
        <span>Frames, octets on the wire</span>
        <strong>{{ station.frameBytes.in }} in, {{ station.frameBytes.out }} out</strong>
      </p>
      <p v-if="station.updateTimeUs.in !== null">
        <span>Update time</span>
        <strong
          >{{ timeWords(station.updateTimeUs.in) }} in,
          {{ timeWords(station.updateTimeUs.out) }} out</strong
        >
      </p>
      <p v-if="station.watchdogUs !== null">
        <span>Watchdog</span><strong>{{ timeWords(station.watchdogUs) }}</strong>
      </p>
      <p v-if="isNamedByPlace !== null">
        <span>A new device is named by its place</span>
        <strong>{{ isNamedByPlace ? 'yes' : 'no' }}</strong>
      </p>
      <p v-if="station.ridesThrough !== null">
        <span>When the ring changes over</span>
        <strong>{{ station.ridesThrough ? 'rides through' : 'drops out' }}</strong>
      </p>
    </section>
    <WireSettings
      :settings="view.station.settings"
      :fields="stationSettings"
      :disabled="disabled"
      @set="set"
    />
    <PickField
      v-if="modes.length > 1 && 'operationMode' in view.station.settings"
      shown
      size="small"
      label="Timed by"
      :value="view.station.settings.operationMode || modes[0]!.value"
      :options="modes"
      :disabled="disabled"
      @update:value="set({ operationMode: $event })"
    />
    <SharingFields :view="view" :disabled="disabled" />
    <OwnLine :view="view" :network="wired.network" :disabled="disabled" />
    <StarFields :id="id" :wired="wired" :disabled="disabled" />
    <FeedFields :view="view" :disabled="disabled" />
    <section class="actions">
      <NButton size="small" :type="isLost ? 'error' : 'default'" @click="$emit('lose')">
        {{ isLost ? 'Bring it back' : `What if it is lost? (${tags} signals)` }}
      </NButton>
      <NButton size="small" @click="goTo('board', { kind: 'station', id })">
        Show on the Board
      </NButton>
    </section>
  </div>
</template>

<style scoped>
.port {
  display: grid;
  grid-template-columns: minmax(64px, auto) minmax(0, 1fr) auto;
  align-items: center;
  gap: 8px;
}
.port-name {
  font: 600 13px var(--narrow);
}
.port .n-button {
  justify-self: start;
}
</style>
