<script setup lang="ts">
import { electricalOf, signalOn, wordBytes, wordElectrical, type Module } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed } from 'vue'
import FindingList from '../../../parts/FindingList.vue'
import { useNotation } from '../../../parts/useNotation'
import { useFocus } from '../../../stores/focus'
import { useGuard } from '../../../stores/guard'
import { useProject } from '../../../stores/project'
import ChannelSections from './ChannelSections.vue'
import ParameterSection from './ParameterSection.vue'
import SubslotSection from './SubslotSection.vue'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ replace: [] }>()
const project = useProject()
const guard = useGuard()
const notationIn = useNotation()
const { goTo } = useFocus()
const found = computed(() => {
  for (const view of project.derived!.stations.values()) {
    const module = view.modules.find(({ id, row }) => row && id === props.id)
    if (module) return { view, module }
  }
  throw new Error('the sheet is open for a module that is not there')
})
const view = computed(() => found.value.view)
const module = computed(() => found.value.module)
const why = computed(() => guard.whyNotModule(view.value, module.value))
const described = computed(() => module.value.described as Module | null)
const electrical = computed(() => wordElectrical(electricalOf(described.value)))
const allowed = computed(
  () =>
    view.value.device?.slots
      .filter(({ allowed: keys }) => described.value && keys.includes(described.value.key))
      .map(({ slot }) => slot) ?? [],
)
/** What its sheet says about its place on the rail, in words. */
const placing = computed(() => {
  const { placement, changesRunning } = described.value ?? {}
  const running = changesRunning ? 'its type may be changed while the station runs' : ''
  if (!placement) return running
  const parts = [
    placement.widthMm > 0 ? `${placement.widthMm} mm wide` : '',
    placement.firstOfKind ? 'stands first' : '',
    placement.lastOfKind ? 'stands last' : '',
    placement.nextToHead ? 'stands next to the head' : '',
    placement.requiresBefore.length > 0
      ? `needs ${placement.requiresBefore.join(' and ')} before it`
      : '',
    placement.maxModules === null ? '' : `at most ${placement.maxModules} in a station`,
    placement.maxAfterExtension === null
      ? ''
      : `makes room for ${placement.maxAfterExtension} modules behind it`,
    placement.fieldSupplyMa > 0
      ? `feeds ${placement.fieldSupplyMa} mA into a new potential group`
      : placement.fieldCurrentMa > 0
        ? `draws ${placement.fieldCurrentMa} mA of its group`
        : '',
    running,
  ]
  return parts.filter(Boolean).join(', ')
})
/** The tag on the channel that a terminal belongs to. */
function tagOf(name: string): string {
  const channel =
    name === '' ? undefined : module.value.layout?.channels.find((one) => one.name === name)
  return channel ? (signalOn(module.value, channel)?.tag ?? '') : ''
}
const findingIds = computed(() => [
  props.id,
  ...[...module.value.signals.values()].map(({ id }) => id),
])
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>{{ view.station.name }} · slot {{ module.slot }}</h3>
      <h1>{{ described?.name ?? module.row!.module }}</h1>
      <p v-if="described" class="quiet">
        <span class="mono">{{ described.orderNumber }}</span> · {{ described.category }} ·
        {{ wordBytes(module.layout ?? described) }}
      </p>
      <p v-if="described?.info">{{ described.info }}</p>
    </header>
    <FindingList :ids="findingIds" />
    <SubslotSection :view="view" :module="module" />
    <ChannelSections :view="view" :notation="notationIn(view.station)" :module="module" />
    <ParameterSection :view="view" :module="module" />
    <p v-if="electrical.length > 0" class="quiet">A channel {{ electrical.join(', ') }}.</p>
    <section v-if="described?.terminals" aria-label="Terminals">
      <h2>Terminals</h2>
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">No.</th>
            <th scope="col">Function</th>
            <th scope="col">Channel</th>
            <th scope="col">Tag</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in described.terminals" :key="one.terminal">
            <td class="mono">{{ one.terminal }}</td>
            <td>{{ one.function }}</td>
            <td>{{ one.channel }}</td>
            <td class="mono">{{ tagOf(one.channel) }}</td>
          </tr>
        </tbody>
      </NTable>
    </section>
    <section>
      <h2>Limits</h2>
      <p>
        The description allows it in
        {{
          allowed.length === 0
            ? 'no slot'
            : `${allowed.length} slots, ${allowed[0]} to ${allowed.at(-1)}`
        }}
        of this head.
      </p>
      <p v-if="placing">{{ placing }}</p>
      <p v-if="described?.ident !== null" class="quiet">
        Module ident
        <span class="mono">0x{{ described?.ident?.toString(16).padStart(8, '0') }}</span>
      </p>
    </section>
    <div class="row">
      <NButton
        v-if="(module.layout?.blocks.length ?? 0) > 0"
        size="small"
        @click="goTo('memory', { kind: 'module', id })"
      >
        Show in the memory
      </NButton>
      <NButton size="small" :disabled="why !== null" :title="why ?? ''" @click="emit('replace')">
        Another type …
      </NButton>
      <NButton
        size="small"
        :disabled="why !== null"
        :title="why ?? ''"
        @click="project.run({ type: 'removeModules', ids: [id] })"
      >
        Remove the module
      </NButton>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
}
</style>
