<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { useMessage } from 'naive-ui'
import { computed, defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import LinkButton from '../parts/LinkButton.vue'
import { usePreferences } from '../stores/preferences'
import { usePresence } from '../stores/presence'
import { useProject } from '../stores/project'
import { useShelf } from '../stores/shelf'
import AsideDialog from './AsideDialog.vue'
import BlockedDialog from './BlockedDialog.vue'
import FindField from './FindField.vue'
import StateBanner from './StateBanner.vue'
import TallyBar from './TallyBar.vue'
import TopBar from './TopBar.vue'

const HelpPanel = defineAsyncComponent(() => import('../help/HelpPanel.vue'))
const StageHints = defineAsyncComponent(() => import('../help/StageHints.vue'))

const route = useRoute()
const project = useProject()
const shelf = useShelf()
const presence = usePresence()
const preferences = usePreferences()
const message = useMessage()
const isFinding = ref(false)
const isShowingAside = ref(false)
const isHelping = ref(false)
const stage = computed(() => String(route.name ?? ''))

watch(
  () => String(route.params['project']),
  (id) => project.id !== id && void project.open(id),
  { immediate: true },
)
/** Once the plan is looked through, the stage where most work is done is fetched too. */
watch(
  () => project.findings !== null,
  (isChecked) =>
    isChecked && setTimeout(() => void import('../stages/ledger/LedgerStage.vue'), aheadMs),
)
const aheadMs = 2000
void shelf.refresh().catch(() => undefined)
onBeforeUnmount(() => {
  project.close()
  presence.forget()
  // Another project writes its addresses as its controllers do.
  preferences.notation = ''
})

watch(
  () => project.refusal,
  (refusal) =>
    refusal &&
    message.warning(refusal.sentence, { duration: 7000, closable: true, keepAliveOnHover: true }),
)

const isTyping = (event: KeyboardEvent) =>
  event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName)
useEventListener('keydown', (event) => {
  if (event.key === '?' && !isTyping(event)) {
    isHelping.value = true
    event.preventDefault()
  }
  if (!(event.ctrlKey || event.metaKey)) return
  const key = event.key.toLowerCase()
  if (key === 'k') isFinding.value = true
  else if (key === 'z' && !isTyping(event)) (event.shiftKey ? project.redo : project.undo)()
  else if (key === 'y' && !isTyping(event)) project.redo()
  else return
  event.preventDefault()
})
const isReady = computed(() => project.derived !== null)
</script>

<template>
  <div class="frame">
    <TopBar @find="isFinding = true" @aside="isShowingAside = true" @help="isHelping = true" />
    <div>
      <StateBanner />
      <StageHints v-if="isReady" :stage="stage" />
    </div>
    <main class="stage">
      <RouterView v-if="isReady" />
      <div v-else-if="project.failure" class="empty">
        <h1>The project cannot be opened</h1>
        <p>{{ project.failure }}</p>
        <LinkButton to="/">All projects</LinkButton>
      </div>
      <p v-else class="empty" role="status">Opening the project …</p>
    </main>
    <TallyBar v-if="isReady" />
    <HelpPanel v-if="isHelping" :stage="stage" @close="isHelping = false" />
    <BlockedDialog />
    <AsideDialog v-if="isShowingAside" @close="isShowingAside = false" />
    <FindField v-if="isFinding && isReady" @close="isFinding = false" />
  </div>
</template>

<style scoped>
.frame {
  height: 100%;
  display: grid;
  grid-template: auto auto 1fr auto / minmax(0, 1fr);
}
.stage {
  min-height: 0;
  overflow: hidden;
  position: relative;
}
@media print {
  .frame {
    display: block;
    height: auto;
  }
  .stage {
    overflow: visible;
  }
}
</style>
