<script setup lang="ts">
import { numbered, oneOr, plural } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../../api/client'
import LinkButton from '../../parts/LinkButton.vue'
import { useProject } from '../../stores/project'
import { useRehearsal } from '../../stores/rehearsal'
import FrameLog from './FrameLog.vue'
import MatchLane from './MatchLane.vue'

const project = useProject()
const rehearsal = useRehearsal()
const route = useRoute()
const blinking = ref<string | null>(null)
void rehearsal.load().catch((error: Error) => project.tell(error.message))

const match = computed(() => rehearsal.match)
const open = computed(
  () => match.value?.stations.reduce((sum, { findings }) => sum + findings.length, 0) ?? 0,
)

const others = computed(() => Object.keys(project.plan?.stations ?? {}).length)

async function begin() {
  if (await rehearsal.begin()) await rehearsal.scan()
}
async function blink(mac: string) {
  if (!(await rehearsal.blink(mac))) return
  blinking.value = mac
  setTimeout(() => (blinking.value = null), 3000)
}
const { assign } = rehearsal
</script>

<template>
  <div class="rehearsal">
    <div class="top">
      <h1>Rehearsal</h1>
      <p class="quiet">
        The planned stations against a simulated wire. No real hardware is touched; the frames are
        real PROFINET DCP.
      </p>
      <span class="buttons">
        <NButton v-if="rehearsal.view" :disabled="rehearsal.busy" @click="rehearsal.scan()">
          Scan the wire
        </NButton>
        <NButton v-if="rehearsal.view" quaternary :disabled="rehearsal.busy" @click="begin">
          Start again
        </NButton>
      </span>
    </div>
    <template v-if="rehearsal.view">
      <p class="injected">
        On this wire is different from the plan:
        <template v-for="(difference, i) in rehearsal.view.differences" :key="i">
          <template v-if="i > 0">, and </template>
          <strong v-if="difference.kind === 'factoryNew'"
            >{{ difference.station }} is factory-new</strong
          >
          <strong v-else
            >slots {{ difference.slots[0] }} and {{ difference.slots[1] }} of
            {{ difference.station }} are swapped</strong
          > </template
        >.
      </p>
      <template v-if="match">
        <p class="sum" role="status">
          {{ match.matched }} of {{ match.stations.length }} stations are as planned;
          {{
            open === 0 ? 'nothing is open.' : `${numbered(open, 'thing is', 'things are')} open.`
          }}
        </p>
        <div class="lanes">
          <MatchLane
            v-for="station in match.stations"
            :key="station.station.id"
            :match="station"
            :blinking="blinking"
            :busy="rehearsal.busy"
            @blink="blink"
            @assign="assign"
          />
        </div>
        <ul v-if="match.extra.length > 0" class="extra">
          <li v-for="{ device, finding } in match.extra" :key="device.mac">
            <strong>{{ finding.message }}</strong> {{ finding.remedy }}
          </li>
        </ul>
      </template>
      <p v-else class="quiet">The wire is built; scan it to see who answers.</p>
      <FrameLog :frames="rehearsal.view.frames" :capture-url="api.captureUrl(project.id)" />
    </template>
    <div v-else class="empty">
      <h2>Try it before the site does</h2>
      <p>
        Stand-ins take the place of the planned stations. One comes without a name, and in one two
        modules are swapped, as it happens.
      </p>
      <NButton
        v-if="rehearsal.planned.length > 0"
        type="primary"
        :disabled="rehearsal.busy"
        @click="begin"
      >
        Build the wire and scan it
      </NButton>
      <template v-else>
        <p v-if="others > 0">
          Only PROFINET stations can be rehearsed. The
          {{ oneOr(others, 'station', 'stations') }} of this plan
          {{ plural(others, 'hangs on another network', 'hang on other networks') }}.
        </p>
        <LinkButton
          type="primary"
          :to="{ name: 'board', params: { project: route.params['project'] } }"
          >Place a {{ others > 0 ? 'PROFINET ' : '' }}station first</LinkButton
        >
      </template>
    </div>
  </div>
</template>

<style scoped>
.rehearsal {
  height: 100%;
  overflow: auto;
  padding: 14px 20px 40px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.top {
  display: flex;
  align-items: baseline;
  gap: 14px;
}
.buttons {
  margin-left: auto;
  display: flex;
  gap: 8px;
}
.injected {
  font: 13px/1.4 var(--narrow);
  color: var(--ink-2);
}
.sum {
  font-weight: 600;
}
.lanes {
  display: grid;
  gap: 10px;
}
.extra {
  margin: 0;
  padding-left: 18px;
}
</style>
