import { computed, ref, type Ref } from 'vue'
import {
  carriedTo,
  choicesOf,
  encodePlaced,
  failSafeParts,
  oneOr,
  parameterGroups,
  plural,
  recordsOfPlaced,
  type Catalog,
  type DerivedModule,
  type DerivedStation,
  type ParameterRow,
  type PlacedRecord,
} from '@kataxis/core'
import { useProject } from '../../stores/project'

/** The head or module whose parameters are looked at, its records with their octets, and what can
 *  be done with them. */
export function useParameterPage(id: Ref<string>) {
  const project = useProject()
  const text = ref('')
  const onlyChosen = ref(false)

  const found = computed(() => {
    for (const view of project.derived?.stations.values() ?? []) {
      const module = view.modules.find((one) => one.id === id.value)
      if (module) return { view, module }
    }
    return null
  })
  const records = computed(() => (found.value ? recordsOf(project.catalog, found.value) : []))
  const values = computed(() =>
    found.value ? choicesOf(found.value.view, found.value.module).values : {},
  )
  const parts = computed(() =>
    found.value
      ? failSafeParts(found.value.view, project.catalog).filter(
          ({ module }) => module.id === id.value,
        )
      : [],
  )
  const encoded = computed(
    () =>
      new Map(
        records.value.map((placed) => {
          const sum = found.value
            ? choicesOf(found.value.view, found.value.module).sums[placed.subslot ?? 1]?.crc
            : 0
          return [placed.key, encodePlaced(placed, values.value[placed.key], sum ?? 0).bytes]
        }),
      ),
  )
  const groups = computed(() =>
    parameterGroups(records.value, values.value)
      .map((group) => ({ ...group, rows: group.rows.filter(filterOf(group.heading)) }))
      .filter(({ rows }) => rows.length > 0),
  )
  const filterOf = (heading: readonly string[]) => {
    const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
    return (row: ParameterRow) => (!onlyChosen.value || row.isChosen) && hasAll(words, row, heading)
  }
  const chosen = computed(() =>
    Object.values(values.value).reduce((sum, record) => sum + Object.keys(record).length, 0),
  )
  /** Everything else of the plan that has parameters of its own. */
  const others = computed(() =>
    [...(project.derived?.stations.values() ?? [])].flatMap((view) =>
      view.modules
        .filter(
          (module) =>
            module.id !== id.value && Object.keys(choicesOf(view, module).values).length > 0,
        )
        .map((module) => ({ view, module })),
    ),
  )

  return {
    ...{ found, records, values, parts, encoded, chosen, others },
    ...{ groups, text, onlyChosen },
    ...useParameterEdits(id, records, others),
  }
}

interface Owner {
  readonly view: DerivedStation
  readonly module: DerivedModule
}
type Values = ReturnType<typeof choicesOf>['values']

function useParameterEdits(
  id: Ref<string>,
  records: Ref<readonly PlacedRecord[]>,
  others: Ref<readonly Owner[]>,
) {
  const project = useProject()

  /** Tells how many signals lose their channel, where the data of a device below a port follow from
   *  the value. */
  function set(
    { placed, parameter }: Pick<ParameterRow, 'placed' | 'parameter'>,
    value: number | string | null,
  ): void {
    const waiting = () => Object.keys(project.plan?.unplaced ?? {}).length
    const before = waiting()
    project.run({
      type: 'setParameters',
      edits: [{ moduleId: id.value, record: placed.key, parameter: parameter.key, value }],
    })
    const lost = waiting() - before
    if (lost > 0)
      project.tell(
        `With this value the device sends other data: ${oneOr(lost, 'one signal has', 'signals have')} no channel any more and ${plural(lost, 'waits', 'wait')} for another; undo brings ${plural(lost, 'it', 'them')} back.`,
      )
  }

  /** Takes over what another module has been given; tells what does not fit here. */
  function takeFrom(otherId: string): void {
    const other = others.value.find(({ module }) => module.id === otherId)
    if (!other) return
    const given = choicesOf(other.view, other.module).values
    put(
      given,
      other.view.station.file,
      other.module.row?.module ?? other.view.station.device,
      carriedTo(recordsOf(project.catalog, other), given, records.value),
    )
  }
  function put(given: Values, file: string, from: string, fitting = given): void {
    const known = new Set(
      records.value.flatMap(({ key, record }) =>
        record.parameters.map((parameter) => `${key}/${parameter.key}`),
      ),
    )
    const left = Object.entries(fitting).flatMap(([record, own]) =>
      Object.keys(own).filter((key) => !known.has(`${record}/${key}`)),
    )
    if (
      project.run({ type: 'copyParameters', values: given, file, from, moduleIds: [id.value] }) &&
      left.length > 0
    )
      project.tell(
        `Not taken over, since this module has no such parameter: ${left.slice(0, 8).join(', ')}${left.length > 8 ? ` and ${left.length - 8} more` : ''}.`,
      )
  }
  return { set, takeFrom, put }
}

const recordsOf = (catalog: Catalog, { view, module: { described, plugged } }: Owner) =>
  described ? recordsOfPlaced(catalog, view.station.file, described, plugged) : []

/** Whether all words stand in a parameter, what it may be, or its headings. */
function hasAll(
  words: readonly string[],
  { parameter }: ParameterRow,
  heading: readonly string[],
): boolean {
  const { name, key, info, texts } = parameter
  const all = [name, key, info ?? '', ...Object.values(texts), ...heading].join(' ').toLowerCase()
  return words.every((word) => all.includes(word))
}
