<script setup lang="ts">
import { kindOf, numbered, suppliesOf, wireCodes, type Command } from '@kataxis/core'
import { NButton, NCheckbox, NRadioButton, NRadioGroup } from 'naive-ui'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import SideSheet from '../../parts/SideSheet.vue'
import WhatIfBar from '../../parts/WhatIfBar.vue'
import { useFocus } from '../../stores/focus'
import { useGuard } from '../../stores/guard'
import { useProject } from '../../stores/project'
import { useWhatIf } from '../../stores/what-if'
import FailureTable from './FailureTable.vue'
import LinkSheet from './LinkSheet.vue'
import LinkTable from './LinkTable.vue'
import NetworkDrawing from './NetworkDrawing.vue'
import NodeSheet from './NodeSheet.vue'
import PasteLinks from './PasteLinks.vue'
import SupplySheet from './SupplySheet.vue'
import SupplyTable from './SupplyTable.vue'
import { useNetworks, type Chosen } from './useNetworks'
import { rateWords, timeWords } from './wire-words'
import WireSheet from './WireSheet.vue'

/** Cables, timing and what happens if: one network at a time, drawn from its links, in tables, or in
 *  charts. */
const LoadCharts = defineAsyncComponent(() => import('./LoadCharts.vue'))
const project = useProject()
const guard = useGuard()
const route = useRoute()
const router = useRouter()
const { all, wired, networkId, showNetwork, chosen, choose, link, supply } = useNetworks()
const whatIf = useWhatIf()
const why = computed(() => guard.whyNotPlan())

const views = [
  { key: 'drawing', label: 'Drawing' },
  { key: 'links', label: 'Links' },
  { key: 'times', label: 'Load and timing' },
  { key: 'supplies', label: 'Supplies' },
  { key: 'failures', label: 'Failures' },
] as const
type View = (typeof views)[number]['key']
const view = computed<View>(
  () => views.find(({ key }) => key === route.query['view'])?.key ?? 'drawing',
)
const show = (key: View) =>
  void router.replace({ query: { ...route.query, view: key === 'drawing' ? undefined : key } })
const isPasting = ref(false)
const isSheetOpen = ref(true)
const withSupplies = ref(false)
const hasSupplies = computed(() => project.derived && suppliesOf(project.derived).length > 0)
function open(next: Chosen): void {
  isSheetOpen.value = true
  choose(next)
}

const choices = computed(() =>
  all.value.map(({ network, stations }) => ({
    value: network.id,
    label: `${network.name || '(no name)'} · ${kindOf(network).name} · ${numbered(stations.length, 'station')}`,
  })),
)
const canRing = computed(() => wired.value && kindOf(wired.value.network).wiring?.ring)
/** What the network is, in one line. */
const summary = computed(() => {
  const now = wired.value
  if (!now) return ''
  const loose = now.stations.filter(({ hops }) => hops === null).length
  return [
    kindOf(now.network).name,
    rateWords(now.bitRate),
    now.cycleUs === null ? '' : `cycle ${timeWords(now.cycleUs)}`,
    now.packetsPerSecond === null ? '' : `${Math.round(now.packetsPerSecond)} packets/s`,
    now.ring ? (now.ring.closed ? 'ring, closed' : 'ring, open') : '',
    loose > 0 ? `${loose} not linked` : '',
  ]
    .filter(Boolean)
    .join(' · ')
})
const troubled = computed(
  () =>
    new Set(
      (project.findings?.all ?? [])
        .filter(({ code, severity }) => severity !== 'note' && wireCodes.has(code))
        .map(({ at }) => at.stationId ?? at.id),
    ),
)
function showFailure(next: Chosen): void {
  whatIf.clear()
  if (next?.kind === 'link') whatIf.turnLink(next.id)
  else if (next) whatIf.turnNode(next.id)
  open(next)
  show('drawing')
}
const run = (command: Command) => void project.run(command)
const { goTo } = useFocus()
const showSignals = (id: string) => void goTo('ledger', { kind: 'signal', id })
</script>

<template>
  <article v-if="wired && networkId" class="stage">
    <PageHead above="Networks" :title="wired.network.name || '(no name)'" :quiet="summary">
      <PickField
        class="which"
        label="Network"
        size="small"
        :value="networkId"
        :options="choices"
        @update:value="showNetwork"
      />
    </PageHead>
    <div class="tools">
      <NRadioGroup :value="view" size="small" name="view" aria-label="View" @update:value="show">
        <NRadioButton v-for="one in views" :key="one.key" :value="one.key">{{
          one.label
        }}</NRadioButton>
      </NRadioGroup>
      <NCheckbox v-if="view === 'drawing' && hasSupplies" v-model:checked="withSupplies">
        Supplies
      </NCheckbox>
      <span class="gap" />
      <NButton
        size="small"
        :disabled="why !== null"
        title="All stations as one line, in the order of the Board"
        @click="run({ type: 'lineUp', networkId })"
      >
        Link as a line
      </NButton>
      <NButton
        v-if="canRing && !wired.ring"
        size="small"
        :disabled="why !== null"
        @click="run({ type: 'closeRing', networkId })"
      >
        Close the ring
      </NButton>
      <NButton
        v-else-if="canRing"
        size="small"
        :disabled="why !== null"
        @click="run({ type: 'openRing', networkId })"
      >
        Open the ring
      </NButton>
      <NButton
        v-if="view === 'links' && wired.links.length > 0"
        size="small"
        :disabled="why !== null"
        @click="run({ type: 'unlinkPorts', ends: wired.links.map(({ from }) => from) })"
      >
        Remove {{ numbered(wired.links.length, 'link') }}
      </NButton>
      <NButton size="small" :disabled="why !== null" @click="isPasting = true">
        Paste links …
      </NButton>
    </div>
    <WhatIfBar>
      <NButton v-if="whatIf.firstLost" size="small" @click="showSignals(whatIf.firstLost)">
        Show lost signals
      </NButton>
    </WhatIfBar>
    <div class="body">
      <div class="main">
        <NetworkDrawing
          v-if="view === 'drawing'"
          :wired="wired"
          :chosen="chosen"
          :troubled="troubled"
          :with-supplies="withSupplies"
          @choose="open"
        />
        <LinkTable
          v-else-if="view === 'links'"
          :wired="wired"
          :disabled="why !== null"
          @choose="open"
        />
        <LoadCharts v-else-if="view === 'times'" :wired="wired" />
        <SupplyTable
          v-else-if="view === 'supplies'"
          :wired="wired"
          :disabled="why !== null"
          @choose="open"
        />
        <FailureTable v-else :wired="wired" @show="showFailure" />
      </div>
      <SideSheet v-if="isSheetOpen" @close="isSheetOpen = false">
        <LinkSheet
          v-if="link"
          :wired="wired"
          :link="link"
          :is-cut="whatIf.cut.has(link.id)"
          :disabled="why !== null"
          @cut="whatIf.turnLink(link.id)"
        />
        <SupplySheet
          v-else-if="supply"
          :key="supply.view.id"
          :supply="supply"
          :is-lost="whatIf.lost.has(supply.view.id)"
          :disabled="why !== null"
          @choose="open"
          @lose="whatIf.turnNode(supply.view.id)"
        />
        <NodeSheet
          v-else-if="chosen?.kind === 'node' && chosen.id !== networkId"
          :id="chosen.id"
          :key="chosen.id"
          :wired="wired"
          :is-lost="whatIf.lost.has(chosen.id)"
          :disabled="why !== null"
          @choose="open"
          @lose="whatIf.turnNode(chosen.id)"
        />
        <WireSheet
          v-else
          :wired="wired"
          :is-lost="whatIf.lost.has(networkId)"
          :disabled="why !== null"
          @choose="open"
          @lose="whatIf.turnNode(networkId)"
        />
      </SideSheet>
    </div>
    <PasteLinks v-if="isPasting" :wired="wired" @close="isPasting = false" />
  </article>
  <article v-else class="none">
    <h1>Networks</h1>
    <p>No network is in the plan yet. Add a controller and a network on the Board first.</p>
  </article>
</template>

<style scoped>
.stage {
  height: 100%;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.which {
  width: 330px;
}
.tools {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 8px 18px;
  border-bottom: 1px solid var(--line);
}
.gap {
  flex: 1;
}
.body {
  flex: 1;
  min-height: 0;
  display: flex;
}
.main {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
.none {
  padding: 40px;
}
</style>
