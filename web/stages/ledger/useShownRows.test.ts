import { expect, test } from 'vitest'
import { nextTick, ref, shallowRef } from 'vue'
import type { LedgerRow } from './rows'
import { blankRow } from './rows'
import { useShownRows } from './useShownRows'

const row = (key: string, tag: string): LedgerRow => ({ ...blankRow(key), tag })
const start = () => {
  const rows = shallowRef<readonly LedgerRow[]>([row('1', 'B'), row('2', ''), row('3', 'A')])
  const wish = { text: ref(''), onlyFree: ref(false) }
  return { rows, wish, ...useShownRows(rows, wish) }
}

test('rows keep their places while they are edited, until the filter is asked again', async () => {
  const { rows, wish, shown, outdated, askAgain } = start()
  wish.onlyFree.value = true
  await nextTick()
  expect(shown.value.map(({ key }) => key)).toEqual(['2'])
  rows.value = [row('1', ''), row('2', 'C'), row('3', 'A')]
  expect(shown.value.map(({ key, tag }) => [key, tag])).toEqual([['2', 'C']])
  expect(outdated.value).toBeGreaterThan(0)
  askAgain()
  expect(shown.value.map(({ key }) => key)).toEqual(['1'])
  expect(outdated.value).toBe(0)
})

test('an order holds too; a heading sorts up, down and not at all', async () => {
  const { rows, shown, sortBy } = start()
  const keys = async () => (await nextTick(), shown.value.map(({ key }) => key))
  sortBy('tag')
  expect(await keys()).toEqual(['3', '1', '2'])
  rows.value = [row('1', 'B'), row('2', 'A0'), row('3', 'Z')]
  expect(await keys()).toEqual(['3', '1', '2'])
  sortBy('tag')
  expect(await keys()).toEqual(['3', '1', '2'])
  sortBy('tag')
  expect(await keys()).toEqual(['1', '2', '3'])
})

test('what comes while a filter holds stands behind the others, if it is asked for', async () => {
  const { rows, wish, shown } = start()
  wish.text.value = 'aa'
  await nextTick()
  expect(shown.value).toEqual([])
  rows.value = [row('9', 'AA'), row('8', 'C'), ...rows.value]
  expect(shown.value.map(({ key }) => key)).toEqual(['9'])
})

test('without a filter new rows come where the plan has them', () => {
  const { rows, shown } = start()
  rows.value = [row('0', 'N'), ...rows.value]
  expect(shown.value.map(({ key }) => key)).toEqual(['0', '1', '2', '3'])
})
