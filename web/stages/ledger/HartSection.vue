<script setup lang="ts">
import {
  placeOf,
  channelAddress,
  formatAddress,
  hartItems,
  hartVariables,
  newId,
  notationOf,
  signalOn,
  type HartVariable,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed } from 'vue'
import { useProject } from '../../stores/project'
import type { LedgerRow } from './rows'

/** What a HART device sends beside its current, and a name for each of it. */
const props = defineProps<{ row: LedgerRow }>()
const project = useProject()

/** The HART variables, where their values come from, and the tags on them. */
const variables = computed(() => {
  const { listed } = props.row
  const items = listed ? hartItems(listed.module, listed.channel) : {}
  return (Object.entries(hartVariables) as [HartVariable, string][]).map(([name, words]) => {
    const channel = items[name]
    const place = listed && channel ? channelAddress(listed.module, channel) : null
    return {
      name,
      words,
      channel,
      tag: listed && channel ? (signalOn(listed.module, channel)?.tag ?? '') : '',
      address: place ? formatAddress(place, notationOf(project.plan!, listed!.view.station)) : '',
    }
  })
})
const unnamed = computed(() => variables.value.filter(({ channel, tag }) => channel && tag === ''))
function nameVariables(): void {
  const { listed, tag, comment } = props.row
  project.run({
    type: 'editSignals',
    edits: unnamed.value.map(({ name, words, channel }) => ({
      id: newId(),
      place: {
        moduleId: listed!.module.id,
        ...placeOf(channel!),
      },
      tag: `${tag}_${name}`,
      comment: `${comment}, ${words.replace(/,.*/, '')}`,
    })),
  })
}
</script>

<template>
  <section>
    <h2>HART</h2>
    <NTable size="small" :bordered="false">
      <tbody>
        <tr v-for="one in variables" :key="one.name">
          <td class="mono">{{ one.name }}</td>
          <td>{{ one.words }}</td>
          <td class="mono">{{ one.address }}</td>
          <td class="mono">{{ one.tag }}</td>
        </tr>
      </tbody>
    </NTable>
    <p v-if="variables.every(({ channel }) => !channel)" class="quiet">
      The module sends none of them as data; they are read by an acyclic service or a handheld.
    </p>
    <NButton v-if="unnamed.length > 0" size="small" @click="nameVariables">
      Name {{ unnamed.length }} of them {{ row.tag }}_{{ unnamed[0]!.name }} …
    </NButton>
  </section>
</template>
