<script setup lang="ts">
import type { Finding, Fix } from '@kataxis/core'
import { useElementVisibility, useTimeoutFn } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { ref, shallowRef, watch } from 'vue'
import { useProject } from '../stores/project'

/** Ways out of a finding. Each is tried before it is offered, which takes a moment in a large plan:
 *  only of what can be seen, and after what somebody does has shown. */
const props = defineProps<{ finding: Finding; most?: number }>()
const project = useProject()
const place = ref<HTMLElement>()
const isSeen = useElementVisibility(place)
const fixes = shallowRef<readonly Fix[]>([])
const soonMs = 60
const keyOf = ({ code, at }: Finding) => `${code}/${at.kind}/${at.id}`
const { start: askSoon } = useTimeoutFn(
  () => (fixes.value = props.finding.fixes().slice(0, props.most)),
  soonMs,
  { immediate: false },
)
watch(
  [isSeen, () => props.finding],
  ([seen, finding], [, before]) => {
    if (!before || keyOf(finding) !== keyOf(before)) fixes.value = []
    if (seen) askSoon()
  },
  { immediate: true },
)
</script>

<template>
  <span ref="place" class="fixes"
    ><NButton
      v-for="fix in fixes"
      :key="fix.label"
      size="small"
      :title="fix.label"
      @click="project.run(fix.command)"
    >
      {{ fix.label }}
    </NButton></span
  >
</template>

<style scoped>
.fixes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  min-width: 1px;
  min-height: 1px;
}
.n-button {
  max-width: 100%;
}
.n-button :deep(.n-button__content) {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
