import { computed, ref } from 'vue'
import { describe, expect, test } from 'vitest'
import { derive, memoryMap, type MapBlock } from '@kataxis/core'
import { doAll, insert, smallCatalog, smallPlan } from '../../../core/test/plans'
import { byteLabel } from './byte-labels'
import { useBlockSelection } from './useBlockSelection'

describe('the head of a byte’s row', () => {
  test.each([
    ['in', 12, 'iec', '%IB12'],
    ['out', 12, 'plain', 'out 12'],
    ['in', 12, 'iec-words-low', '%IW6'],
    ['in', 13, 'iec-words-low', ''],
    ['out', 16, 'octal', 'Y200'],
    ['in', 16, 'hex', 'X80'],
    ['out', 24, 'modbus-5', '40013'],
    ['in', 24, 'modbus-0', 'input 12'],
    ['in', 12, 'word-bit', 'in word 6'],
  ] as const)('%s byte %d, %s: "%s"', (direction, byte, notation, label) =>
    expect(byteLabel(direction, byte, notation)).toBe(label),
  )
})

describe('selecting blocks', () => {
  const plan = ref(
    smallPlan(
      insert('a', 1, 'DI'),
      insert('b', 2, 'DI'),
      insert('c', 3, 'DI'),
      insert('d', 4, 'AO'),
    ),
  )
  const map = computed(() => memoryMap(derive(plan.value, smallCatalog), 'k1'))
  const byKey = computed(
    () =>
      new Map<string, MapBlock>(
        [...map.value!.in.blocks, ...map.value!.out.blocks].map((block) => [block.key, block]),
      ),
  )
  const seen: number[] = []
  const selection = useBlockSelection(map, byKey, (byte) => void seen.push(byte))
  const at = () => selection.current.value?.module.id
  const ids = () => selection.moving.value.map(({ module }) => module.id)

  test('walks, extends, crosses to the other side and picks what lies between', () => {
    selection.walk(1, false)
    expect(at()).toBe('a')
    selection.walk(1, true)
    expect(ids()).toEqual(['a', 'b'])
    selection.cross('out')
    expect([at(), ids()]).toEqual(['d', ['d']])
    selection.selectAt('in', 0)
    selection.selectUpTo(map.value!.in.blocks[2]!)
    expect(ids()).toEqual(['a', 'b', 'c'])
    expect(seen.length).toBeGreaterThan(0)
  })

  test('keeps the block when it stands somewhere else', () => {
    selection.selectAt('in', 1)
    plan.value = doAll(plan.value, smallCatalog, {
      type: 'setAddress',
      moduleId: 'b',
      subslot: 1,
      direction: 'in',
      byte: 30,
    })
    expect([at(), selection.current.value!.start]).toEqual(['b', 240])
    selection.clear()
    expect(selection.current.value).toBeNull()
  })
})
