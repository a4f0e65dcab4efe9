<script setup lang="ts">
import type { Difference } from '@kataxis/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, type FileUse, type ShelfFile } from '../../api/client'
import PickField from '../../parts/PickField.vue'

/** What changed between this file and another version of it. */
const props = defineProps<{ file: ShelfFile; others: readonly ShelfFile[] }>()
const older = ref('')
const differences = ref<readonly Difference[] | null>(null)
const failure = ref('')
const uses = shallowRef<readonly FileUse[]>([])
const signs = { added: '+', removed: '−', changed: '≠' } as const

watch(older, async (hash) => {
  differences.value = null
  failure.value = ''
  uses.value = []
  if (hash === '') return
  try {
    const found = (await api.compareFiles(hash, props.file.sha256)).differences
    const used = (await api.fileUses(hash)).uses
    if (older.value !== hash) return
    differences.value = found
    uses.value = used
  } catch (error) {
    failure.value = (error as Error).message
  }
})
const counts = computed(() =>
  (['added', 'removed', 'changed'] as const)
    .map(
      (change) =>
        `${differences.value?.filter((difference) => difference.change === change).length ?? 0} ${change}`,
    )
    .join(', '),
)
</script>

<template>
  <section aria-label="Versions">
    <div class="titled">
      <h2>Against an older version</h2>
      <PickField
        v-model:value="older"
        label="Older version"
        :options="[
          { value: '', label: `choose one of ${others.length}` },
          ...others.map((other) => ({ value: other.sha256, label: other.name })),
        ]"
      />
      <p v-if="differences" role="status">
        {{ differences.length === 0 ? 'Nothing that planning sees is different.' : counts }}
      </p>
      <p v-if="failure" role="alert">{{ failure }}</p>
    </div>
    <p v-if="differences">
      <template v-if="uses.length === 0">No station stands on the older one.</template>
      <template v-else
        >The older one is used by
        <template v-for="(use, i) in uses.slice(0, 12)" :key="use.stationId"
          >{{ i > 0 ? ', ' : ''
          }}<RouterLink :to="`/p/${use.projectId}/board?at=station:${use.stationId}`">{{
            use.station
          }}</RouterLink></template
        ><template v-if="uses.length > 12"> and {{ uses.length - 12 }} more</template>.</template
      >
    </p>
    <ul v-if="differences">
      <li
        v-for="difference in differences.slice(0, 400)"
        :key="`${difference.what}${difference.owner}${difference.key}${difference.change}`"
      >
        <span class="sign" aria-hidden="true">{{ signs[difference.change] }}</span><span
          class="sr"
          >{{ difference.change }}</span
        >
        {{ difference.what }} <strong>{{ difference.name || difference.key }}</strong><template
          v-if="difference.owner"
        >
          of {{ difference.owner }}</template
        >
        {{ ' ' }}<span class="quiet">{{ difference.details.join('; ') }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
}
.titled .n-select {
  width: 380px;
}
a {
  color: inherit;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  font: 13px/1.5 var(--narrow);
}
.sign {
  display: inline-block;
  width: 18px;
  font-weight: 600;
}
</style>
