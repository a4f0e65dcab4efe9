import type { DataBlockView, DataField, DataLayout } from '@kataxis/core'
import { expect, test } from 'vitest'
import { nextTick, ref } from 'vue'
import { useLayoutDraft } from './useLayoutDraft'

const field = (name: string, octet: number, bits = 8): DataField => ({
  name,
  type: 'unsigned',
  offsetBits: octet * 8,
  bits,
})
const target = {
  file: 'f',
  of: 'module',
  key: 'm',
  subslot: 1,
  direction: 'in',
} as const
const layout: DataLayout = {
  ...target,
  name: 'L',
  bytes: 4,
  everywhere: true,
  fields: [field('A', 0), field('B', 1)],
}
const block = (more: Partial<DataBlockView> = {}): DataBlockView => ({
  subslot: 1,
  direction: 'in',
  name: 'Data',
  bytes: 4,
  described: [],
  items: [],
  target,
  layout: { id: 'l', layout },
  isApart: false,
  ...more,
})
const draftOf = (view: DataBlockView) => {
  const shown = ref(view)
  return { shown, draft: useLayoutDraft(shown, ref({ id: 'module', words: 'a · slot 1' })) }
}
const names = ({ draft }: ReturnType<typeof draftOf>) => draft.fields.value.map((one) => one.name)

test('a draft outlives what others change, and gives way to another layout', async () => {
  const one = draftOf(block())
  one.draft.edit(0, { name: 'Mine' })
  one.shown.value = block({ layout: { id: 'l', layout: { ...layout } } })
  await nextTick()
  expect(names(one)).toEqual(['Mine', 'B'])
  one.shown.value = block({ layout: { id: 'l', layout: { ...layout, fields: [field('C', 2)] } } })
  await nextTick()
  expect(names(one)).toEqual(['C'])
})

test('a field stays in its row while it is edited; what is applied is in order', () => {
  const one = draftOf(block())
  one.draft.edit(0, { offsetBits: 24 })
  expect(names(one)).toEqual(['A', 'B'])
  const [set] = one.draft.commands.value
  expect(set).toMatchObject({
    type: 'setDataLayout',
    id: 'l',
    layout: { fields: [{ name: 'B' }, { name: 'A' }] },
  })
})

test('several of a kind stand behind each other, with their numbers', () => {
  const one = draftOf(block({ layout: null }))
  one.draft.add({ ...field('Port', 0, 16), type: 'port', port: 1 }, 2)
  expect(
    one.draft.fields.value.map(({ name, offsetBits, port }) => [name, offsetBits, port]),
  ).toEqual([
    ['Port 1', 0, 1],
    ['Port 2', 16, 2],
  ])
  expect(one.draft.next.value).toBe(32)
})

test('what held for all goes on for the others where only one is to change', () => {
  const one = draftOf(block())
  one.draft.everywhere.value = false
  const [set, use] = one.draft.commands.value
  expect(set).toMatchObject({ type: 'setDataLayout', layout: { everywhere: false } })
  expect(set).not.toMatchObject({ id: 'l' })
  expect(use).toMatchObject({ type: 'useDataLayout', moduleId: 'module' })
})

test('fields that do not fit are told by their row', () => {
  const one = draftOf(block())
  one.draft.edit(1, { offsetBits: 30 })
  expect([...one.draft.faults.value]).toEqual([
    [1, 'field 2 "B" at 3.6 ends at bit 38; there are 4 octets'],
  ])
})
