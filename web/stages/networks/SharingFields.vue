<script setup lang="ts">
import {
  kindOf,
  redundancies,
  sharingOf,
  type DerivedStation,
  type StationSettingsEdit,
} from '@kataxis/core'
import { computed } from 'vue'
import { plainChoices } from '../../parts/choices'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'

/** Which controllers have to do with a station: one, two that stand for each other, or several that
 *  share it. */
const props = defineProps<{ view: DerivedStation; disabled: boolean }>()
const project = useProject()
const derived = computed(() => project.derived!)
const sharing = computed(() => sharingOf(props.view.station))
const redundancy = computed(() =>
  'redundancy' in props.view.station.settings ? props.view.station.settings : null,
)
const nothing = 'none'
const own = computed(() => derived.value.plan.networks[props.view.station.networkId]!)
/** Networks of the same kind at other controllers. */
const others = computed(() =>
  Object.values(derived.value.plan.networks).filter(
    (one) => kindOf(one) === kindOf(own.value) && one.controllerId !== own.value.controllerId,
  ),
)
const controllers = computed(() => [
  { value: nothing, label: 'not chosen' },
  ...others.value.map(({ id, name, controllerId }) => ({
    value: id,
    label: `${derived.value.plan.controllers[controllerId]?.name ?? ''} · ${name}`,
  })),
])
/** Stations of other controllers on the same head, which may be this device. */
const devices = computed(() => [
  { value: nothing, label: 'a device of its own' },
  ...[...derived.value.stations.values()]
    .filter(
      ({ id, station }) =>
        id !== props.view.id &&
        station.file === props.view.station.file &&
        station.device === props.view.station.device &&
        sharingOf(station).sharedWith === '' &&
        others.value.some((network) => network.id === station.networkId),
    )
    .map(({ id, station }) => ({
      value: id,
      label: `${station.name || '(no name)'} of ${derived.value.plan.networks[station.networkId]!.name}`,
    })),
])
const set = (settings: StationSettingsEdit) =>
  project.run({ type: 'updateStation', id: props.view.id, set: { settings } })
</script>

<template>
  <section v-if="redundancy && others.length > 0" class="fields">
    <PickField
      shown
      size="small"
      label="System redundancy"
      :value="redundancy.redundancy"
      :options="plainChoices(redundancies)"
      :disabled="disabled"
      @update:value="set({ redundancy: $event as 'S1' })"
    />
    <PickField
      v-if="redundancy.redundancy !== 'S1'"
      shown
      size="small"
      label="Second controller"
      :value="redundancy.secondController || nothing"
      :options="controllers"
      :disabled="disabled"
      @update:value="set({ secondController: $event === nothing ? '' : $event })"
    />
    <PickField
      v-if="devices.length > 1 || sharing.sharedWith"
      shown
      size="small"
      label="Shared device"
      :value="sharing.sharedWith || nothing"
      :options="devices"
      :disabled="disabled"
      @update:value="set({ sharedWith: $event === nothing ? '' : $event })"
    />
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
