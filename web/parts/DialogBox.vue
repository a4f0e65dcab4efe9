<script setup lang="ts">
import { NModal } from 'naive-ui'
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
onBeforeUnmount(() => before instanceof HTMLElement && before.focus())
</script>

<template>
  <NModal
    :show="true"
    preset="card"
    size="medium"
    class="dialog-box"
    :class="{ wide }"
    :title="title"
    :aria-label="title"
    :auto-focus="false"
    @update:show="(show: boolean) => !show && emit('close')"
  >
    <div ref="content" class="content"><slot /></div>
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
.content {
  display: grid;
  gap: 10px;
}
</style>
