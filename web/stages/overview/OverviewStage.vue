<script setup lang="ts">
import { numbered, overviewOf, type Step } from '@kataxis/core'
import { CircleCheck, CircleDashed, CircleDot } from '@lucide/vue'
import { NButton, NEmpty, NTable, NTag } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../../api/client'
import LinkButton from '../../parts/LinkButton.vue'
import { useProject } from '../../stores/project'
import { useRehearsal } from '../../stores/rehearsal'
import { useSession } from '../../stores/session'
import { useShelf } from '../../stores/shelf'
import { timeWords } from '../../parts/time-words'
import { useEntries, whatOf } from '../history/useEntries'
import FillCharts from './FillCharts.vue'
import { stepWords } from './steps'

/** Where the project stands and what comes next. */
const project = useProject()
const shelf = useShelf()
const rehearsal = useRehearsal()
const session = useSession()
const route = useRoute()
const router = useRouter()
const failure = ref('')
const { entries } = useEntries(failure)
const latest = computed(() => entries.value.slice(0, 6))
const noNames = new Map<number, string>()

const to = (name: string) => ({ name, params: { project: route.params['project'] } })
const overview = computed(() => {
  const tally = rehearsal.tally
  return overviewOf(project.derived!, project.findings ?? { all: [], blockers: 0 }, {
    files: shelf.files.length,
    rehearsed: tally !== null && tally.fine === tally.all,
  })
})
const totals = computed(() => project.derived!.totals)
/** The first thing that is not done. */
const next = computed(() => overview.value.steps.find(({ state }) => state !== 'done')?.key)
const isEmpty = computed(() => totals.value.stations === 0)
const marks = { done: CircleCheck, begun: CircleDot, open: CircleDashed } as const
/** The demo's plan beside this project, to look at. */
async function openDemo(): Promise<void> {
  try {
    const { id } = await api.openDemo()
    await router.push(`/p/${id}/overview`)
  } catch (error) {
    failure.value = (error as Error).message
  }
}
function stateWords({ key, state, blockers, warnings }: Step): string {
  if (!project.findings && state === 'done') return 'being checked …'
  const told = [
    ...(key === 'names' && state === 'begun'
      ? [`${totals.value.named} of ${numbered(totals.value.channels, 'channel')}`]
      : []),
    ...(blockers > 0 ? [numbered(blockers, 'blocker')] : []),
    ...(warnings > 0 ? [numbered(warnings, 'warning')] : []),
  ]
  if (told.length > 0) return told.join(', ')
  if (key === 'handover' && state === 'begun') return 'draft'
  return { done: 'done', begun: 'begun', open: 'not begun' }[state]
}
</script>

<template>
  <div class="overview">
    <h1>Overview</h1>
    <section v-if="isEmpty" class="begin" aria-label="Begin">
      <NEmpty description="Nothing is planned yet. There are three ways to begin:" />
      <span class="ways">
        <LinkButton type="primary" :to="to('shelf')">Add description files</LinkButton>
        <LinkButton :to="to('list')">Import a signal list</LinkButton>
        <NButton :disabled="!session.may('plan')" @click="openDemo">Open the demo project</NButton>
      </span>
    </section>
    <section aria-label="Steps">
      <h2>Steps</h2>
      <ol class="steps">
        <li v-for="step in overview.steps" :key="step.key" :class="step.state">
          <component :is="marks[step.state]" :size="17" aria-hidden="true" />
          <span class="words">{{ stepWords[step.key].words }}</span>
          <span class="state" :class="{ wrong: step.blockers > 0 }">{{ stateWords(step) }}</span>
          <LinkButton
            size="small"
            :type="step.key === next ? 'primary' : 'default'"
            :to="to(stepWords[step.key].stage)"
            :aria-label="`Open: ${stepWords[step.key].words}`"
            >{{ step.key === next ? 'Continue' : 'Open' }}</LinkButton
          >
        </li>
      </ol>
    </section>
    <section aria-label="Planned">
      <h2>Planned</h2>
      <p class="tags">
        <NTag v-for="one in ['station', 'module', 'channel'] as const" :key="one" size="small">{{
          numbered(totals[`${one}s`], one)
        }}</NTag>
        <NTag v-if="totals.unplaced > 0" size="small" type="warning"
          >{{ numbered(totals.unplaced, 'signal') }} without a channel</NTag
        >
      </p>
      <FillCharts v-if="!isEmpty" />
    </section>
    <section aria-label="Latest changes">
      <h2>Latest changes</h2>
      <NTable v-if="latest.length > 0" size="small" :bordered="false">
        <tbody>
          <tr v-for="entry in latest" :key="entry.revision">
            <td class="when">{{ timeWords(entry.at) }}</td>
            <td>{{ entry.author }}</td>
            <td>{{ whatOf(entry, noNames) }}</td>
          </tr>
        </tbody>
      </NTable>
      <p v-else class="quiet">{{ failure || 'Nothing has been changed yet.' }}</p>
      <LinkButton size="small" :to="to('history')">Open the history</LinkButton>
    </section>
  </div>
</template>

<style scoped>
.overview {
  height: 100%;
  overflow: auto;
  padding: 14px 20px 30px;
  display: grid;
  grid-template-columns: minmax(360px, 5fr) minmax(320px, 4fr);
  gap: 18px 34px;
  align-content: start;
}
h1,
.begin {
  grid-column: 1 / -1;
}
.begin {
  display: grid;
  gap: 10px;
  justify-items: center;
}
.ways,
.tags {
  display: flex;
  gap: 8px;
}
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
section[aria-label='Steps'] {
  grid-row: span 2;
}
section > a {
  justify-self: start;
}
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
}
.steps li {
  display: grid;
  grid-template-columns: 22px 1fr auto 74px;
  gap: 10px;
  align-items: center;
  padding: 7px 0;
  border-bottom: 1px solid var(--paper-3);
}
.steps li.done {
  color: var(--good);
}
.words {
  color: var(--ink);
}
.state {
  font: 12.5px/1.2 var(--narrow);
  color: var(--ink-2);
}
.state.wrong {
  color: var(--accent);
}
.when {
  white-space: nowrap;
}
</style>
