import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Command } from '../plan'
import { demoPlan, doAll, insert, place, smallCatalog, smallPlan } from '../test/plans'
import { channelAddress, derive } from './derive'
import { imageList } from './image-list'
import { applyCommand } from '../changing'

describe('derive', () => {
  const plan = smallPlan(insert('a', 1, 'DI'), insert('b', 2, 'AO'), {
    type: 'editSignals',
    edits: [{ id: 'x', place: place('a', 3), tag: 'X' }],
  })
  const view = derive(plan, smallCatalog).stations.get('s1')!

  test('sums sizes, channels and names', () => {
    expect(view).toMatchObject({ inputBytes: 1, outputBytes: 4, channels: 10, named: 1 })
    // IEC 61158-6-10 (from memory): one provider status with each submodule's data, one consumer
    // status against it; interface, port and a submodule without data count as inputs. Here five:
    // IF, P1, P2, DI, AO.
    expect([view.inputFrameBytes, view.outputFrameBytes]).toEqual([1 + 5, 4 + 5])
  })

  test('gives every channel its place in the image', () => {
    const [, module] = view.modules
    expect(
      module!.layout!.channels.map((channel) => channelAddress(module!, channel)!.bit),
    ).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
    expect(
      imageList(derive(plan, smallCatalog), 'iec')[0]!.items.map(({ address, tag }) =>
        `${address} ${tag}`.trim(),
      ),
    ).toEqual([
      '%IX0.0',
      '%IX0.1',
      '%IX0.2',
      '%IX0.3 X',
      '%IX0.4',
      '%IX0.5',
      '%IX0.6',
      '%IX0.7',
      '%QW0',
      '%QW2',
    ])
  })

  // A catalog of its own knows no last time.
  test('what was derived step by step is what is derived at once', () => {
    const { plan: demo, catalog } = demoPlan()
    const station = fc.constantFrom(...Object.keys(demo.stations))
    const network = fc.constantFrom(...Object.keys(demo.networks))
    const command: fc.Arbitrary<Command> = fc.oneof(
      fc.record({
        type: fc.constant('updateStation' as const),
        id: station,
        set: fc.record({ comment: fc.string(), packsBits: fc.boolean() }),
      }),
      fc.record({
        type: fc.constant('copyStation' as const),
        sourceId: station,
        networkId: network,
        copies: fc.uuid().map((id) => [{ id, find: '', with: '' }]),
      }),
      fc.record({ type: fc.constant('removeStation' as const), id: station }),
      fc.record({
        type: fc.constant('moveStations' as const),
        ids: station.map((id) => [id]),
        networkId: network,
        position: fc.integer({ min: -5, max: 50 }),
      }),
      fc.record({
        type: fc.constant('removeModules' as const),
        ids: fc
          .constantFrom(
            ...Object.values(demo.stations).flatMap((group) => Object.keys(group.modules)),
          )
          .map((id) => [id]),
      }),
      fc.record({
        type: fc.constant('setProject' as const),
        set: fc.record({ packsBits: fc.boolean() }),
      }),
    )
    fc.assert(
      fc.property(fc.array(command, { minLength: 1, maxLength: 8 }), (commands) => {
        let plan = demo
        for (const one of commands) {
          const applied = applyCommand(plan, catalog, one)
          if (applied.ok) plan = applied.plan
          const { catalog: _own, ...step } = derive(plan, catalog)
          const { catalog: _other, ...whole } = derive(plan, new Map(catalog))
          expect(step).toEqual(whole)
        }
      }),
      { numRuns: 30 },
    )
  })

  test('looks only at the station that changed', () => {
    const { plan: demo, catalog } = demoPlan()
    const before = derive(demo, catalog)
    const applied = applyCommand(demo, catalog, {
      type: 'updateStation',
      id: 'intake-b',
      set: { comment: 'x' },
    })
    if (!applied.ok) throw new Error('refused')
    const after = derive(applied.plan, catalog)
    const kept = [...before.stations.keys()].filter(
      (id) => before.stations.get(id) === after.stations.get(id),
    )
    expect(kept).toEqual(['intake-a', 'screen-1', 'membrane-1'])
  })

  test('a file that arrives later is seen', () => {
    expect(derive(plan, new Map()).stations.get('s1')!.device).toBeNull()
    expect(derive(plan, smallCatalog).stations.get('s1')!.device?.key).toBe('DAP')
  })

  test('stations stand in their order, whatever order they came in', () => {
    const moved = doAll(
      plan,
      smallCatalog,
      { type: 'addStation', id: 's0', networkId: 'n1', file: 'tv', device: 'DAP', comment: '' },
      { type: 'updateStation', id: 's0', set: { position: 0.5 } },
    )
    expect(
      derive(moved, smallCatalog).controllers[0]!.networks[0]!.stations.map(({ id }) => id),
    ).toEqual(['s0', 's1'])
  })
})
