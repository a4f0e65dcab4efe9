<script setup lang="ts">
import {
  numbered,
  unusedOff,
  type DerivedModule,
  type DerivedStation,
  type ParameterEdit,
} from '@kataxis/core'
import { VGrid, type ColumnRegular, type HyperFunc, type VNode } from '@revolist/vue3-datagrid'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { plainChoices } from '../../parts/choices'
import { readPaste, writeCopy } from '../../parts/grid-clipboard'
import { takeEdit, takeRangeEdit, type GridCell } from '../../parts/grid-edits'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useGridRoles } from '../../parts/useGridRoles'
import { useTypedCells } from '../../parts/useTypedCells'
import { usePreferences } from '../../stores/preferences'
import { useProject } from '../../stores/project'
import { editOf, modulesOfType, typeColumns, typeRows, type TypeRow } from './type-rows'

/** One table of the parameters of all modules of a type: fill, paste, and what is other than most
 *  stands out. */
const props = defineProps<{ view: DerivedStation; module: DerivedModule; text: string }>()
const project = useProject()
const preferences = usePreferences()
const holder = ref<HTMLElement>()

const modules = computed(() => modulesOfType(project.derived!, props.view, props.module))
const shownColumns = computed(() =>
  typeColumns(project.catalog, props.view, props.module, props.text),
)
const byKey = computed(() => new Map(shownColumns.value.map((column) => [column.key, column])))
const rows = computed(() => typeRows(modules.value, shownColumns.value))
/** The commonest value of each column; cells that differ from it are marked. */
const usual = computed(
  () =>
    new Map(
      shownColumns.value.map(({ key }) => {
        const counts = new Map<string, number>()
        for (const { values } of rows.value)
          counts.set(values[key]!, (counts.get(values[key]!) ?? 0) + 1)
        return [key, [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '']
      }),
    ),
)
const source = computed(() => rows.value.map(({ values, ...row }) => ({ ...row, ...values })))
type GridRow = Omit<TypeRow, 'values'> & Record<string, unknown>

const template = (
  h: HyperFunc<VNode>,
  { model, prop }: { model: GridRow; prop: string | number },
) => h('span', { title: String(model[String(prop)] ?? '') }, String(model[String(prop)] ?? ''))
const columns = computed<ColumnRegular[]>(() => [
  {
    prop: 'station',
    name: 'Station',
    size: 120,
    readonly: true,
    pin: 'colPinStart',
    cellProperties: () => ({ class: { fixed: true } }),
  },
  {
    prop: 'slot',
    name: 'Slot',
    size: 66,
    readonly: true,
    pin: 'colPinStart',
    cellProperties: () => ({ class: { fixed: true } }),
  },
  ...shownColumns.value.map(({ key, heading }): ColumnRegular => ({
    prop: key,
    name: heading,
    size: Math.max(90, Math.min(260, heading.length * 7 + 16)),
    cellTemplate: template as never,
    cellProperties: ({ model }) => ({
      class: {
        chosen: (model as GridRow).chosen.has(key),
        differs: (model as GridRow)[key] !== usual.value.get(key),
      },
    }),
  })),
])

function run(cells: readonly { id: string; column: string; text: string }[]): void {
  const edits: ParameterEdit[] = []
  const faults: string[] = []
  for (const { id, column, text } of cells) {
    const known = byKey.value.get(column)
    const edit = known && editOf(id, known, text)
    if (typeof edit === 'string') faults.push(edit)
    else if (edit) edits.push(edit)
  }
  if (faults.length > 0)
    project.tell(
      `${faults[0]}${faults.length > 1 ? ` ${faults.length - 1} more cells were left as they are.` : ''}`,
    )
  if (edits.length > 0) project.run({ type: 'setParameters', edits })
}
const cellsOf = (cells: readonly GridCell<GridRow>[]) =>
  cells.map(({ row, column, text }) => ({ id: row.id, column, text }))
useGridRoles(holder)
const typed = useTypedCells<GridRow>(holder, (cells) => run(cellsOf(cells)))
function onEdit(event: Event) {
  typed.end()
  run(cellsOf(takeEdit(event)))
}
const onRangeEdit = (event: Event) => run(cellsOf(takeRangeEdit(event)))

/** Sets one column for every module at once. */
const whole = ref('')
const wholeText = ref('')
function setWhole(): void {
  if (whole.value !== '')
    run(rows.value.map(({ id }) => ({ id, column: whole.value, text: wholeText.value })))
}
const choices = computed(() =>
  Object.values(byKey.value.get(whole.value)?.row.parameter.texts ?? {}),
)
const unused = computed(() =>
  [...new Set(modules.value.map(({ view }) => view))]
    .flatMap((view) => unusedOff(project.catalog, view, project.plan!.project.meanings))
    .filter(({ moduleId }) => modules.value.some(({ module }) => module.id === moduleId)),
)
</script>

<template>
  <div class="many">
    <div class="tools">
      <span
        >{{ numbered(rows.length, 'module') }} of this type,
        {{ shownColumns.length }} parameters</span
      >
      <PickField
        v-model:value="whole"
        label="Parameter to set for all"
        :options="[
          { value: '', label: 'Set for all …' },
          ...shownColumns.map((column) => ({ value: column.key, label: column.heading })),
        ]"
      />
      <template v-if="whole">
        <PickField
          v-if="choices.length > 0"
          v-model:value="wholeText"
          label="Value for all"
          :options="plainChoices(choices)"
        />
        <TextField v-else v-model:value="wholeText" label="Value for all" mono />
        <NButton size="small" @click="setWhole">Set {{ rows.length }}</NButton>
      </template>
      <NButton
        v-if="unused.length > 0"
        size="small"
        @click="project.run({ type: 'setParameters', edits: unused })"
      >
        Switch {{ unused.length }} unused channels off
      </NButton>
    </div>
    <div ref="holder" class="grid sheet-grid" data-testid="type-grid">
      <VGrid
        :source="source as never"
        :columns="columns"
        :theme="preferences.theme === 'dark' ? 'darkCompact' : 'compact'"
        :range="true"
        :resize="true"
        :row-size="26"
        :filter="false"
        hide-attribution
        @beforeeditstart="typed.begin"
        @beforeedit="onEdit"
        @beforerangeedit="onRangeEdit"
        @beforepasteapply="readPaste"
        @beforecopyapply="writeCopy"
      />
    </div>
    <p class="keys">
      Type a value or its words, paste a range, pull the corner. Bold: other than the description.
      Marked at the left: other than most. Empty: as the description says.
    </p>
  </div>
</template>

<style scoped>
.many {
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr);
  min-height: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  padding: 8px 18px;
  font: 13px/1.3 var(--narrow);
}
.tools :is(.text-field, .number-field, .n-select) {
  width: 230px;
}
.grid {
  min-height: 0;
  border-top: 1px solid var(--line);
}
.keys {
  font: 12px/1 var(--narrow);
  color: var(--ink-3);
  padding: 7px 18px;
  border-top: 1px solid var(--line);
}
.grid :deep(.rgCell.chosen) {
  font-weight: 600;
}
.grid :deep(.rgCell.differs) {
  box-shadow: inset 3px 0 0 var(--accent);
}
</style>
