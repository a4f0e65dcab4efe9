<script setup lang="ts" generic="R extends object">
import { NDataTable, type DataTableColumn } from 'naive-ui'
import {
  computed,
  nextTick,
  onMounted,
  onUpdated,
  ref,
  type ComponentPublicInstance,
  type VNodeChild,
} from 'vue'
import { compareNatural, type RowColumn } from './row-table'

/** Rows that are sorted by a click on a heading, narrowed down by the choices of a column, and of
 *  which only those are drawn that can be seen. What stands in a cell is the slot of its column's
 *  key, else its text. */
const props = defineProps<{
  label: string
  rows: readonly R[]
  columns: readonly RowColumn<R>[]
  keyOf: (row: R) => string
  /** Height from which the rows scroll by themselves, or `fill` for all that the table is given;
   *  left out, they stand in full length. */
  height?: number | string
  /** Columns keep their widths and are scrolled sideways. */
  wide?: boolean
  /** Said where there is no row. */
  empty?: string
  classOf?: (row: R) => string
}>()
const slots = defineSlots<Record<string, (given: { row: R }) => VNodeChild>>()
const width = computed(() => props.columns.reduce((sum, one) => sum + (one.width ?? 120), 0))
const isLong = computed(() => props.rows.length > 60 && props.height !== undefined)

const columns = computed(() =>
  props.columns.map((column): DataTableColumn<R> => {
    const { key, title, text, width, isMono, isNumber, choices } = column
    const words = text ?? ((row: R) => String(row[key as keyof R] ?? ''))
    const sorts = column.sorts ?? words
    return {
      key,
      title,
      ...(width !== undefined && { width }),
      ...(isNumber && { align: 'right' as const }),
      ...(isMono && { cellProps: () => ({ class: 'mono' }) }),
      ...(column.isFixed !== true && {
        sorter: (a: R, b: R) => compareNatural(sorts(a), sorts(b)),
      }),
      ...(choices && {
        filterOptions: [...new Set(props.rows.map(words))]
          .filter((value) => value !== '')
          .sort(compareNatural)
          .map((value) => ({ label: value, value })),
        filter: (value: unknown, row: R) => words(row) === value,
      }),
      render: (row: R) => slots[key]?.({ row }) ?? words(row),
    }
  }),
)
/** What scrolls is reached by the keyboard too; the table's own rows are not focused. */
const table = ref<ComponentPublicInstance>()
const reach = () =>
  (table.value?.$el as HTMLElement | undefined)
    ?.querySelectorAll<HTMLElement>(
      '.v-vl, .n-scrollbar-container, .n-data-table-base-table-header',
    )
    .forEach((region) => (region.tabIndex = 0))
onMounted(() => void nextTick(reach))
onUpdated(() => void nextTick(reach))
const rowProps = (row: R) => ({ class: props.classOf?.(row) ?? '' })
</script>

<template>
  <NDataTable
    ref="table"
    class="row-table"
    size="small"
    :bordered="false"
    :single-column="false"
    :columns="columns"
    :data="rows as R[]"
    :row-key="keyOf"
    :row-props="rowProps"
    :max-height="height === 'fill' ? undefined : height"
    :flex-height="height === 'fill'"
    :class="{ fill: height === 'fill' }"
    :virtual-scroll="isLong"
    :scroll-x="wide ? width : undefined"
    :min-row-height="28"
    :aria-label="label"
  >
    <template #empty
      ><span class="quiet">{{ empty ?? 'Nothing to show.' }}</span></template
    >
  </NDataTable>
</template>

<style scoped>
.row-table {
  font-family: var(--narrow);
}
.fill {
  height: 100%;
  min-height: 0;
}
</style>
