import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { makeModule } from '../catalog/blank'
import type { ModulePlacement } from '../catalog/model'
import { missingKinds, orderFaults, whyOutOfOrder, type Standing } from './order'

const nothingAsked: ModulePlacement = {
  kind: '',
  widthMm: 0,
  firstOfKind: false,
  lastOfKind: false,
  nextToHead: false,
  requiresBefore: [],
  maxModules: null,
  maxAfterExtension: null,
  fieldCurrentMa: 0,
  fieldSupplyMa: 0,
}
const kinds: Record<string, Partial<ModulePlacement>> = {
  first: { kind: 'io', firstOfKind: true },
  io: { kind: 'io' },
  fed: { kind: 'io', requiresBefore: ['feed'] },
  feed: { kind: 'feed' },
  near: { nextToHead: true },
  single: { maxModules: 1 },
  more: { maxAfterExtension: 2 },
  end: { lastOfKind: true },
}
const modules = Object.fromEntries(
  Object.entries(kinds).map(([key, placement]) => [
    key,
    makeModule({ key, name: key, placement: { ...nothingAsked, ...placement } }),
  ]),
)
const plain = makeModule({ key: 'plain', name: 'plain' })
const row = (...keys: string[]): Standing[] =>
  keys.map((key, i) => ({ slot: i + 1, module: modules[key] ?? plain }))
const head = {
  placement: { widthMm: 0, requires: ['end', 'feed'], maxBeforeExtension: 3, fieldSupplyMa: 0 },
}

describe('order of a row', () => {
  test.each<[string[], [string, number][]]>([
    [['feed', 'fed', 'end'], []],
    [['fed', 'feed'], [['requiresBefore', 1]]],
    [['io', 'first'], [['firstOfKind', 2]]],
    // Something of another kind may stand before it.
    [['plain', 'first', 'io'], []],
    [['first', 'first'], []],
    [['end', 'plain'], [['lastOfKind', 1]]],
    [['near', 'near', 'plain'], []],
    [['plain', 'near'], [['nextToHead', 2]]],
    [['single', 'single', 'single'], [['maxModules', 2]]],
    [['plain', 'plain', 'plain', 'plain', 'plain'], [['extension', 4]]],
    [['plain', 'plain', 'plain', 'more', 'plain', 'plain'], []],
    [['more', 'plain', 'plain', 'plain'], [['extension', 4]]],
  ])('%j: %j', (keys, faults) =>
    expect(orderFaults(head, row(...keys)).map(({ code, slot }) => [code, slot])).toEqual(faults),
  )

  test.each([
    [[], []],
    [['plain'], ['end', 'feed']],
    [['feed', 'end'], []],
  ])('%j lacks %j', (keys, missing) => expect(missingKinds(head, row(...keys))).toEqual(missing))

  test.each([
    [['feed'], 2, 'fed', null],
    [['plain'], 1, 'near', null],
    [['plain'], 2, 'near', 'between them'],
    [['end'], 2, 'io', 'behind io'],
    [['end'], 1, 'io', null],
  ])('into %j at slot %d: %s', (keys, slot, key, says) => {
    const why = whyOutOfOrder({}, row(...keys), slot, modules[key]!)
    if (says === null) expect(why).toBeNull()
    else expect(why).toContain(says)
  })

  // Whatever the row: taking out what is at fault, one after the other, brings it into order, and a
  // module without rules is at fault only as one too many behind an extension.
  test('faults end when their modules are gone', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...Object.keys(kinds), 'plain'), { maxLength: 12 }),
        (keys) => {
          let standing = row(...keys)
          for (
            let fault = orderFaults({}, standing)[0];
            fault;
            fault = orderFaults({}, standing)[0]
          ) {
            if (fault.code !== 'extension') expect(fault.module).not.toBe('plain')
            standing = standing.filter(({ slot }) => slot !== fault!.slot)
          }
          expect(orderFaults({}, standing)).toEqual([])
        },
      ),
    )
  })
})
