<script setup lang="ts">
import {
  bitAddressOf,
  channelAddress,
  deviceNotations,
  formatAddress,
  isFixed,
  kindOfChannel,
  newId,
  placeInFrames,
  placeOf,
  placeText,
  readTyped,
  signalOn,
  wordExtent,
  wordStart,
  type Channel,
  type DataBlock,
  type DerivedModule,
  type DerivedStation,
  type NotationName,
} from '@kataxis/core'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { tableChoices } from '../../../parts/choices'
import EditField from '../../../parts/EditField.vue'
import LockedPart from '../../../parts/LockedPart.vue'
import PickField from '../../../parts/PickField.vue'
import TypedInput from '../../../parts/TypedInput.vue'
import { useGrowing } from '../../../parts/useGrowing'
import { useFocus } from '../../../stores/focus'
import { useGuard } from '../../../stores/guard'
import { useProject } from '../../../stores/project'
import OctetSection from './OctetSection.vue'

/** Addresses, channels and tags of a module, or of a head's own data. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule; notation: NotationName }>()
const project = useProject()
const { goTo } = useFocus()
const channels = computed(() =>
  (props.module.layout?.channels ?? []).map((channel) => {
    const place = channelAddress(props.module, channel)
    const frames =
      countedIn.value === 'controller' ? null : placeInFrames(props.view, props.module, channel)
    const bit = frames?.[countedIn.value === 'station' ? 'station' : 'module']
    const address =
      countedIn.value === 'controller'
        ? place
          ? formatAddress(place, props.notation)
          : '–'
        : bit === undefined
          ? '–'
          : `${bit >> 3}${channel.bits < 8 ? `.${bit & 7}` : ''}`
    return {
      channel,
      address,
      register:
        deviceNotations['register']?.format(props.view, { module: props.module, channel }) ?? null,
      signal: signalOn(props.module, channel),
    }
  }),
)
const hasRegisters = computed(() => channels.value.some(({ register }) => register !== null))
/** The same place in three ways of counting. */
const countedIn = ref<'controller' | 'station' | 'module'>('controller')
const countings = {
  controller: 'the controller’s image',
  station: 'the station’s data',
  module: 'the module’s data',
} as const
/** A field for every tag takes longer than the rest of the sheet; the first ones stand at once. */
const drawn = useGrowing(
  computed(() => props.module.id),
  () => channels.value.length,
  5,
  8,
)
const guard = useGuard()
const isLocked = computed(() => guard.whyNotModule(props.view, props.module) !== null)
const isInside = computed(() =>
  props.view.inside.some(({ module }) => module.id === props.module.id),
)

function setTag(channel: Channel, tag: string) {
  const signal = signalOn(props.module, channel)
  project.run({
    type: 'editSignals',
    edits: [
      {
        id: signal?.id ?? newId(),
        place: { moduleId: props.module.id, ...placeOf(channel) },
        tag,
      },
    ],
  })
}
/** Where a block begins, typed as the controller writes it. */
function setPlace({ subslot, direction }: DataBlock, text: string) {
  const place = readTyped(text, props.notation, direction)
  const example = wordStart(direction, 64, 16, props.notation)
  if (!place)
    return project.tell(
      `"${text}" is no ${direction === 'in' ? 'input' : 'output'} address of this controller; type one such as ${example}.`,
    )
  project.run({
    type: 'setAddress',
    moduleId: props.module.id,
    subslot,
    direction,
    byte: place.byte,
    bit: place.bit,
  })
}
const placedBlock = (block: DataBlock) =>
  [...props.view.blocks, ...props.view.inside].find(
    (one) =>
      one.module.id === props.module.id &&
      one.block.subslot === block.subslot &&
      one.block.direction === block.direction,
  )
function startOf({ direction, subslot, bytes }: DataBlock): string {
  const bit = bitAddressOf(props.module.addresses, subslot, direction)
  return bit === null ? '' : wordStart(direction, bit, bytes * 8, props.notation)
}
function setFixed({ subslot, direction }: DataBlock, fixed: boolean) {
  const bit = bitAddressOf(props.module.addresses, subslot, direction)
  if (bit !== null)
    project.run({
      type: 'setAddress',
      moduleId: props.module.id,
      subslot,
      direction,
      byte: bit >> 3,
      bit: bit & 7,
      fixed,
    })
}
const labelOf = ({ subslot, direction }: DataBlock) => {
  const isOneOfMany =
    props.module.layout!.blocks.filter((block) => block.direction === direction).length > 1
  return `${direction === 'in' ? 'Inputs' : 'Outputs'}${isOneOfMany ? ` of ${subslot}` : ''} from`
}
const rangeOf = (block: DataBlock) => {
  const placed = placedBlock(block)
  return placed
    ? wordExtent(block.direction, placed.byte * 8 + placed.bit, placed.bits, props.notation)
    : 'no address'
}
</script>

<template>
  <section v-if="module.layout && module.layout.blocks.length > 0">
    <div class="titled">
      <h2>Addresses</h2>
      <NButton
        size="small"
        @click="goTo('layout', { kind: module.row ? 'module' : 'station', id: module.id })"
      >
        Name the data …
      </NButton>
    </div>
    <LockedPart :why="guard.whyNotModule(view, module)">
      <div
        v-for="block in module.layout.blocks"
        :key="`${block.subslot}${block.direction}`"
        class="block"
      >
        <span v-if="isInside" class="label">{{ labelOf(block) }}</span>
        <EditField
          v-else
          :label="labelOf(block)"
          :value="startOf(block)"
          mono
          @change="setPlace(block, $event)"
        />
        <span class="quiet"
          >{{ rangeOf(block)
          }}<NCheckbox
            v-if="!isInside"
            class="hold"
            :checked="isFixed(module.addresses, block.subslot, block.direction)"
            @update:checked="setFixed(block, $event)"
            ><span class="sr">{{ labelOf(block) }}: </span>hold it there</NCheckbox
          ></span
        >
      </div>
    </LockedPart>
  </section>
  <section v-if="channels.length > 0">
    <div class="titled">
      <h2>Channels and data items</h2>
      <PickField
        v-model:value="countedIn"
        label="Addresses are counted in"
        class="counting"
        :options="tableChoices(countings, (words) => `in ${words}`)"
      />
    </div>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Address</th>
          <th
            v-if="hasRegisters"
            scope="col"
            title="As the device counts: from 0 in the request, and as reference from 1"
          >
            Register
          </th>
          <th scope="col">Kind</th>
          <th scope="col">In the description</th>
          <th scope="col">Tag</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="{ channel, address, register, signal } in channels.slice(0, drawn)"
          :key="placeText(channel)"
        >
          <td class="mono">{{ address }}</td>
          <td v-if="hasRegisters" class="mono register">{{ register }}</td>
          <td>{{ kindOfChannel(channel) }}</td>
          <td>
            {{ channel.name }}<span v-if="channel.bits > 1" class="type">{{ channel.type }}</span
            ><span v-if="channel.statusOf" class="type">quality of {{ channel.statusOf }}</span>
          </td>
          <td class="tag">
            <TypedInput
              :label="`Tag of ${channel.name}`"
              mono
              size="small"
              :disabled="isLocked"
              :value="signal?.tag ?? ''"
              :title="signal?.comment"
              @change="setTag(channel, $event.trim())"
            />
          </td>
        </tr>
      </tbody>
    </NTable>
  </section>
  <OctetSection :view="view" :module="module" />
</template>

<style scoped>
.titled {
  display: flex;
  justify-content: space-between;
}
.counting {
  width: 190px;
}
.hold {
  margin-left: 10px;
  white-space: nowrap;
}
section {
  display: grid;
  gap: 10px;
}
.block {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 10px;
  align-items: end;
  font: 12.5px/2.2 var(--narrow);
}
.type {
  display: block;
  color: var(--ink-3);
  font-size: 11.5px;
}
.register {
  font-size: 11px;
}
.tag {
  padding: 1px 0;
  width: 45%;
}
</style>
