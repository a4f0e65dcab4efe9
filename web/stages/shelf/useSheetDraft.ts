import { computed, ref } from 'vue'
import {
  catalogOfSheet,
  deviceSheet,
  registersOf,
  wordIssue,
  type WrittenSheet,
} from '@kataxis/core'

type Written<T> = { [K in keyof T]-?: T[K] }
type Head = Written<Pick<NonNullable<WrittenSheet['head']>, 'inputs' | 'outputs'>> &
  NonNullable<WrittenSheet['head']>
export type SheetModule = NonNullable<WrittenSheet['modules']>[number] & {
  inputs: NonNullable<Head['inputs']>
  outputs: NonNullable<Head['outputs']>
}
export type SheetDraft = Omit<WrittenSheet, 'head' | 'modules' | 'slots'> & {
  head: Head
  modules: SheetModule[]
  slots: NonNullable<WrittenSheet['slots']>
}

const blank = (): SheetDraft => ({
  kataxisSheet: 2,
  maker: '',
  name: '',
  orderNumber: '',
  info: '',
  network: 'modbus',
  addressing: '',
  supplyMa: null,
  head: { inputs: [], outputs: [] },
  slots: { count: 0, everySlot: null },
  modules: [],
  registers: [],
  dataSets: [],
})

/** A device sheet while somebody writes it: what is wrong with it yet, and what it will offer. */
export function useSheetDraft() {
  const draft = ref<SheetDraft>(blank())
  const checked = computed(() => deviceSheet.safeParse(draft.value))
  const faults = computed(() =>
    checked.value.success ? [] : checked.value.error.issues.map(wordIssue),
  )
  const preview = computed(() =>
    checked.value.success ? catalogOfSheet(checked.value.data) : null,
  )

  /** Takes a sheet from the Shelf over; what the form does not show is kept as it is. */
  function load(text: string): void {
    const parsed = deviceSheet.parse(JSON.parse(text))
    // What is left out is written out, so that the form shows it.
    draft.value = {
      ...parsed,
      kataxisSheet: 2,
      registerCounting: 'from-0',
      registers: registersOf(parsed),
    } as SheetDraft
  }

  function addModule(): void {
    const number = draft.value.modules.length + 1
    draft.value.modules.push({
      key: `module-${number}`,
      name: `Module ${number}`,
      orderNumber: '',
      slots: '',
      currentMa: null,
      inputs: [],
      outputs: [],
    })
  }

  function toFile(): File {
    const name = `${draft.value.maker}-${draft.value.name}`.replace(/[^\w.-]+/g, '-').toLowerCase()
    return new File(
      [`${JSON.stringify(deviceSheet.parse(draft.value), null, 1)}\n`],
      `${name}.sheet.json`,
      { type: 'application/json' },
    )
  }

  return { draft, faults, preview, load, addModule, toFile }
}
