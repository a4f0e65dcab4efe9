<script setup lang="ts">
import {
  notations,
  numbered,
  readAddress,
  readTyped,
  type Direction,
  type MemoryMap,
  type NotationName,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef } from 'vue'
import { api, type Version } from '../../api/client'
import NotationPicker from '../../parts/NotationPicker.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import { byteLabel } from './byte-labels'

/** Above the picture: whose memory, how it is written, where to go, what to compare with, and how
 *  much is given out. */
const props = defineProps<{
  map: MemoryMap
  notation: NotationName
  from: number | null
  size: number
  side: Direction
}>()
const emit = defineEmits<{
  look: [controllerId: string]
  go: [direction: Direction, byte: number]
  scroll: [byte: number]
  compare: [from: string]
  repack: []
}>()
const project = useProject()
const controllers = computed(() => project.derived!.controllers.map(({ controller }) => controller))

const wanted = ref('')
/** An address of the notation in use, the number alone on the side that is looked at, else an
 *  address of any notation. */
function go(): void {
  const text = wanted.value.trim()
  const own = readTyped(text, props.notation, props.side) ?? notations[props.notation].parse(text)
  const at = own ?? readAddress(text)[0]?.address
  if (!at || at.byte >= props.size)
    return project.tell(
      `"${text}" is no place of this image; type an address such as ${byteLabel('in', 0, props.notation)}.`,
    )
  emit('go', at.direction, at.byte)
}

const gaps = computed(() => [...props.map.in.gaps, ...props.map.out.gaps])
let nextGap = 0
function goToGap(): void {
  const gap = gaps.value[nextGap++ % gaps.value.length]
  if (gap) emit('scroll', gap.byte)
}
const figures = computed(() =>
  (
    [
      ['inputs', props.map.in],
      ['outputs', props.map.out],
    ] as const
  ).map(([word, { usedBytes, size, gaps: free }]) => {
    const bytes = free.reduce((sum, gap) => sum + gap.bytes, 0)
    return `${word} ${usedBytes} of ${size}${bytes > 0 ? `, ${numbered(bytes, 'byte')} in gaps` : ''}`
  }),
)

const versions = shallowRef<readonly Version[]>([])
void api
  .versions(project.id)
  .then((found) => (versions.value = found.versions))
  .catch(() => undefined)
</script>

<template>
  <div class="tools">
    <h1>Memory</h1>
    <div v-if="controllers.length > 1" class="switch" role="group" aria-label="Controller">
      <NButton
        v-for="one in controllers"
        :key="one.id"
        size="small"
        :type="one.id === map.controllerId ? 'info' : 'default'"
        :aria-pressed="one.id === map.controllerId"
        @click="emit('look', one.id)"
      >
        {{ one.name || '(no name)' }}
      </NButton>
    </div>
    <NotationPicker bare class="notation" />
    <TextField
      v-model:value="wanted"
      label="Go to an address"
      class="go"
      :placeholder="`Go to ${byteLabel('in', 8, notation)}`"
      @keydown.enter="go"
    />
    <PickField
      v-if="versions.length > 0"
      label="Show what changed since"
      class="against"
      :value="from === null ? '' : String(from)"
      :options="[
        { value: '', label: 'no comparison' },
        ...versions.map((version) => ({
          value: String(version.revision),
          label: `since ${version.name}`,
        })),
      ]"
      @update:value="emit('compare', $event)"
    />
    <NButton size="small" @click="emit('repack')">Repack …</NButton>
    <span class="figures"
      >{{ figures.join(' · ')
      }}<NButton v-if="gaps.length > 0" size="small" quaternary @click="goToGap">
        next gap
      </NButton></span
    >
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 8px 14px;
  flex-wrap: wrap;
}
.switch {
  display: flex;
}
.switch .n-button {
  border-radius: 0;
}
.switch [aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.notation {
  width: 190px;
}
.go {
  width: 110px;
}
.against {
  width: 130px;
}
.figures {
  margin-left: auto;
  font: 12.5px/1 var(--narrow);
  color: var(--ink-2);
  white-space: nowrap;
}
</style>
