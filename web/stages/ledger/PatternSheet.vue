<script setup lang="ts">
import {
  fillPattern,
  isSwitchedOff,
  judgeOfTags,
  kindOfChannel,
  numbered,
  patternFields,
  plural,
} from '@kataxis/core'
import { NButton, NTable, NCollapse, NCollapseItem } from 'naive-ui'
import { computed, ref } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import { useSession } from '../../stores/session'
import type { LedgerRow } from './rows'
import { useLedgerEdits } from './useLedgerEdits'

const props = defineProps<{ rows: readonly LedgerRow[] }>()
const emit = defineEmits<{ done: [] }>()
const project = useProject()
const session = useSession()
const edit = useLedgerEdits()
const pattern = ref('{station:->_:u}_{kind}{slot:02}_{channel:02}')
/** Of the counter `{n}`. */
const start = ref(1)
const step = ref(1)

/** Tags on fail-safe channels reach the safety program: only who may change that names them. */
const isForbidden = ({ listed }: LedgerRow) =>
  listed?.channel.safety === true && !session.may('safety')
/** What is switched off gets no name; one that stands there is a finding and may be changed. */
const isIdle = ({ listed, signalId }: LedgerRow) =>
  listed !== null &&
  signalId === null &&
  isSwitchedOff(
    project.catalog,
    listed.view,
    listed.module,
    listed.channel,
    project.plan!.project.meanings,
  )
const forbidden = computed(() => props.rows.filter(isForbidden))
const idle = computed(() => props.rows.filter((row) => !isForbidden(row) && isIdle(row)))
const named = computed(() => {
  const without = new Set([...forbidden.value, ...idle.value])
  return props.rows.filter((row) => !without.has(row))
})
const preview = computed(() => {
  const own = new Set(props.rows.flatMap(({ signalId }) => (signalId === null ? [] : [signalId])))
  const judge = judgeOfTags(project.plan!, own)
  return named.value.map((row, i) => {
    const { view, module, channel, number } = row.listed!
    const result = fillPattern(
      pattern.value,
      {
        station: view.station.name,
        network: project.plan!.networks[view.station.networkId]?.name ?? '',
        slot: module.slot,
        subslot: channel.subslot,
        channel: number,
        name: channel.name,
        kind: kindOfChannel(channel),
        terminal: row.terminal,
        tag: row.tag,
        signal: row.comment,
        area: row.facts.area ?? '',
        designation: row.facts.designation ?? '',
      },
      Number(start.value) + Number(step.value) * i,
    )
    if ('fault' in result) return { row, tag: '', fault: result.fault }
    return { row, tag: result.text, fault: judge(result.text) }
  })
})
const faulty = computed(() => preview.value.filter(({ fault }) => fault !== null))
const changed = computed(() => preview.value.filter(({ row, tag }) => tag !== row.tag).length)
const sample = computed(() => [
  ...new Set([...preview.value.slice(0, 8), ...faulty.value.slice(0, 12)]),
])

function take() {
  if (edit(preview.value.map(({ row, tag }) => ({ row, column: 'tag', text: tag })))) emit('done')
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Ledger</h3>
      <h1>Names by pattern</h1>
      <p class="quiet">
        For {{ numbered(rows.length, 'channel') }}: the rows you selected, or all free ones shown.
      </p>
      <p v-if="forbidden.length > 0" role="note">
        {{ forbidden.length }} fail-safe
        {{ plural(forbidden.length, 'channel is', 'channels are') }} left out.
        {{ session.whyNot('safety') }}
      </p>
      <p v-if="idle.length > 0" role="note">
        {{ numbered(idle.length, 'channel that is', 'channels that are') }} switched off
        {{ plural(idle.length, 'is', 'are') }} left out.
      </p>
    </header>
    <TextField v-model:value="pattern" label="Pattern" shown mono />
    <div class="counter">
      <NumberField
        :label="`${'{n}'} begins with`"
        shown
        :value="start"
        :step="1"
        @update:value="start = $event ?? 0"
      />
      <NumberField
        label="and goes on by"
        shown
        :value="step"
        :step="1"
        @update:value="step = $event ?? 1"
      />
    </div>
    <NCollapse
      ><NCollapseItem name="it" title="Fields">
        <ul class="fields">
          <li v-for="(words, name) in patternFields" :key="name">
            <code>{{ `{${name}\}` }}</code> {{ words }}
          </li>
          <li>
            <code>{slot:02}</code> pads numbers, <code>{n:*10:+90}</code> multiplies and adds,
            <code>{name:u}</code> upper case, <code>{name:l}</code> lower case,
            <code>{station:-&gt;_}</code> writes each - as _; one after the other with colons
          </li>
        </ul>
      </NCollapseItem></NCollapse
    >
    <section>
      <h2>
        {{ changed }} change<template v-if="faulty.length > 0"
          >, {{ faulty.length }} not as they should be</template
        >
      </h2>
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Channel</th>
            <th scope="col">Now</th>
            <th scope="col">Then</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ row, tag, fault } in sample" :key="row.key">
            <td>{{ row.station }} · {{ row.slot }} · {{ row.channel }}</td>
            <td class="mono quiet">{{ row.tag || '–' }}</td>
            <td>
              <span class="mono" :class="{ fault }">{{ tag || '–' }}</span><span
                v-if="fault"
                class="why"
              >
                {{ fault }}</span
              >
            </td>
          </tr>
        </tbody>
      </NTable>
      <p v-if="preview.length > sample.length" class="quiet">
        … and {{ preview.length - sample.length }} more
      </p>
    </section>
    <NButton type="primary" :disabled="named.length === 0 || faulty.length > 0" @click="take">
      Give {{ changed }} names
    </NButton>
  </div>
</template>

<style scoped>
.counter {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.fields {
  margin: 6px 0 0;
  padding-left: 18px;
  font: 12.5px/1.5 var(--narrow);
}
code {
  font: 12px/1 var(--mono);
}
.fault {
  text-decoration: underline wavy var(--accent);
}
.why {
  color: var(--accent);
}
</style>
