<script setup lang="ts">
import { X } from '@lucide/vue'
import { NButton, NCard, NModal } from 'naive-ui'
import { nextTick, onBeforeUnmount, onMounted, ref } from 'vue'

/** A box over the page: the first field has the focus, Esc closes it, and the focus goes back to
 *  where it was. */
defineProps<{ title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const content = ref<HTMLElement>()
const before = document.activeElement
onMounted(
  () =>
    void nextTick(() =>
      content.value?.querySelector<HTMLElement>('input, textarea, button')?.focus(),
    ),
)
/** Nothing is applied while a field holds what cannot be taken; the way leads to that field. */
function holdBack(event: Event): void {
  const isApply =
    event.type === 'submit' ||
    (event.target instanceof Element && event.target.closest('.n-button--primary-type') !== null)
  const wrong = content.value?.querySelector<HTMLElement>('[aria-invalid="true"]')
  if (!isApply || !wrong) return
  event.preventDefault()
  event.stopPropagation()
  wrong.focus()
}
onBeforeUnmount(() => before instanceof HTMLElement && before.focus())
</script>

<template>
  <NModal :show="true" :auto-focus="false" @update:show="(show: boolean) => !show && emit('close')">
    <NCard
      size="medium"
      class="dialog-box"
      :class="{ wide }"
      role="dialog"
      aria-modal="true"
      :aria-label="title"
    >
      <header class="dialog-head">
        <h2>{{ title }}</h2>
        <NButton
          quaternary
          size="small"
          aria-label="close"
          title="Close (Esc)"
          @click="emit('close')"
        >
          <X :size="16" aria-hidden="true" />
        </NButton>
      </header>
      <div ref="content" class="content" @click.capture="holdBack" @submit.capture="holdBack">
        <slot />
      </div>
    </NCard>
  </NModal>
</template>

<style>
.dialog-box.n-card {
  width: min(640px, 92vw);
  max-height: 84vh;
  border-top: 3px solid var(--accent);
}
.dialog-box.n-card.wide {
  width: min(820px, 94vw);
}
.dialog-box .n-card__content {
  overflow: auto;
}
</style>
<style scoped>
.dialog-head {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  margin-bottom: 10px;
}
.content {
  display: grid;
  gap: 10px;
}
</style>
