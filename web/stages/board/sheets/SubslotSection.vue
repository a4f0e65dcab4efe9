<script setup lang="ts">
import {
  setPortCommand,
  sizeOfDevice,
  submoduleFor,
  subslotsOf,
  wordBytes,
  type DerivedModule,
  type DerivedStation,
  type SubslotView,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../../parts/DialogBox.vue'
import PickField from '../../../parts/PickField.vue'
import { useFocus } from '../../../stores/focus'
import { useProject } from '../../../stores/project'
import { useShelf } from '../../../stores/shelf'
import DeviceBelow from '../dialogs/DeviceBelow.vue'
import type { Head } from '../dialogs/HeadPicker.vue'

/** What is plugged into the subslots of a head or module, and the devices below its ports. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule }>()
const project = useProject()
const shelf = useShelf()
const { goTo } = useFocus()
const subslots = computed(() => subslotsOf(project.derived!.catalog, props.view, props.module))
const picking = ref<SubslotView | null>(null)

const set = (port: SubslotView, submodule: string, below: SubslotView['below']) =>
  project.run(setPortCommand(props.module.id, port, { submodule, below }))
const plug = (port: SubslotView, submodule: string) =>
  set(port, submodule, submodule === '' ? null : port.below)
/** Below a port that is too narrow the smallest that has room is plugged with it. */
async function putBelow(port: SubslotView, { sha256, key }: Pick<Head, 'sha256' | 'key'>) {
  picking.value = null
  await shelf.need([sha256])
  const device = shelf.catalogs.get(sha256)?.devices.find((one) => one.key === key)
  if (!device || !props.module.described) return
  const needs = sizeOfDevice(device)
  const isWide =
    port.isPort &&
    port.size.inputBytes >= needs.inputBytes &&
    port.size.outputBytes >= needs.outputBytes
  const wider =
    isWide || port.isFixed
      ? null
      : submoduleFor(props.view.file, props.module.described, port.subslot, needs)
  set(port, wider?.key ?? port.submodule, { file: sha256, device: key })
}
</script>

<template>
  <section v-if="subslots.length > 0">
    <div class="titled">
      <h2>Subslots and ports</h2>
      <NButton
        size="small"
        @click="goTo('ports', { kind: module.row ? 'module' : 'station', id: module.id })"
      >
        All ports …
      </NButton>
    </div>
    <ul>
      <li v-for="port in subslots" :key="port.key">
        <span class="number mono">{{ port.subslot }}</span>
        <PickField
          v-if="port.allowed.length > 0 && !port.isFixed"
          :label="`In subslot ${port.subslot}`"
          :value="port.submodule"
          :options="[
            { value: '', label: 'empty' },
            ...port.allowed.map((one) => ({
              value: one.key,
              label: `${one.name} · ${wordBytes(one)}`,
            })),
          ]"
          @update:value="plug(port, $event)"
        />
        <span v-else
          >{{ port.name }}
          <small>{{ wordBytes(port.size) }}{{ port.within ? '' : ', built in' }}</small></span
        >
        <span v-if="port.below" class="device">
          <span class="corner" aria-hidden="true">└</span
          ><strong>{{ port.device?.name ?? port.below.device }}</strong>
          <small v-if="port.data">{{ wordBytes(port.data) }}</small>
          <NButton
            size="small"
            :aria-label="`Take the device off subslot ${port.subslot}`"
            @click="set(port, port.submodule, null)"
          >
            Take off
          </NButton>
        </span>
        <NButton
          v-else-if="port.isPort || port.allowed.length > 0"
          size="small"
          class="below"
          :aria-label="`Put a device below subslot ${port.subslot}`"
          @click="picking = port"
        >
          Device below …
        </NButton>
      </li>
    </ul>
    <DialogBox
      v-if="picking"
      :title="`The device below subslot ${picking.subslot}`"
      @close="picking = null"
    >
      <DeviceBelow @take="putBelow(picking, $event)" @close="picking = null" />
    </DialogBox>
  </section>
</template>

<style scoped>
.titled {
  display: flex;
  justify-content: space-between;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr) auto;
  gap: 5px 10px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
  font: 13px/1.3 var(--narrow);
}
.number {
  color: var(--ink-2);
}
.below {
  justify-self: end;
}
.device {
  grid-column: 2 / -1;
  grid-row: 2;
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.device .n-button {
  margin-left: auto;
}
.corner {
  color: var(--ink-3);
}
small {
  color: var(--ink-2);
}
</style>
