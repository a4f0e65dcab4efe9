<script setup lang="ts">
import { numbered } from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../../api/client'
import LinkButton from '../../parts/LinkButton.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'
import { useRehearsal } from '../../stores/rehearsal'
import BeginPanel from './BeginPanel.vue'
import DevicePage from './DevicePage.vue'
import FrameLog from './FrameLog.vue'
import MatchLane from './MatchLane.vue'
import ScorePanel from './ScorePanel.vue'
import TakeOverDialog, { type TakeOver } from './TakeOverDialog.vue'

const project = useProject()
const rehearsal = useRehearsal()
const route = useRoute()
const blinking = ref<string | null>(null)
const chosen = ref<string | null>(null)
const onlyOpen = ref(false)
const isBeginning = ref(false)
const takingOver = shallowRef<TakeOver | null>(null)
const shown = shallowRef<string | null>(null)
void rehearsal.load().catch((error: Error) => project.tell(error.message))

const canRehearse = computed(
  () => rehearsal.planned?.networks.some(({ stations }) => stations.length > 0) ?? false,
)
const stateOf = (id: string) => rehearsal.states.get(id)
const isFine = (id: string) => ['as planned', 'running'].includes(stateOf(id) ?? '')

/** Networks to choose from, with how many of their stations are well. */
const networks = computed(() =>
  rehearsal.matches.map(({ network, stations, extra }) => ({
    value: network.id,
    label: `${network.name}: ${stations.filter(({ station }) => isFine(station.id)).length} of ${stations.length}`,
    isOpen: extra.length > 0 || stations.some(({ station }) => !isFine(station.id)),
  })),
)
const current = computed(
  () =>
    networks.value.find(({ value }) => value === chosen.value) ??
    networks.value.find(({ isOpen }) => isOpen) ??
    networks.value[0],
)
const match = computed(() =>
  rehearsal.matches.find(({ network }) => network.id === current.value?.value),
)
const lanes = computed(() =>
  (match.value?.stations ?? []).filter(({ station }) => !onlyOpen.value || !isFine(station.id)),
)
const findingsOf = ({ id, name }: { readonly id: string; readonly name: string }) => [
  ...(rehearsal.planned?.blocked[id] ?? []),
  ...(rehearsal.view?.findings.filter(({ station }) => station === name) ?? []),
]
/** Checking puts numbers on all wires at once, so that it is for all networks. */
const steps = [
  { do: 'scan', label: 'Scan' },
  { do: 'assignAll', label: 'Assign what is clear' },
  { do: 'start', label: 'Start all' },
  { do: 'check', label: 'Check signals' },
] as const
const onlyThis = ref(false)
function take(what: (typeof steps)[number]['do']) {
  const id = match.value?.network.id
  return rehearsal.act(
    what === 'check' || !onlyThis.value || !id ? { do: what } : { do: what, networks: [id] },
  )
}
const isOver = computed(() => rehearsal.view?.ended !== null)

async function begin(wish: Parameters<typeof rehearsal.begin>[0]) {
  if (await rehearsal.begin(wish)) isBeginning.value = false
  await rehearsal.act({ do: 'scan' })
}
async function blink(networkId: string, key: string) {
  if (!(await rehearsal.act({ do: 'blink', networkId, key }))) return
  blinking.value = key
  setTimeout(() => (blinking.value = null), 3000)
}
/** What somebody does on site is seen at the next scan. */
async function onSite(stationId: string, what: string) {
  await rehearsal.act({ do: 'onSite', stationId, what: what as never })
  if (match.value) await rehearsal.act({ do: 'scan', networks: [match.value.network.id] })
}
</script>

<template>
  <div class="rehearsal">
    <div class="top">
      <h1>Rehearsal</h1>
      <p class="quiet">The plan on simulated wires. No real network is touched.</p>
      <span v-if="rehearsal.view" class="buttons">
        <NButton size="small" quaternary :disabled="rehearsal.busy" @click="isBeginning = true"
          >New rehearsal</NButton
        >
        <NButton v-if="!isOver" size="small" :disabled="rehearsal.busy" @click="rehearsal.end()"
          >End and show score</NButton
        >
      </span>
    </div>
    <BeginPanel
      v-if="canRehearse && (isBeginning || (rehearsal.isLoaded && !rehearsal.view))"
      :busy="rehearsal.busy"
      :can-cancel="rehearsal.view !== null"
      @begin="begin"
      @cancel="isBeginning = false"
    />
    <div v-else-if="rehearsal.isLoaded && !rehearsal.view" class="empty">
      <h2>Nothing to rehearse yet</h2>
      <p>A rehearsal needs a station with its description file.</p>
      <LinkButton
        type="primary"
        :to="{ name: 'board', params: { project: route.params['project'] } }"
        >Add a station on the Board</LinkButton
      >
    </div>
    <template v-if="rehearsal.view">
      <ScorePanel v-if="rehearsal.view.ended" :score="rehearsal.view.ended.score" />
      <div v-if="!isOver" class="steps" role="toolbar" aria-label="Steps">
        <NButton
          v-for="step in steps"
          :key="step.do"
          size="small"
          :disabled="rehearsal.busy"
          @click="take(step.do)"
          >{{ step.label }}</NButton
        >
        <NCheckbox v-model:checked="onlyThis" :disabled="!match">Only this network</NCheckbox>
        <p v-if="rehearsal.tally" class="sum" role="status">
          {{ rehearsal.tally.fine }} of {{ numbered(rehearsal.tally.all, 'station') }} as planned or
          running
        </p>
      </div>
      <div v-if="match" class="choose">
        <PickField
          class="networks"
          size="small"
          label="Network"
          :value="current?.value ?? null"
          :options="networks"
          @update:value="(id: string) => (chosen = id)"
        />
        <NCheckbox v-model:checked="onlyOpen">Only stations that differ</NCheckbox>
      </div>
      <div v-if="match" class="lanes">
        <MatchLane
          v-for="one in lanes"
          :key="one.station.id"
          :match="one"
          :state="stateOf(one.station.id) ?? 'missing'"
          :slots="rehearsal.comparisons.get(one.station.id) ?? []"
          :findings="findingsOf(one.station)"
          :blinking="blinking"
          :busy="rehearsal.busy || isOver"
          @blink="(key) => blink(one.station.networkId, key)"
          @assign="(key) => rehearsal.act({ do: 'assign', stationId: one.station.id, key })"
          @reset="(key) => rehearsal.act({ do: 'reset', networkId: one.station.networkId, key })"
          @on-site="(what) => onSite(one.station.id, what)"
          @take-over="(slots) => (takingOver = { match: one, slots })"
          @show="shown = one.station.id"
          @identify-fail-safe="rehearsal.act({ do: 'identifyFailSafe', stationId: one.station.id })"
          @write-fail-safe="
            rehearsal.act({ do: 'writeFailSafe', stationId: one.station.id, serial: '' })
          "
        />
        <p v-if="lanes.length === 0" class="quiet">Every station of this network is as planned.</p>
        <ul v-if="match.extra.length > 0" class="extra" aria-label="Not in the plan">
          <li v-for="{ device, finding } in match.extra" :key="device.key">
            <strong>{{ finding.message }}</strong> {{ finding.remedy }}
            <NButton
              size="tiny"
              :disabled="rehearsal.busy || isOver"
              @click="blink(match.network.id, device.key)"
              >Blink LED</NButton
            >
            <NButton
              size="tiny"
              :disabled="rehearsal.busy || isOver"
              @click="rehearsal.act({ do: 'reset', networkId: match.network.id, key: device.key })"
              >Reset to factory state</NButton
            >
          </li>
        </ul>
      </div>
      <p v-else class="quiet">The plant is built. Scan to see which devices answer.</p>
      <FrameLog
        :frames="rehearsal.view.frames"
        :count="rehearsal.view.frameCount"
        :network-id="match?.network.id ?? null"
        :capture-url="api.captureUrl(project.id)"
      />
    </template>
    <TakeOverDialog v-if="takingOver" :what="takingOver" @close="takingOver = null" />
    <DevicePage v-if="shown" :station-id="shown" @close="shown = null" />
  </div>
</template>

<style scoped>
.rehearsal {
  height: 100%;
  overflow: auto;
  padding: 14px 20px 40px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.top,
.steps,
.choose {
  display: flex;
  align-items: center;
  gap: 10px;
  flex-wrap: wrap;
}
.top {
  align-items: baseline;
}
.buttons {
  margin-left: auto;
  display: flex;
  gap: 8px;
}
.sum {
  font: 600 13px/1.4 var(--narrow);
  margin-left: 8px;
}
.networks {
  width: 320px;
}
.lanes {
  display: grid;
  gap: 8px;
}
.extra {
  margin: 0;
  padding-left: 18px;
  font: 13px/1.6 var(--sans);
}
</style>
