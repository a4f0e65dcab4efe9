import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { demoPlan, insert, smallCatalog, smallFile, smallPlan } from '../test/plans'
import { candidatesFor, laneSlots } from './candidates'
import { allowedSlots, whyNotInSlot } from './slots'

const device = smallFile.devices[0]!
const viewOf = (...commands: Parameters<typeof smallPlan>) =>
  derive(smallPlan(...commands), smallCatalog)

describe('slots', () => {
  test.each([
    ['DI', '1..3'],
    ['AO', '2..4'],
    ['XX', ''],
  ])('%s may stand in "%s"', (key, slots) => expect(allowedSlots(device, key)).toBe(slots))
  test.each([
    [1, 'DI', null],
    [4, 'DI', 'slot.notAllowed'],
    [1, 'AO', 'slot.notAllowed'],
    [0, 'DI', 'slot.unknown'],
    [5, 'AO', 'slot.unknown'],
  ])('slot %d and %s: %s', (slot, key, code) =>
    expect(whyNotInSlot(device, 's', slot, { key, name: key })?.code ?? null).toBe(code),
  )
})

describe('what a slot is offered', () => {
  test.each([
    [1, ['DI']],
    [2, ['DI', 'AO']],
    [4, ['AO']],
    [9, []],
  ])('slot %d: %j', (slot, keys) => {
    const derived = viewOf()
    expect(
      candidatesFor(derived, derived.stations.get('s1')!, slot).map(({ module }) => module.key),
    ).toEqual(keys)
  })

  test('the most used comes first', () => {
    const derived = viewOf(insert('a', 2, 'AO'), insert('b', 4, 'AO'), insert('c', 1, 'DI'))
    expect(
      candidatesFor(derived, derived.stations.get('s1')!, 3).map(({ module, uses }) => [
        module.key,
        uses,
      ]),
    ).toEqual([
      ['AO', 2],
      ['DI', 1],
    ])
  })
})

describe('the slots a lane shows', () => {
  test.each([
    ['an empty station', [], [1], 4],
    [
      'modules, a gap and the next free slot',
      [insert('a', 1, 'DI'), insert('b', 3, 'DI')],
      [1, 2, 3, 4],
      2,
    ],
    [
      'a full station',
      [insert('a', 1, 'DI'), insert('b', 2, 'DI'), insert('c', 3, 'DI'), insert('d', 4, 'AO')],
      [1, 2, 3, 4],
      0,
    ],
  ] as const)('%s', (_, commands, shown, free) => {
    const lane = laneSlots(viewOf(...commands).stations.get('s1')!)
    expect(lane.shown.map(({ slot }) => slot)).toEqual(shown)
    expect(lane.free).toBe(free)
  })

  test('a module in a slot the head does not have is shown all the same', () => {
    const { plan, catalog } = demoPlan()
    const group = plan.stations['screen-1']!
    const odd = {
      ...plan,
      stations: {
        ...plan.stations,
        'screen-1': {
          ...group,
          modules: {
            ...group.modules,
            odd: {
              id: 'odd',
              stationId: 'screen-1',
              slot: 40,
              module: 'BW_DI8',
              plugged: {},
              layouts: {},
              identity: null,
              feed: null,
              sendsEveryS: null,
              orders: {},
              values: {},
              iParameterSums: {},
              monitored: {},
              addresses: {},
            },
          },
        },
      },
    }
    expect(laneSlots(derive(odd, catalog).stations.get('screen-1')!).shown.at(-1)).toEqual({
      slot: 40,
      moduleId: 'odd',
    })
  })
})
