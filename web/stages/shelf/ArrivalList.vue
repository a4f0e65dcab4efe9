<script setup lang="ts">
import { NProgress, NButton } from 'naive-ui'
import { computed } from 'vue'
import { useShelf, type Arrival } from '../../stores/shelf'
import SourceLines from './SourceLines.vue'

const shelf = useShelf()
const words = {
  waiting: 'Waiting',
  sending: 'Sending',
  reading: 'Reading',
  new: 'New',
  known: 'Known',
  refused: 'Refused',
  cancelled: 'Left out',
} as const
const mostShown = 40

const counts = computed(() => {
  const of = (...states: string[]) =>
    shelf.arrivals.filter(({ state }) => states.includes(state)).length
  return {
    new: of('new'),
    known: of('known'),
    refused: of('refused'),
    cancelled: of('cancelled'),
    left: of('waiting', 'sending', 'reading'),
  }
})
/** What needs somebody's eye first: on its way, then refused, then the rest. */
const shown = computed(() => {
  const rank = (state: string) =>
    ['sending', 'reading'].includes(state)
      ? 0
      : state === 'refused'
        ? 1
        : state === 'waiting'
          ? 3
          : 2
  return [...shelf.arrivals].sort((a, b) => rank(a.state) - rank(b.state)).slice(0, mostShown)
})
/** Of what is sent first, then of the files in a package that have been read. */
const shareOf = ({ state, sent, done = 0, total = 0 }: Arrival) =>
  state === 'reading' ? (total === 0 ? 1 : done / total) : sent
</script>

<template>
  <section v-if="shelf.arrivals.length > 0" class="arrivals" aria-label="Files brought in">
    <header>
      <p role="status">
        <strong>{{ counts.new }}</strong> new · <strong>{{ counts.known }}</strong> known already ·
        <strong>{{ counts.refused }}</strong> refused<template v-if="counts.cancelled > 0">
          · <strong>{{ counts.cancelled }}</strong> left out</template
        ><template v-if="counts.left > 0">
          · <strong>{{ counts.left }}</strong> to go</template
        >
      </p>
      <NButton v-if="shelf.isArriving" size="small" @click="shelf.cancel()"> Stop here </NButton>
      <NButton v-else size="small" @click="shelf.forgetArrivals()">Clear</NButton>
    </header>
    <ul>
      <li v-for="arrival in shown" :key="arrival.id" :class="arrival.state">
        <span class="state">{{ words[arrival.state] }}</span>
        <span>{{ arrival.sentence || arrival.name }}</span>
        <NProgress
          v-if="arrival.state === 'sending' || arrival.state === 'reading'"
          class="progress"
          type="line"
          :height="4"
          :show-indicator="false"
          :percentage="shareOf(arrival) * 100"
          :processing="arrival.state === 'reading'"
          :aria-label="`Progress of ${arrival.name}`"
        />
        <SourceLines
          v-if="arrival.state === 'refused' && arrival.file && arrival.problems.length > 0"
          class="source"
          :source="arrival.file"
          :problem="arrival.problems[arrival.problems.length - 1]!"
        />
      </li>
      <li v-if="shelf.arrivals.length > mostShown" class="quiet">
        and {{ shelf.arrivals.length - mostShown }} more
      </li>
    </ul>
  </section>
</template>

<style scoped>
.progress {
  width: 140px;
}
.arrivals {
  border: 1px solid var(--line);
  font: 13px/1.4 var(--narrow);
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding: 6px 10px;
  background: var(--paper-2);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 260px;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: 70px 1fr auto;
  gap: 0 10px;
  align-items: center;
  padding: 3px 10px;
  border-top: 1px solid var(--paper-3);
}
.state {
  font-weight: 600;
}
.refused .state {
  color: var(--accent);
}
.source {
  grid-column: 1 / -1;
}
.new .state {
  color: var(--good);
}
</style>
