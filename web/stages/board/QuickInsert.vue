<script setup lang="ts">
import {
  allowedSlots,
  candidatesFor,
  layoutOf,
  wordBytes,
  wordChannels,
  type Derived,
  type DerivedStation,
} from '@kataxis/core'
import { computed, onMounted, ref, watch } from 'vue'
import TextField from '../../parts/TextField.vue'
import { usePickList } from '../../parts/usePickList'

const props = defineProps<{
  derived: Derived
  view: DerivedStation
  slotNumber: number
  start: string
  shifts: boolean
}>()
const emit = defineEmits<{ take: [module: string]; close: [] }>()
const text = ref(props.start)
const field = ref<InstanceType<typeof TextField>>()
const list = ref<HTMLElement>()
onMounted(() => field.value?.focus())
const scrolled = () => list.value?.children[at.value]?.scrollIntoView({ block: 'nearest' })

const candidates = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (
    candidatesFor(props.derived, props.view, props.slotNumber)
      .map((candidate) => ({
        ...candidate,
        counts: wordChannels(layoutOf(candidate.module)),
        bytes: wordBytes(candidate.module),
      }))
      .filter(({ module, counts }) => {
        const haystack =
          `${module.name} ${module.orderNumber} ${module.category} ${counts} ${counts.replace(/(\d+) /g, '$1')} ${counts.replace(/(\d+) (\w+)/g, '$2$1')}`.toLowerCase()
        return words.every((word) => haystack.includes(word))
      })
      // A kind typed in full (`di`, `ao`) brings the modules that have it first.
      .sort((a, b) => Number(hasKind(b.counts, words)) - Number(hasKind(a.counts, words)))
  )
})
const hasKind = (counts: string, words: readonly string[]) =>
  words.some((word) => counts.toLowerCase().split(/\W+/).includes(word))
/** What would fit instead, and where what was typed does. */
const nothing = computed(() => {
  const { slotNumber, view, derived } = props
  const fitting = candidatesFor(derived, view, slotNumber).map(({ module }) => module)
  if (fitting.length === 0) return `The description allows nothing in slot ${slotNumber}.`
  const wanted = text.value.trim().toLowerCase()
  const elsewhere = view.file?.modules.find(({ name, orderNumber }) =>
    `${name} ${orderNumber ?? ''}`.toLowerCase().includes(wanted),
  )
  const slots = elsewhere && view.device ? allowedSlots(view.device, elsewhere.key) : ''
  const named = fitting
    .slice(0, 4)
    .map(({ name }) => name)
    .join(', ')
  return `Nothing that slot ${slotNumber} takes contains “${text.value}”. ${slots === '' ? '' : `${elsewhere!.name} fits into the slots ${slots}. `}Slot ${slotNumber} takes ${named}${fitting.length > 4 ? ` and ${fitting.length - 4} more` : ''}.`
})
const box = ref<HTMLElement>()
const isLeftwards = ref(false)
onMounted(
  () =>
    (isLeftwards.value = (box.value?.getBoundingClientRect().right ?? 0) > window.innerWidth - 8),
)
const { at, onKey } = usePickList(
  candidates,
  ({ module }) => emit('take', module.key),
  () => emit('close'),
)
watch(at, scrolled, { flush: 'post' })
</script>

<template>
  <div
    ref="box"
    class="quick"
    :class="{ leftwards: isLeftwards }"
    role="dialog"
    :aria-label="`Insert into slot ${slotNumber} of ${view.station.name}`"
    @focusout="({ relatedTarget }) => !relatedTarget && emit('close')"
  >
    <TextField
      ref="field"
      v-model:value="text"
      :label="`Module for slot ${slotNumber}`"
      :placeholder="`What slot ${slotNumber} takes: type a part of it, 16 DI, order number …`"
      :more="{
        role: 'combobox',
        'aria-expanded': true,
        'aria-controls': 'quick-list',
        'aria-activedescendant': `quick-${at}`,
      }"
      @keydown="onKey"
    />
    <ul id="quick-list" ref="list" role="listbox" aria-label="Modules this slot takes">
      <li
        v-for="(candidate, i) in candidates"
        :id="`quick-${i}`"
        :key="candidate.module.key"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @mousemove="at = i"
        @mousedown.prevent="emit('take', candidate.module.key)"
      >
        <span class="name">{{ candidate.module.name }}</span>
        <span class="order">{{ candidate.module.orderNumber }}</span>
        <small>{{ candidate.counts ? `${candidate.counts} · ` : '' }}{{ candidate.bytes }}</small>
        <small class="uses">{{ candidate.uses > 0 ? `${candidate.uses} in the plan` : '' }}</small>
        <small v-if="candidate.whyNot" class="order-fault"
          >Out of order here: {{ candidate.whyNot }}</small
        >
      </li>
    </ul>
    <p v-if="candidates.length === 0" class="none">{{ nothing }}</p>
    <p class="hint">
      {{
        shifts
          ? 'Enter inserts here and moves the rest one slot on'
          : 'Enter inserts and goes on to the next slot'
      }}
      · Esc closes
    </p>
  </div>
</template>

<style scoped>
.quick {
  position: absolute;
  top: calc(100% + 2px);
  left: 0;
  width: 470px;
  z-index: 30;
  background: var(--paper);
  border: 1px solid var(--ink-2);
  border-top: 3px solid var(--accent);
  box-shadow: 0 8px 24px rgb(0 0 0 / 25%);
  padding: 8px;
}
.quick.leftwards {
  left: auto;
  right: 0;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  max-height: 240px;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 0 10px;
  padding: 4px 6px;
  font: 13px/1.3 var(--narrow);
  cursor: pointer;
}
li.at {
  background: var(--accent-soft);
}
.name {
  font-weight: 600;
}
.order {
  text-align: right;
  font: 12px/1.3 var(--mono);
  color: var(--ink-2);
}
small,
.hint {
  font: 12px/1.3 var(--narrow);
  color: var(--ink-2);
}
.order-fault {
  grid-column: 1 / -1;
  color: var(--accent);
}
.uses {
  text-align: right;
}
.hint,
.none {
  padding: 6px 6px 0;
}
</style>
