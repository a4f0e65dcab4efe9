<script setup lang="ts">
import type { JobView } from '@kataxis/core'
import { Download, LoaderCircle, Trash2, X } from '@lucide/vue'
import { NBadge, NButton, NPopover, NProgress, useMessage } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import { useJobs } from '../stores/jobs'

/** What runs in the background, how far it is, and what came of it. */
const jobs = useJobs()
const message = useMessage()
const isOpen = ref(false)
void jobs.refresh().catch(() => undefined)

const count = computed(() => jobs.running.length + jobs.unseen.size)
watch(isOpen, (open) => open && jobs.look())
const numbers = new Intl.NumberFormat('en')
const percent = ({ done, total }: JobView) =>
  total === 0 ? 0 : Math.min(100, Math.floor((done / total) * 100))
const stateWords = (job: JobView) =>
  ({
    waiting: 'waits',
    running:
      job.total === 0 ? 'runs' : `${numbers.format(job.done)} of ${numbers.format(job.total)}`,
    done: [
      job.sentence,
      job.bytes === null ? '' : `${numbers.format(Math.ceil(job.bytes / 1000))} kB`,
    ]
      .filter(Boolean)
      .join(' · '),
    failed: job.sentence,
    cancelled: 'cancelled',
  })[job.state]
const timeOf = ({ at }: JobView) => times.format(new Date(at))
const times = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
const isOpenJob = ({ state }: JobView) => state === 'waiting' || state === 'running'

watch(
  () => jobs.unseen,
  (now, before) => {
    for (const job of jobs.jobs)
      if (now.has(job.id) && !before.has(job.id) && !isOpen.value)
        if (job.state === 'failed') message.error(`${job.words}: ${job.sentence}`)
        else if (job.fileName !== null)
          message.success(`${job.words} is ready; download it under Jobs.`)
  },
)
const tryTo = (work: Promise<unknown>) =>
  void work.catch((error: unknown) => message.error((error as Error).message))
</script>

<template>
  <NPopover
    v-if="jobs.jobs.length > 0"
    v-model:show="isOpen"
    trigger="click"
    placement="bottom-end"
    :show-arrow="false"
    class="jobs-popover"
  >
    <template #trigger>
      <NBadge :value="count" :offset="[-8, 4]">
        <NButton
          quaternary
          size="small"
          :aria-label="`Jobs: ${jobs.running.length} running, ${jobs.jobs.length} in all`"
          title="Jobs: long exports and packages of files"
        >
          <template #icon
            ><LoaderCircle
              :size="16"
              :class="{ turning: jobs.running.length > 0 }"
              aria-hidden="true"
          /></template>
        </NButton>
      </NBadge>
    </template>
    <ul class="jobs" aria-label="Jobs">
      <li v-for="job in jobs.jobs" :key="job.id">
        <div class="words">
          <strong>{{ job.words }}</strong>
          <span class="quiet" :class="{ fault: job.state === 'failed' }"
            >{{ timeOf(job) }} · {{ stateWords(job) }}</span
          >
          <NProgress
            v-if="isOpenJob(job)"
            type="line"
            :percentage="percent(job)"
            :show-indicator="false"
            :height="4"
            :processing="job.state === 'running'"
          />
        </div>
        <NButton v-if="isOpenJob(job)" size="small" @click="tryTo(jobs.cancel(job.id))">
          <template #icon><X :size="14" aria-hidden="true" /></template>Cancel
        </NButton>
        <template v-else>
          <NButton
            v-if="job.state === 'done' && job.fileName !== null"
            tag="a"
            size="small"
            :href="api.jobFileUrl(job.id)"
            download
          >
            <template #icon><Download :size="14" aria-hidden="true" /></template>Download
          </NButton>
          <NButton
            quaternary
            size="small"
            :aria-label="`Delete ${job.words}`"
            title="Delete"
            @click="tryTo(jobs.forget(job.id))"
          >
            <template #icon><Trash2 :size="14" aria-hidden="true" /></template>
          </NButton>
        </template>
      </li>
    </ul>
  </NPopover>
</template>

<style scoped>
.jobs {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 400px;
  max-height: 60vh;
  overflow-y: auto;
}
.jobs li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 8px 0;
}
.jobs li + li {
  border-top: 1px solid var(--line);
}
.words {
  flex: 1;
  min-width: 0;
  display: grid;
  gap: 3px;
  font: 13px/1.35 var(--sans);
}
.fault {
  color: var(--accent);
}
.turning {
  animation: turn 1.4s linear infinite;
}
@keyframes turn {
  to {
    transform: rotate(1turn);
  }
}
@media (prefers-reduced-motion: reduce) {
  .turning {
    animation: none;
  }
}
</style>
