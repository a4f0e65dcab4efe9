<script setup lang="ts">
import {
  applyCommand,
  effectOf,
  numbered,
  plural,
  takeOverModules,
  wordRefusal,
  type Command,
  type StationMatch,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import { useProject } from '../../stores/project'

export interface TakeOver {
  readonly match: StationMatch
  /** Null: all that differ. */
  readonly slots: readonly number[] | null
}

/** The modules that the wire shows, brought into the plan as one command. */
const props = defineProps<{ what: TakeOver }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const station = computed(() => props.what.match.station)
const plan = computed(() =>
  takeOverModules(station.value, props.what.match.device!, props.what.slots ?? undefined),
)
const command = computed((): Command => ({
  type: 'batch',
  label: `Take over modules of ${station.value.name} from the wire`,
  commands: [...plan.value.commands],
}))
const preview = computed(() => {
  if (plan.value.commands.length === 0) return null
  const applied = applyCommand(project.plan!, project.derived!.catalog, command.value)
  return !applied.ok
    ? { refusal: wordRefusal(applied.refusal) }
    : { effect: effectOf(applied.changes, station.value.view.modules.length - 1) }
})
const changes = computed(() => plan.value.commands.length)
function apply() {
  if (project.run(command.value)) emit('close')
}
</script>

<template>
  <DialogBox :title="`Take over from the wire: ${station.name}`" @close="emit('close')">
    <p v-if="changes === 0">Nothing here can be taken over.</p>
    <p v-if="plan.unknown.length > 0" class="fault" role="alert">
      {{ plural(plan.unknown.length, 'Slot') }} {{ plan.unknown.join(', ') }}: the description does
      not know what is plugged. Bring its description to the shelf.
    </p>
    <p v-if="preview && 'refusal' in preview" class="fault" role="alert">{{ preview.refusal }}</p>
    <div v-else-if="preview" role="status">
      <p>
        The plan gets the modules that the device reports.
        {{ numbered(preview.effect.kept, 'module stays', 'modules stay') }} in place.
      </p>
      <p v-if="preview.effect.unplaced.length > 0">
        {{
          numbered(
            preview.effect.unplaced.length,
            'signal loses its channel and waits',
            'signals lose their channels and wait',
          )
        }}
        on the Ledger; tags and comments stay.
      </p>
    </div>
    <p class="actions">
      <NButton @click="emit('close')">Cancel</NButton>
      <NButton type="primary" :disabled="!preview || 'refusal' in preview" @click="apply"
        >Apply {{ numbered(changes, 'change') }}</NButton
      >
    </p>
  </DialogBox>
</template>
