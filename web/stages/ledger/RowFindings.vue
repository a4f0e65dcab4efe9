<script setup lang="ts">
import FindingList from '../../parts/FindingList.vue'
import type { LedgerRow } from './rows'

/** What is found about a row: its signal, the module it stands on, and the station. */
defineProps<{ row: LedgerRow }>()
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>
        {{ row.station
        }}<template v-if="row.slot"> · slot {{ row.slot }} · {{ row.channel }}</template>
      </h3>
      <h1>{{ row.tag || 'No tag yet' }}</h1>
      <p class="quiet">{{ row.comment }}</p>
    </header>
    <section v-if="row.signalId">
      <h2>The signal</h2>
      <FindingList :ids="[row.signalId]" notes empty="Nothing is found about it." />
    </section>
    <section v-if="row.listed">
      <h2>Its module and station</h2>
      <FindingList
        :ids="[row.listed.module.id, row.listed.view.id]"
        notes
        empty="Nothing is found about them."
      />
    </section>
  </div>
</template>
