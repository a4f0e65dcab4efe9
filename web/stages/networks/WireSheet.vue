<script setup lang="ts">
import { consumersOf, kindOf, numbered, wireCodes, type WiredNetwork } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import FindingList from '../../parts/FindingList.vue'
import PickField from '../../parts/PickField.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import type { Chosen } from './useNetworks'
import { networkSettings } from './wire-settings'
import { nameOfNode, rateWords, timeWords } from './wire-words'
import WireSettings from './WireSettings.vue'

/** A network as a whole: its rate and cycle, its segments, its ring, what is wrong. */
const props = defineProps<{ wired: WiredNetwork; isLost: boolean; disabled: boolean }>()
defineEmits<{ choose: [chosen: Chosen]; lose: [] }>()
const project = useProject()
const { goTo } = useFocus()
const network = computed(() => props.wired.network)
const rule = computed(() => kindOf(network.value).wiring?.ring)
const manager = computed(
  () => (network.value.settings as { ringManager?: string }).ringManager ?? '',
)
const controller = computed(() => props.wired.nodes[0]!.name)
const managers = computed(() => [
  { value: 'controller', label: controller.value },
  ...(props.wired.ring?.nodes ?? []).flatMap(({ id, name, view }) =>
    view ? [{ value: id, label: name || '(no name)' }] : [],
  ),
])
const set = (settings: object) =>
  project.run({ type: 'updateNetwork', id: network.value.id, set: { settings: settings as never } })
const about = computed(() => [
  network.value.id,
  ...props.wired.stations.flatMap(({ view }) => [
    view.id,
    ...consumersOf(view).map(({ at }) => at.node),
  ]),
])
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Network · {{ kindOf(network).name }}</h3>
      <h1>{{ network.name || '(no name)' }}</h1>
      <p class="quiet">
        {{ controller }}, {{ numbered(wired.stations.length, 'station') }},
        {{ numbered(wired.links.length, 'link') }}
      </p>
    </header>
    <section class="figures">
      <p>
        <span>Bit rate</span><strong>{{ rateWords(wired.bitRate) }}</strong>
      </p>
      <p v-if="wired.cycleUs !== null">
        <span>Cycle by its frames</span><strong>{{ timeWords(wired.cycleUs) }}</strong>
      </p>
      <p v-if="wired.framesPerCycle !== null">
        <span>Frames a cycle</span><strong>{{ wired.framesPerCycle }}</strong>
      </p>
      <p v-if="wired.packetsPerSecond !== null">
        <span>Packets a second</span><strong>{{ Math.round(wired.packetsPerSecond) }}</strong>
      </p>
      <p v-if="wired.clocks?.reference">
        <span>Reference clock, of {{ wired.clocks.timed.length }}</span>
        <strong>{{ nameOfNode(wired, wired.clocks.reference) }}</strong>
      </p>
      <template v-for="(segment, i) in wired.segments" :key="i">
        <p>
          <span>Line</span>
          <strong
            >{{ segment.lengthM }} m{{ segment.limitM === null ? '' : ` of ${segment.limitM} m` }},
            {{ numbered(segment.nodes.length, 'node') }}</strong
          >
        </p>
        <p v-if="segment.spursM > 0">
          <span>Spurs</span>
          <strong
            >{{ segment.spursM }} m{{
              segment.spurLimitM === null ? '' : ` of ${segment.spurLimitM} m`
            }}</strong
          >
        </p>
        <p>
          <span>Terminated at</span>
          <strong :class="{ bad: !segment.terminated }">{{
            segment.terminators.map(({ name }) => name).join(', ') || 'no node'
          }}</strong>
        </p>
      </template>
      <p v-if="wired.ring && rule">
        <span>Ring, {{ numbered(wired.ring.nodes.length, 'node') }}</span>
        <strong :class="{ bad: !wired.ring.closed }"
          >{{ wired.ring.closed ? 'closed' : 'open'
          }}{{
            wired.ring.reconfigurationUs > 0
              ? `, changes over in ${timeWords(wired.ring.reconfigurationUs)}`
              : ''
          }}</strong
        >
      </p>
    </section>
    <WireSettings
      :settings="network.settings"
      :fields="networkSettings"
      :disabled="disabled"
      @set="set"
    />
    <PickField
      v-if="wired.ring && rule && !rule.runsBothWays"
      shown
      :label="`Who is the ${rule.managerWord}`"
      :value="manager || 'controller'"
      :options="managers"
      :disabled="disabled"
      @update:value="set({ ringManager: $event === 'controller' ? '' : $event })"
    />
    <section>
      <h2>Findings</h2>
      <FindingList :ids="about" :codes="wireCodes" empty="Nothing is wrong on this network." />
    </section>
    <section class="actions">
      <NButton size="small" :type="isLost ? 'error' : 'default'" @click="$emit('lose')">
        {{ isLost ? 'Bring the controller back' : 'What if the controller is lost?' }}
      </NButton>
      <NButton size="small" @click="goTo('board', { kind: 'network', id: network.id })">
        Show on the Board
      </NButton>
    </section>
  </div>
</template>

<style scoped>
.bad {
  color: var(--accent);
}
</style>
