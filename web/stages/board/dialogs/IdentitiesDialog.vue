<script setup lang="ts">
import {
  createChecker,
  identityEdit,
  identityFields,
  identityOf,
  kindOf,
  numbered,
  numberOf,
  proposeIdentities,
  rolePatternOf,
  type Command,
  type DerivedStation,
  type Identity,
} from '@kataxis/core'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import DialogBox from '../../../parts/DialogBox.vue'
import NumberField from '../../../parts/NumberField.vue'
import TextField from '../../../parts/TextField.vue'
import { useProject } from '../../../stores/project'

/** New names, addresses and numbers for many stations of a network, shown as old and new before
 *  anything changes. */
const props = defineProps<{ networkId: string }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const network = computed(() => project.plan!.networks[props.networkId]!)
const kind = computed(() => kindOf(network.value))
const all = computed(
  () =>
    project
      .derived!.controllers.flatMap(({ networks }) => networks)
      .find((one) => one.network.id === props.networkId)!.stations,
)
const left = ref<ReadonlySet<string>>(new Set())
const chosen = computed(() => all.value.filter(({ id }) => !left.value.has(id)).map(({ id }) => id))
function toggle(id: string): void {
  const next = new Set(left.value)
  if (!next.delete(id)) next.add(id)
  left.value = next
}
const first = all.value[0] && numberOf(network.value, all.value[0].station)
const wish = reactive({
  start: network.value.pool?.first ?? first ?? kind.value.number.start,
  step: network.value.pool?.step ?? 1,
  namePattern: network.value.namePattern,
  rolePattern: rolePatternOf(network.value),
  setsIp: kind.value.hasIp === true,
  setsNumber: !kind.value.hasIp || network.value.tied,
})
const checker = createChecker()
const proposal = computed(() =>
  proposeIdentities(
    project.plan!,
    project.derived!.catalog,
    props.networkId,
    chosen.value,
    {
      ...wish,
      start: Math.max(0, Math.trunc(Number(wish.start) || 0)),
      step: Math.max(1, Math.trunc(Number(wish.step) || 1)),
    },
    checker,
  ),
)
const columns = computed(
  () =>
    [
      { key: 'name', label: 'Name' },
      ...(kind.value.hasIp ? [{ key: 'ip', label: 'IP address' }] : []),
      { key: 'deviceNumber', label: kind.value.number.word },
      ...('rolePattern' in network.value.settings ? [{ key: 'roleName', label: 'Role name' }] : []),
    ] as readonly { key: keyof Identity; label: string }[],
)
const byId = computed(() => new Map(proposal.value.changes.map((change) => [change.id, change])))
const differing = computed(() =>
  proposal.value.changes.filter(({ before, after }) =>
    columns.value.some(({ key }) => before[key] !== after[key]),
  ),
)
const faulty = computed(() => differing.value.filter(({ faults }) => faults.length > 0).length)
const changed = ({ id, station }: DerivedStation, key: keyof Identity) => {
  const after = byId.value.get(id)?.after
  return after !== undefined && after[key] !== identityOf(station)[key]
}
const wordOf = ({ station }: DerivedStation, key: keyof Identity) => {
  const value = identityOf(station)[key]
  return value === '' ? '–' : value
}
const mostShown = 100
function take(): void {
  const commands = differing.value.map(({ id, after }) => ({
    type: 'updateStation' as const,
    id,
    set: identityEdit(after, project.plan!.stations[id]!.station),
  }))
  const command: Command = {
    type: 'batch',
    label: `Gave ${commands.length} stations on ${network.value.name} new identities`,
    commands,
  }
  if (project.run(command)) emit('close')
}
</script>

<template>
  <DialogBox :title="`Identities on ${network.name}`" wide @close="emit('close')">
    <form class="form" @submit.prevent="take">
      <div class="fields">
        <NumberField v-model:value="wish.start" label="Numbers from" shown :min="0" />
        <NumberField v-model:value="wish.step" label="in steps of" shown :min="1" />
        <TextField
          v-model:value="wish.namePattern"
          class="grow"
          label="Names, empty: they stay"
          shown
          mono
          placeholder="intake-{n:03}"
        />
        <TextField
          v-if="'rolePattern' in network.settings"
          v-model:value="wish.rolePattern"
          class="grow"
          label="Role names of those served"
          shown
          mono
          placeholder="{order}-{n:03}"
        />
      </div>
      <p class="quiet">
        <template v-for="(words, name) in identityFields" :key="name"
          ><code>{{ `{${name}\}` }}</code> {{ words }} · </template
        ><code>{n:03}</code> pads. Reserved numbers and those of other stations are left out.
      </p>
      <div class="checks">
        <NCheckbox v-if="kind.hasIp" v-model:checked="wish.setsIp"
          >the last octet follows the number</NCheckbox
        >
        <NCheckbox v-if="!kind.number.isUnit" v-model:checked="wish.setsNumber"
          >the
          {{ kind.number.word.toLowerCase() }}
          {{ kind.hasIp ? 'follows it too' : 'follows it' }}</NCheckbox
        >
      </div>
      <p v-if="proposal.fault" class="fault" role="alert">{{ proposal.fault }}</p>
      <div class="rows" tabindex="0" role="region" aria-label="Old and new">
        <NTable size="small" :bordered="false">
          <thead>
            <tr>
              <th scope="col"><span class="sr">Included</span></th>
              <th v-for="column in columns" :key="column.key" scope="col">{{ column.label }}</th>
              <th scope="col">To be seen to</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="view in all.slice(0, mostShown)" :key="view.id">
              <td>
                <NCheckbox
                  :checked="!left.has(view.id)"
                  :aria-label="`Include ${view.station.name}`"
                  @update:checked="toggle(view.id)"
                ></NCheckbox>
              </td>
              <td v-for="{ key } in columns" :key="key" class="mono">
                <template v-if="changed(view, key)"
                  ><s class="quiet">{{ identityOf(view.station)[key] || '–' }}</s>
                  <strong>{{ byId.get(view.id)!.after[key] }}</strong></template
                ><template v-else>{{ wordOf(view, key) }}</template>
              </td>
              <td class="fault">{{ byId.get(view.id)?.faults.join(' ') }}</td>
            </tr>
          </tbody>
        </NTable>
        <p v-if="all.length > mostShown" class="quiet">and {{ all.length - mostShown }} more</p>
      </div>
      <div class="actions">
        <NButton
          type="primary"
          attr-type="submit"
          :disabled="differing.length === 0 || proposal.fault !== null"
        >
          Change {{ numbered(differing.length, 'station') }}
        </NButton>
        <NButton @click="emit('close')">Cancel</NButton>
        <span v-if="faulty > 0" class="fault">{{ faulty }} of them would show as findings.</span>
      </div>
    </form>
  </DialogBox>
</template>

<style scoped>
.checks {
  display: flex;
  gap: 10px;
}
.rows {
  max-height: 42vh;
  overflow: auto;
}
code {
  font: 12px/1 var(--mono);
}
</style>
