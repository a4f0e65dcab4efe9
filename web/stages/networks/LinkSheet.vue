<script setup lang="ts">
import { media, wireCodes, type CommandOf, type WiredLink, type WiredNetwork } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import EditField from '../../parts/EditField.vue'
import FindingList from '../../parts/FindingList.vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'
import { mediumChoices, passivesOf, portWords, rateWords, shareWords } from './wire-words'

/** A link: its two ends, what the cable is, and what travels on it. */
const props = defineProps<{
  wired: WiredNetwork
  link: WiredLink
  isCut: boolean
  disabled: boolean
}>()
defineEmits<{ cut: [] }>()
const project = useProject()
const said = computed(() => props.link.link)
const reach = computed(() => media[said.value.medium].reachM)
const isKept = computed(() => props.wired.links[props.wired.wire.kept]?.id === props.link.id)
const set = (words: CommandOf<'updateLinks'>['edits'][number]['set']) =>
  project.run({ type: 'updateLinks', edits: [{ at: props.link.from, set: words }] })
/** What can be put into the link: what is linked nowhere yet, and other nodes of this network. */
const between = computed(() => {
  const ends = new Set([props.link.from.node, props.link.to.node])
  return [
    ...passivesOf(project.derived!, props.wired),
    ...props.wired.nodes.filter(({ id, view }) => view && !ends.has(id)),
  ].map(({ id, name }) => ({ value: id, label: name || '(no name)' }))
})
const remove = () => project.run({ type: 'unlinkPorts', ends: [props.link.from] })
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Link</h3>
      <h1>{{ said.label || portWords(wired, link.from) }}</h1>
      <p class="quiet">
        {{ portWords(wired, link.from) }} to {{ portWords(wired, link.to) }},
        {{ rateWords(wired.bitRate) }}
      </p>
      <p v-if="isKept" class="quiet">
        Kept closed by the manager of the ring: no frames pass here while all is well.
      </p>
    </header>
    <section v-if="link.towards !== null" class="load">
      <p>
        To the controller <strong>{{ shareWords(link.towards) }}</strong>
      </p>
      <p>
        From it <strong>{{ shareWords(link.away) }}</strong>
      </p>
    </section>
    <FindingList :ids="[link.from.node]" :codes="wireCodes" />
    <section>
      <PickField
        shown
        label="Medium"
        :value="said.medium"
        :options="mediumChoices"
        :disabled="disabled"
        @update:value="set({ medium: $event })"
      />
      <div class="pair">
        <NumberField
          shown
          optional
          label="Length"
          unit="m"
          :min="0"
          :max="100000"
          :placeholder="reach === null ? '' : `up to ${reach}`"
          :value="said.lengthM"
          :disabled="disabled"
          @update:value="set({ lengthM: $event })"
        />
        <NumberField
          shown
          label="Pairs of connectors"
          :min="0"
          :max="20"
          :value="said.connectors"
          :disabled="disabled"
          @update:value="set({ connectors: $event ?? 0 })"
        />
      </div>
      <div class="pair">
        <EditField label="Cable" :value="said.cable" @change="set({ cable: $event.trim() })" />
        <EditField label="Label" :value="said.label" @change="set({ label: $event.trim() })" />
      </div>
    </section>
    <PickField
      shown
      size="small"
      label="Put between its ends"
      placeholder="A switch, repeater or station …"
      :value="null"
      :options="between"
      :disabled="disabled"
      @update:value="project.run({ type: 'insertBetween', stationId: $event, at: link.from })"
    />
    <section class="actions">
      <NButton size="small" :type="isCut ? 'error' : 'default'" @click="$emit('cut')">
        {{ isCut ? 'Mend it again' : 'What if it is cut?' }}
      </NButton>
      <NButton size="small" :disabled="disabled" @click="remove">Remove the link</NButton>
    </section>
  </div>
</template>

<style scoped>
.load {
  grid-template-columns: 1fr 1fr;
}
.load strong {
  font: 600 17px/1.2 var(--mono);
  display: block;
}
</style>
