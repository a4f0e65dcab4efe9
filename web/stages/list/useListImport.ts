import { useStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import {
  compareList,
  derive,
  guessMapping,
  projectList,
  takeList,
  type ListDifference,
  type ListField,
  type ListOrder,
  type ListTable,
  type Mapping,
} from '@kataxis/core'
import { useProject } from '../../stores/project'
import type { ReadList } from './list-worker'

export type ListImport = ReturnType<typeof useListImport>

/** A list somebody brought, what its columns are, and what it would change; each difference is
 *  accepted on its own or with all of its kind. */
export function useListImport() {
  const project = useProject()
  const { tables, sheet, fileName, fault, isReading, read, stop } = useListReader()
  /** What was chosen for a heading, for the next list. */
  const remembered = useStorage<Record<string, ListField | ''>>('kataxis.list-columns', {})
  const mapping = shallowRef<Mapping>([])
  const declined = ref(new Set<string>())
  /** How rows without a place get one; null: they wait. */
  const order = shallowRef<ListOrder | null>(null)

  const list = computed(() => tables.value[sheet.value] ?? null)
  watch(list, (next) => (mapping.value = next ? guessMapping(next.headings, remembered.value) : []))
  const comparison = computed(() =>
    list.value && project.derived && mapping.value.some((field) => field !== null)
      ? compareList(project.derived, list.value, mapping.value, order.value)
      : null,
  )
  /** What is missing in the list is kept unless somebody asks for it to go. */
  watch(list, () => (declined.value = new Set()))
  const takesRemoved = ref(false)
  const isAccepted = ({ key, kind, edit }: ListDifference) =>
    edit !== null &&
    (kind === 'removed' ? takesRemoved.value !== declined.value.has(key) : !declined.value.has(key))
  const accepted = computed(() => comparison.value?.differences.filter(isAccepted) ?? [])

  function setColumn(index: number, field: ListField | ''): void {
    remembered.value = { ...remembered.value, [list.value!.headings[index]!.toLowerCase()]: field }
    mapping.value = mapping.value.map((one, i) =>
      i === index ? field || null : one === field ? null : one,
    )
  }
  function toggle(key: string): void {
    const next = new Set(declined.value)
    if (!next.delete(key)) next.add(key)
    declined.value = next
  }
  /** Everything that is accepted, as one change. */
  function take(): boolean {
    const commands = takeList(accepted.value)
    const done =
      commands.length > 0 &&
      project.run({
        type: 'batch',
        label: `Take over ${accepted.value.length} rows of ${fileName.value}`,
        commands,
      })
    if (done) declined.value = new Set()
    return done
  }
  return {
    tables,
    sheet,
    list,
    fileName,
    fault,
    isReading,
    mapping,
    order,
    setColumn,
    comparison,
    accepted,
    isAccepted,
    takesRemoved,
    toggle,
    read,
    stop,
    take,
  }
}

/** Reads a list in a worker; one file at a time. */
function useListReader() {
  const project = useProject()
  const tables = shallowRef<readonly ListTable[]>([])
  const sheet = ref(0)
  const fileName = ref('')
  const fault = ref('')
  const isReading = ref(false)
  let worker: Worker | null = null

  async function read(file: File): Promise<void> {
    stop()
    tables.value = []
    sheet.value = 0
    fileName.value = file.name
    fault.value = ''
    isReading.value = true
    const bytes = new Uint8Array(await file.arrayBuffer())
    worker = new Worker(new URL('./list-worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<ReadList>) => {
      if (typeof data === 'string') fault.value = data
      else if ('plan' in data)
        tables.value = [projectList(derive(data.plan, project.derived!.catalog), file.name)]
      else tables.value = data
      stop()
    }
    worker.onerror = () => {
      fault.value = `${file.name} could not be read.`
      stop()
    }
    worker.postMessage({ bytes, name: file.name })
  }
  function stop(): void {
    worker?.terminate()
    worker = null
    isReading.value = false
  }
  return { tables, sheet, fileName, fault, isReading, read, stop }
}
