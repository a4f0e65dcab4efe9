<script setup lang="ts">
import {
  allowedSlots,
  applyCommand,
  effectOf,
  findModule,
  layoutOf,
  plural,
  protocolOn,
  recordsOfPlaced,
  wordBytes,
  wordChannels,
  wordRefusal,
  type Command,
  type Plan,
  type SingleCommand,
} from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../../parts/DialogBox.vue'
import { useProject } from '../../../stores/project'
import { useShelf } from '../../../stores/shelf'
import HeadPicker, { type Head } from './HeadPicker.vue'

/** Another order number or firmware for modules or heads, with a preview of what stays and what
 *  falls away. */
const props = defineProps<{ kind: 'module' | 'station'; ids: readonly string[] }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const shelf = useShelf()
const withAll = ref(false)
const chosen = ref<{ file: string; key: string; name: string } | null>(null)
const views = computed(() => [...project.derived!.stations.values()])

interface Use {
  readonly id: string
  readonly file: string
  readonly key: string
  readonly modules: number
}
const uses = computed<Use[]>(() =>
  props.kind === 'station'
    ? views.value.map(({ id, station, modules }) => ({
        id,
        file: station.file,
        key: station.device,
        modules: modules.length - 1,
      }))
    : views.value.flatMap(({ station, modules }) =>
        modules.flatMap(({ row }) =>
          row ? [{ id: row.id, file: station.file, key: row.module, modules: 1 }] : [],
        ),
      ),
)
const first = computed(() => uses.value.find(({ id }) => id === props.ids[0])!)
const alike = computed(() =>
  uses.value.filter(({ file, key }) => file === first.value.file && key === first.value.key),
)
const others = computed(() => alike.value.filter(({ id }) => !props.ids.includes(id)))
const targets = computed(() => [
  ...uses.value.filter(({ id }) => props.ids.includes(id)),
  ...(withAll.value ? others.value : []),
])

const protocol = computed(() => {
  const view = views.value.find(
    ({ id, modules }) =>
      id === props.ids[0] || modules.some((module) => module.id === props.ids[0]),
  )!
  return protocolOn(project.plan!.networks[view.station.networkId]!).name
})
/** Modules of the same file that any slot of that head takes; those with the same data first. */
const candidates = computed(() => {
  if (props.kind === 'station') return []
  const view = views.value.find(({ modules }) => modules.some(({ id }) => id === first.value.id))!
  const old = findModule(project.derived!.catalog, first.value.file, first.value.key)
  const words = old ? wordChannels(layoutOf(old)) : ''
  return (view.file?.modules ?? [])
    .filter(
      ({ key }) => key !== first.value.key && view.device && allowedSlots(view.device, key) !== '',
    )
    .map((module) => ({ module, words: wordChannels(layoutOf(module)) || wordBytes(module) }))
    .sort((a, b) => Number(b.words === words) - Number(a.words === words))
})

async function chooseHead(head: Head): Promise<void> {
  await shelf.need([head.sha256])
  chosen.value = {
    file: head.sha256,
    key: head.key,
    name: [head.orderNumber ?? head.name, head.firmware].filter(Boolean).join(' '),
  }
}

const command = computed<Command | null>(() => {
  const to = chosen.value
  if (!to) return null
  const commands = targets.value.map(({ id }): SingleCommand =>
    props.kind === 'station'
      ? { type: 'replaceHead', id, file: to.file, device: to.key }
      : { type: 'replaceModule', id, module: to.key },
  )
  return commands.length === 1
    ? commands[0]!
    : {
        type: 'batch',
        label: `Replace ${commands.length} ${props.kind === 'station' ? 'heads' : 'modules'} by ${to.name}`,
        commands,
      }
})
const preview = computed(() => {
  if (!command.value) return null
  const applied = applyCommand(project.plan!, project.derived!.catalog, command.value)
  if (!applied.ok) return { refusal: wordRefusal(applied.refusal), effect: null, strange: 0 }
  return {
    refusal: '',
    effect: effectOf(
      applied.changes,
      targets.value.reduce((sum, { modules }) => sum + modules, 0),
    ),
    strange: strangeValues(applied.plan),
  }
})
/** Parameter values that the new type does not know. */
function strangeValues(after: Plan): number {
  if (props.kind === 'station') return 0
  const { catalog } = project.derived!
  const replaced = new Set(targets.value.map(({ id }) => id))
  let strange = 0
  for (const { station, modules } of Object.values(after.stations))
    for (const { id, module, plugged, values } of Object.values(modules)) {
      const type = replaced.has(id) ? findModule(catalog, station.file, module) : null
      if (!type) continue
      const records = new Map(
        recordsOfPlaced(catalog, station.file, type, plugged).map((one) => [one.key, one.record]),
      )
      for (const [key, chosen] of Object.entries(values)) {
        const known = new Set(records.get(key)?.parameters.map((parameter) => parameter.key))
        strange += Object.keys(chosen).filter((name) => !known.has(name)).length
      }
    }
  return strange
}
function take(): void {
  if (command.value && project.run(command.value)) emit('close')
}
const nameOf = (file: string, key: string) =>
  findModule(project.derived!.catalog, file, key)?.name ?? key
const fileOf = (stationId: string) => project.plan!.stations[stationId]?.station.file ?? ''
</script>

<template>
  <DialogBox
    :title="kind === 'station' ? 'Replace the head or its firmware' : 'Replace the module'"
    wide
    @close="emit('close')"
  >
    <HeadPicker
      v-if="kind === 'station' && !chosen"
      :protocol="protocol"
      @take="chooseHead"
      @close="emit('close')"
    />
    <ul v-else-if="!chosen" aria-label="Modules that may stand there">
      <li v-for="{ module, words } in candidates" :key="module.key">
        <button
          class="choice"
          @click="
            chosen = { file: first.file, key: module.key, name: module.orderNumber ?? module.name }
          "
        >
          <strong>{{ module.orderNumber ?? module.name }}</strong><span>{{ module.name }}</span
          ><span class="quiet">{{ words }}</span>
        </button>
      </li>
    </ul>
    <template v-else>
      <p>
        New type: <strong>{{ chosen.name }}</strong>
        <NButton size="small" @click="chosen = null">Choose another</NButton>
      </p>
      <NCheckbox v-if="others.length > 0" v-model:checked="withAll"
        >and the {{ others.length }} other {{ plural(others.length, 'use') }} of this type in the
        plan</NCheckbox
      >
      <p v-if="preview?.refusal" class="fault" role="alert">{{ preview.refusal }}</p>
      <div v-else-if="preview?.effect" class="effect" role="status">
        <p>
          <strong>{{ preview.effect.kept }}</strong>
          {{ plural(preview.effect.kept, 'module stays', 'modules stay') }} in place<template
            v-if="preview.effect.readdressed.length > 0"
            >, {{ preview.effect.readdressed.length }} of them with new addresses</template
          >.
        </p>
        <p v-if="preview.effect.removed.length > 0" class="fault">
          {{ preview.effect.removed.length }} fall away:
          {{
            preview.effect.removed
              .slice(0, 6)
              .map(
                ({ stationId, slot, module }) =>
                  `slot ${slot} ${nameOf(fileOf(stationId), module)}`,
              )
              .join(', ')
          }}{{ preview.effect.removed.length > 6 ? ' …' : '' }}
        </p>
        <p v-if="preview.effect.added.length > 0">
          {{ preview.effect.added.length }} come with it:
          {{
            preview.effect.added
              .map(({ slot, module }) => `slot ${slot} ${nameOf(chosen!.file, module)}`)
              .join(', ')
          }}
        </p>
        <p v-if="preview.effect.unplaced.length > 0" class="fault">
          {{ preview.effect.unplaced.length }} signals lose their channel and wait for a new one:
          {{
            preview.effect.unplaced
              .slice(0, 6)
              .map(({ tag, comment }) => tag || comment)
              .join(', ')
          }}{{ preview.effect.unplaced.length > 6 ? ' …' : '' }}
        </p>
        <p v-else>No signal loses its channel.</p>
        <p v-if="preview.strange > 0" class="fault">
          {{ preview.strange }} set
          {{ plural(preview.strange, 'parameter does', 'parameters do') }} not exist there; the
          {{ plural(preview.strange, 'value is', 'values are') }} kept and not sent.
        </p>
      </div>
      <div class="actions">
        <NButton type="primary" :disabled="!preview?.effect" @click="take">
          Replace
          {{
            targets.length === 1
              ? `the ${kind === 'station' ? 'head' : 'module'}`
              : `all ${targets.length}`
          }}
        </NButton>
        <NButton @click="emit('close')">Cancel</NButton>
      </div>
    </template>
  </DialogBox>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 50vh;
  overflow: auto;
}
.choice {
  display: grid;
  grid-template-columns: 110px 1fr auto;
  gap: 10px;
  width: 100%;
  padding: 6px 8px;
  border: 0;
  background: none;
  color: var(--ink);
  font: 13px/1.3 var(--narrow);
  text-align: left;
  cursor: pointer;
}
.choice:hover {
  background: var(--accent-soft);
}
.effect {
  display: grid;
  gap: 4px;
  font: 13px/1.4 var(--narrow);
}
.fault {
  color: var(--accent);
}
.actions {
  display: flex;
  gap: 8px;
}
</style>
