import type { ColumnRegular, HyperFunc, VNode } from '@revolist/vue3-datagrid'
import { useStorage } from '@vueuse/core'
import { computed, watch, type Ref } from 'vue'
import {
  deviceNotations,
  factColumns,
  notations,
  type DeviceNotationName,
  type NotationName,
} from '@kataxis/core'
import { useGuard } from '../../stores/guard'
import { useProject } from '../../stores/project'
import { useWhatIf } from '../../stores/what-if'
import {
  columnSets,
  doubledTags,
  isEditable,
  isFact,
  wordTagFault,
  type ColumnSet,
  type LedgerRow,
} from './rows'
import type { useShownRows } from './useShownRows'

export const rowSize = 26
/** What a second column of addresses may say. */
export const seconds: Readonly<Record<string, { readonly name: string; readonly label: string }>> =
  {
    ...notations,
    ...deviceNotations,
  }
const widths = {
  slot: ['Slot', 72],
  channel: ['Channel', 120],
  kind: ['Kind', 72],
  address: ['Image address', 124],
  address2: ['', 120],
  tag: ['Tag', 210],
  comment: ['Comment', 290],
  terminal: ['Terminal', 100],
  range: ['Range', 96],
  type: ['Type', 90],
  module: ['Module', 210],
} as const

interface Look {
  readonly set: Readonly<Ref<ColumnSet>>
  readonly second: Readonly<Ref<NotationName | DeviceNotationName | ''>>
  readonly order: ReturnType<typeof useShownRows>['order']
  /** Draws the cells anew, since findings have changed. */
  readonly refresh: () => void
}

/** The columns of the Ledger, what their cells look like, and who may change them. */
export function useLedgerColumns({ set, second, order, refresh }: Look) {
  const project = useProject()
  /** Columns keep the width that somebody gave them, in this browser. */
  const ownWidths = useStorage<Record<string, number>>('kataxis.ledger-widths', {})
  function onResize(event: Event) {
    const { detail } = event as CustomEvent<
      Record<number, { prop?: string | number; size?: number }>
    >
    for (const { prop, size } of Object.values(detail))
      if (prop !== undefined && size) ownWidths.value = { ...ownWidths.value, [prop]: size }
  }

  /** The gravest finding about each signal. */
  const troubles = computed(() => {
    const worst = new Map<string, string>()
    for (const { at, severity, message } of project.findings?.all ?? [])
      if (at.kind === 'signal' && severity !== 'note' && !worst.has(at.id))
        worst.set(at.id, message)
    return worst
  })
  watch(troubles, refresh)
  const doubled = computed(() => doubledTags(project.findings?.all ?? []))
  // Cells may be drawn once more while the project is being left.
  const faultOf = ({ tag }: LedgerRow) =>
    project.plan && wordTagFault(tag, project.plan.project, doubled.value)
  const troubleOf = (row: LedgerRow) => {
    const fault = faultOf(row)
    return fault ? `${row.tag}: ${fault}` : troubles.value.get(row.signalId ?? '')
  }

  const whatIf = useWhatIf()
  const wordFate = ({ listed }: LedgerRow) => (listed ? whatIf.wordChannel(listed) : null)
  const isGone = ({ listed }: LedgerRow) => listed !== null && whatIf.isGone(listed)
  watch(() => whatIf.outcome, refresh)
  /** What becomes of the channel while something is to fail. */
  const fateTemplate = (h: HyperFunc<VNode>, { model }: { model: LedgerRow }) => {
    const words = wordFate(model) ?? ''
    return h('span', { title: words }, words)
  }

  const guard = useGuard()
  /** Why a cell may not be changed: by the role, and for tags on fail-safe channels. */
  const whyLocked = ({ listed }: LedgerRow, prop: string | number) =>
    guard.whyNotPlan() ??
    (listed && prop === 'tag' && listed.channel.safety ? guard.whyNotSafety() : null)
  const template = (
    h: HyperFunc<VNode>,
    { model, prop }: { model: LedgerRow; prop: string | number },
  ) => {
    const words = String(model[prop as keyof LedgerRow] ?? '')
    return h(
      'span',
      {
        class: prop === 'tag' && faultOf(model) ? 'fault' : '',
        title:
          (prop === 'tag' && troubleOf(model)) ||
          (prop === 'range' && model.rangeSource && `${words}, ${model.rangeSource}`) ||
          words,
      },
      words.replaceAll('\n', ' ↵ '),
    )
  }
  const column = (
    prop: keyof LedgerRow,
    name: string,
    size: number,
    more: Partial<ColumnRegular> = {},
  ): ColumnRegular => ({
    prop,
    name,
    size: ownWidths.value[prop] ?? size,
    sortable: true,
    readonly: !isEditable(prop)
      ? true
      : ({ model }) => whyLocked(model as LedgerRow, prop) !== null,
    ...(order.value?.by === prop && {
      order: order.value.isDescending ? ('desc' as const) : ('asc' as const),
    }),
    cellTemplate: template as never,
    cellProperties: ({ model }) => ({
      class: {
        fixed: !isEditable(prop),
        mono: prop === 'address' || prop === 'address2' || prop === 'tag',
        lost: (model as LedgerRow).place === null,
        bad: prop === 'tag' && troubleOf(model as LedgerRow) !== undefined,
        gone: whatIf.isAsked && isGone(model as LedgerRow),
      },
    }),
    ...(prop === 'comment' ? { editor: 'multiline' } : {}),
    ...more,
  })
  const columns = computed<ColumnRegular[]>(() => [
    column('station', 'Station', 120, { pin: 'colPinStart' }),
    ...(whatIf.isAsked
      ? [
          column('key', 'What if', 190, {
            sortable: false,
            cellTemplate: fateTemplate as never,
          }),
        ]
      : []),
    ...columnSets[set.value].columns.flatMap((name): ColumnRegular[] => {
      if (isFact(name))
        return [
          column(name, factColumns[name].heading, factColumns[name].width, {
            columnProperties: () => ({ title: factColumns[name].help }),
          }),
        ]
      if (name === 'address2')
        return second.value ? [column(name, seconds[second.value]!.label, 120)] : []
      const [heading, width] = widths[name as keyof typeof widths]
      return [column(name, heading, width)]
    }),
  ])

  return { columns, onResize }
}
