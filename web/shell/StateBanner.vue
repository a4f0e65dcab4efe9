<script setup lang="ts">
import { plural } from '@kataxis/core'
import { NAlert, NButton } from 'naive-ui'
import { onBeforeUnmount, ref } from 'vue'
import { api } from '../api/client'
import { useProject } from '../stores/project'
import { useSession } from '../stores/session'

/** What somebody has to know of the state of things before going on: damage, work of others that
 *  waits here, a full disk. */
const project = useProject()
const session = useSession()
const isRepairing = ref(false)
const freeMb = ref<number | null>(null)
const lookMs = 60_000

async function look(): Promise<void> {
  const { space } = await api.health()
  freeMb.value =
    space?.isScarce && space.freeBytes !== null ? Math.round(space.freeBytes / 1e6) : null
}
const tryLook = () => void look().catch(() => undefined)
tryLook()
const looking = setInterval(tryLook, lookMs)
onBeforeUnmount(() => clearInterval(looking))

async function repair(): Promise<void> {
  isRepairing.value = true
  await project.repair()
  isRepairing.value = false
}
</script>

<template>
  <div class="banners">
    <NAlert
      v-if="project.damage.length > 0"
      type="error"
      :bordered="false"
      title="This project is damaged and can only be read"
    >
      <p>
        {{ project.damage.slice(0, 3).join(' ')
        }}<template v-if="project.damage.length > 3">
          And {{ project.damage.length - 3 }} more.</template
        >
      </p>
      <p>
        A repair brings back missing owners from the history; what has no place is taken out, and
        its signals wait in the tray.
      </p>
      <NButton
        size="small"
        type="primary"
        :loading="isRepairing"
        :disabled="!session.may('plan')"
        @click="repair"
        >Repair the project</NButton
      >
    </NAlert>
    <NAlert v-for="other in project.others" :key="other.name" type="info" :bordered="false">
      This browser keeps {{ other.count }} unsent {{ plural(other.count, 'change') }} of
      {{ other.name }}; they are sent when {{ other.name }} signs in here.
    </NAlert>
    <NAlert v-if="session.access?.state === 'archived'" type="info" :bordered="false">
      {{ session.whyNot('plan') }}
    </NAlert>
    <NAlert v-if="freeMb !== null" type="warning" :bordered="false"
      >The server’s disk is nearly full: {{ freeMb }} MB are left. Free some space there.</NAlert
    >
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
</style>
