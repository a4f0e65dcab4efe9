<script setup lang="ts">
import {
  choicesOf,
  parameterGroups,
  recordsOfPlaced,
  wordParameterValue,
  type DerivedModule,
  type DerivedStation,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useFocus } from '../../../stores/focus'
import { useProject } from '../../../stores/project'

/** What is set otherwise than the description proposes, and the way to all parameters. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule }>()
const project = useProject()
const { goTo } = useFocus()
const mostShown = 8
const records = computed(() =>
  props.module.described
    ? recordsOfPlaced(
        project.catalog,
        props.view.station.file,
        props.module.described,
        props.module.plugged,
      )
    : [],
)
const count = computed(() =>
  records.value.reduce((sum, { record }) => sum + record.parameters.length, 0),
)
const chosen = computed(() =>
  parameterGroups(records.value, choicesOf(props.view, props.module).values).flatMap(
    ({ heading, rows }) =>
      rows
        .filter(({ isChosen }) => isChosen)
        .map((row) => ({ ...row, heading: heading.at(-1) ?? '' })),
  ),
)
const hasStartUp = computed(
  () => 'startUp' in props.view.station.settings && props.module.row === null,
)
</script>

<template>
  <section v-if="records.length > 0 || hasStartUp" aria-label="Parameters">
    <h2>Parameters</h2>
    <ul v-if="chosen.length > 0">
      <li v-for="row in chosen.slice(0, mostShown)" :key="row.key" :class="{ wrong: row.fault }">
        <span class="quiet">{{ row.heading }}</span> {{ row.parameter.name }}
        <strong>{{ wordParameterValue(row.parameter, row.value) }}</strong>
      </li>
      <li v-if="chosen.length > mostShown" class="quiet">
        and {{ chosen.length - mostShown }} more
      </li>
    </ul>
    <p v-else class="quiet">
      {{ count === 0 ? 'Nothing is set.' : `All ${count} as the description proposes.` }}
    </p>
    <NButton
      size="small"
      @click="goTo('parameters', { kind: module.row ? 'module' : 'station', id: module.id })"
    >
      Set parameters, see octets …
    </NButton>
  </section>
</template>

<style scoped>
section {
  justify-items: start;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  font: 13px/1.5 var(--narrow);
}
.wrong {
  color: var(--accent);
}
</style>
