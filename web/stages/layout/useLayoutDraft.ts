import {
  faultsOfFields,
  newId,
  wordFieldFault,
  type DataBlockView,
  type DataField,
  type DataLayout,
  type SingleCommand,
} from '@kataxis/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'

/** Fields of one block of data while somebody works on them; the plan changes when they are
 *  applied. */
export function useLayoutDraft(
  block: Ref<DataBlockView | null>,
  owner: Ref<{ readonly id: string; readonly words: string }>,
) {
  const fields = shallowRef<readonly DataField[]>([])
  const everywhere = ref(true)
  const name = ref('')
  const key = computed(() =>
    block.value ? `${owner.value.id} ${block.value.subslot} ${block.value.direction}` : '',
  )
  const saved = computed(() => block.value?.layout ?? null)
  function reset(): void {
    fields.value = saved.value?.layout.fields ?? []
    everywhere.value = saved.value?.layout.everywhere ?? true
    name.value = saved.value?.layout.name ?? (block.value ? wordBlock(block.value) : '')
  }
  // What others change elsewhere takes nothing of the draft away.
  watch([key, () => JSON.stringify(saved.value?.layout ?? null)], reset, { immediate: true })

  const faults = computed(() => {
    const all = new Map<number, string>()
    const { described = [], bytes = 0 } = block.value ?? {}
    for (const fault of faultsOfFields(fields.value, described, bytes))
      if (!all.has(fault.field))
        all.set(fault.field, wordFieldFault({ fields: fields.value as DataField[], bytes }, fault))
    return all
  })
  const isChanged = computed(
    () =>
      JSON.stringify(fields.value) !== JSON.stringify(saved.value?.layout.fields ?? []) ||
      (saved.value !== null &&
        (everywhere.value !== saved.value.layout.everywhere ||
          name.value !== saved.value.layout.name)),
  )
  /** In the order of their places. */
  function write(next: readonly DataField[]): void {
    fields.value = inOrder(next)
  }
  /** A field that is being edited stays in its row, wherever its place is by now. */
  const edit = (index: number, set: Partial<DataField>) =>
    (fields.value = fields.value.map((field, i) => (i === index ? { ...field, ...set } : field)))
  const remove = (index: number) => write(fields.value.filter((_, i) => i !== index))
  /** Several of one kind behind each other. */
  function add(first: DataField, count: number): void {
    const more = Array.from({ length: count }, (_, i) => ({
      ...first,
      name: count > 1 && first.name ? `${first.name} ${i + 1}` : first.name,
      offsetBits: first.offsetBits + i * first.bits,
      ...(first.port !== undefined && { port: first.port + i }),
    }))
    write([...fields.value, ...more])
  }
  /** The first bit behind all fields. */
  const next = computed(() =>
    fields.value.reduce((end, { offsetBits, bits }) => Math.max(end, offsetBits + bits), 0),
  )
  /** What has to be done to the plan. */
  const commands = computed((): SingleCommand[] =>
    block.value
      ? commandsOf(block.value, owner.value.id, {
          name: name.value.trim() || wordBlock(block.value),
          everywhere: everywhere.value,
          fields: inOrder(fields.value),
        })
      : [],
  )
  return {
    ...{ fields, everywhere, name, saved, faults, isChanged, next, commands },
    ...{ write, edit, remove, add, reset },
  }
}

const inOrder = (fields: readonly DataField[]) =>
  [...fields].sort((a, b) => a.offsetBits - b.offsetBits || b.bits - a.bits)

export const wordBlock = ({ name, direction }: DataBlockView) =>
  `${name} · ${direction === 'in' ? 'inputs' : 'outputs'}`

function commandsOf(
  { target, bytes, layout, isApart }: DataBlockView,
  moduleId: string,
  draft: Pick<DataLayout, 'name' | 'everywhere' | 'fields'>,
): SingleCommand[] {
  const { subslot, direction } = target
  // What held for all of the type goes on for the others where only this one changes.
  const isSplit = layout?.layout.everywhere === true && !draft.everywhere
  const id = layout && !isSplit ? layout.id : newId()
  const use = (one: string | null): SingleCommand => ({
    type: 'useDataLayout',
    moduleId,
    subslot,
    direction,
    layout: one,
  })
  return [
    { type: 'setDataLayout', id, layout: { ...target, bytes, ...draft } },
    ...(draft.everywhere ? (isApart ? [use(null)] : []) : [use(id)]),
  ]
}
