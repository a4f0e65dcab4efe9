import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { gapBefore, type Alignment } from '../catalog/alignment'
import type { DataBlock } from '../catalog/layout'
import { check } from '../checks'
import { derive } from '../derive'
import { tables, type Command, type ControllerRow, type Plan } from '../plan'
import { begin, doAll, insert, smallCatalog, smallPlan } from '../test/plans'
import { newPlan } from '../exchange'
import {
  allocate,
  areaFor,
  bitsTaken,
  extentsOf,
  findFreeByte,
  ImageSpace,
  withAddress,
} from './image'
import { tightOrder, type Piece } from './tight'
import { applyCommand } from '../changing'

const controller = (more: Partial<ControllerRow> = {}): ControllerRow =>
  tables.controllers.parse({
    id: 'k',
    name: 'K',
    position: 1,
    inputBytes: 64,
    outputBytes: 64,
    aligned: true,
    ...more,
  })
const at = (bytes: number, rest = 0): Alignment => ({ bytes: bytes as 1 | 2 | 4, rest, forced: 0 })
const block = (
  subslot: number,
  bytes: number,
  align = 1,
  more: Partial<DataBlock> = {},
): DataBlock => ({
  subslot,
  direction: 'in',
  bytes,
  align: at(align),
  bits: bytes * 8,
  content: 'digital',
  ...more,
})

describe('allocation', () => {
  test.each([
    [
      'one byte after the other',
      [
        [1, 1],
        [2, 1],
        [1, 1],
      ],
      false,
      [0, 1, 3],
    ],
    [
      'words at even bytes where aligned',
      [
        [1, 1],
        [2, 2],
        [1, 1],
        [4, 4],
      ],
      true,
      [0, 2, 1, 4],
    ],
    [
      'no alignment where it is off',
      [
        [1, 1],
        [2, 2],
        [4, 4],
      ],
      false,
      [0, 1, 3],
    ],
  ] as const)('%s', (_, sizes, aligned, expected) => {
    const row = controller({ aligned })
    const found = allocate(
      sizes.map(([bytes, align], i) => block(i + 1, bytes, align)),
      new ImageSpace(row),
      row,
      'n',
      false,
    )
    expect(found.ok && Object.values(found.addresses).map((entry) => entry.in)).toEqual(expected)
  })

  test('says which block finds no room, and where', () => {
    const row = controller({ inputBytes: 4 })
    expect(
      allocate([block(1, 3), block(2, 2)], new ImageSpace(row), row, 'n', false),
    ).toMatchObject({ ok: false, noRoomFor: { bytes: 2 }, range: { from: 0, to: 4 } })
  })

  // Against an exact search: every start in turn.
  const place = fc
    .constantFrom(1, 2, 4)
    .chain((bytes) => fc.nat(bytes - 1).map((rest) => at(bytes, rest)))
  test('finds the lowest place that fits', () => {
    fc.assert(
      fc.property(
        fc.array(fc.boolean(), { maxLength: 40 }),
        fc.integer({ min: 1, max: 6 }),
        place,
        fc.nat(12),
        (taken, bytes, align, from) => {
          const image = Uint8Array.from(taken, Number)
          let exact: number | null = null
          for (let start = 0; exact === null && start + bytes <= image.length; start++)
            if (
              start >= from &&
              start % align.bytes === align.rest &&
              !image.subarray(start, start + bytes).includes(1)
            )
              exact = start
          expect(findFreeByte(image, bytes, align, from)).toBe(exact)
        },
      ),
    )
  })

  // Two and four bits of one station side by side in a byte; another station never in between
  // (common practice).
  test('small blocks share a byte where the station packs them', () => {
    const row = controller()
    const space = new ImageSpace(row)
    const bits = (subslot: number, count: number) => block(subslot, 1, 1, { bits: count })
    const [two, four, three] = [bits(1, 2), bits(2, 4), bits(4, 3)]
    expect(allocate([two, four, bits(3, 2), three], space, row, 'n', true)).toEqual({
      ok: true,
      addresses: { 1: { in: 0 }, 2: { in: 0, inBit: 4 }, 3: { in: 0, inBit: 2 }, 4: { in: 1 } },
    })
    space.closeBytes()
    expect(allocate([two], space, row, 'n', true)).toEqual({
      ok: true,
      addresses: { 1: { in: 2 } },
    })
    expect([two, four, block(1, 1), block(1, 2, 2)].map((one) => bitsTaken(one, true))).toEqual([
      2, 4, 8, 16,
    ])
    expect(bitsTaken(two, false)).toBe(8)
  })

  test('kinds of data go to their areas, and an area ends where the next begins', () => {
    const areas: ControllerRow['areas'] = [
      { content: 'analog', networkId: '', in: 16, out: null },
      { content: 'safety', networkId: '', in: 48, out: 32 },
      { content: 'any', networkId: 'wells', in: 32, out: null },
    ]
    const row = controller({ areas, firstInput: 2 })
    expect(areaFor(row, 'n', 'digital', 'in')).toEqual({ from: 2, to: 16 })
    expect(areaFor(row, 'n', 'analog', 'in')).toEqual({ from: 16, to: 32 })
    expect(areaFor(row, 'wells', 'analog', 'in')).toEqual({ from: 32, to: 48 })
    expect(areaFor(row, 'n', 'safety', 'in')).toEqual({ from: 48, to: 64 })
    expect(areaFor(row, 'n', 'analog', 'out')).toEqual({ from: 0, to: 32 })
  })

  test('blocks of a station that share a bit take their byte twice', () => {
    const at = (bit: number, bits: number) => ({ direction: 'in' as const, bit, bits })
    expect(extentsOf([at(0, 2), at(2, 2), at(4, 4), at(16, 16)])).toEqual([
      { direction: 'in', byte: 0, bytes: 1 },
      { direction: 'in', byte: 2, bytes: 2 },
    ])
    expect(extentsOf([at(0, 4), at(2, 2)])).toHaveLength(2)
  })

  test('an address goes as it came', () => {
    const moved = withAddress(withAddress({}, 1, 'in', 35, true), 1, 'out', 8)
    expect(moved).toEqual({ 1: { in: 4, inBit: 3, inFixed: true, out: 1 } })
    expect(withAddress(withAddress(moved, 1, 'in', null), 1, 'out', null)).toEqual({})
  })
})

describe('packing as tight as can be', () => {
  const lengthOf = (order: readonly number[], pieces: readonly Piece[]) =>
    order.reduce((end, one) => end + gapBefore(end, pieces[one]!.align) + pieces[one]!.bytes, 0)
  const permutations = (all: readonly number[]): number[][] =>
    all.length === 0
      ? [[]]
      : all.flatMap((one, i) => permutations(all.toSpliced(i, 1)).map((rest) => [one, ...rest]))
  const piece = fc.constantFrom(1, 2, 4).chain((align) =>
    fc.record({
      align: fc.oneof(
        { weight: 3, arbitrary: fc.constant(at(align)) },
        { weight: 1, arbitrary: fc.nat(align - 1).map((rest) => at(align, rest)) },
      ),
      bytes: fc.integer({ min: align, max: align + 9 }),
    }),
  )

  // Against an exact search: whatever lies in an image lies in some order, so the best of all
  // orders is the best there is.
  test('wastes no byte that the alignment does not force', () => {
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 6 }), (pieces) => {
        const order = tightOrder(pieces)
        expect([...order].sort((a, b) => a - b)).toEqual(pieces.map((_, i) => i))
        expect(lengthOf(order, pieces)).toBe(
          Math.min(...permutations(pieces.map((_, i) => i)).map((one) => lengthOf(one, pieces))),
        )
      }),
      { numRuns: 300 },
    )
  })

  test('many pieces: every one of them, and never longer than in the order of the slots', () => {
    fc.assert(
      fc.property(fc.array(piece, { minLength: 100, maxLength: 400 }), (pieces) => {
        const order = tightOrder(pieces)
        expect(new Set(order).size).toBe(pieces.length)
        expect(lengthOf(order, pieces)).toBeLessThanOrEqual(
          lengthOf(
            pieces.map((_, i) => i),
            pieces,
          ),
        )
      }),
      { numRuns: 30 },
    )
  })
})

/** Every bit that blocks of a plan take, by direction. */
function bitsOf(plan: Plan): string[] {
  return [...derive(plan, smallCatalog).stations.values()].flatMap((view) =>
    view.blocks.flatMap(({ block: { direction }, byte, bit, bits }) =>
      Array.from({ length: bits }, (_, i) => `${direction} ${byte * 8 + bit + i}`),
    ),
  )
}
const addressesOf = (plan: Plan) =>
  Object.fromEntries(
    Object.values(plan.stations).flatMap(({ modules }) =>
      Object.values(modules).map(({ id, addresses }) => [id, addresses]),
    ),
  )
const repack = (more: object = {}): Command => ({ type: 'repack', controllerId: 'k1', ...more })

describe('repacking a controller', () => {
  const scattered = () =>
    smallPlan(
      insert('a', 1, 'DI'),
      insert('b', 2, 'DI'),
      insert('ao', 3, 'AO'),
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 9, fixed: false },
      { type: 'setAddress', moduleId: 'b', subslot: 1, direction: 'in', byte: 20, fixed: false },
    )

  test('goes slot by slot from the start', () => {
    expect(addressesOf(doAll(scattered(), smallCatalog, repack()))).toMatchObject({
      a: { 1: { in: 0 } },
      b: { 1: { in: 1 } },
      ao: { 1: { out: 0 } },
    })
  })

  test('what is fixed stays, and others go round it', () => {
    const plan = doAll(
      scattered(),
      smallCatalog,
      { type: 'setAddress', moduleId: 'b', subslot: 1, direction: 'in', byte: 0 },
      repack(),
    )
    expect(addressesOf(plan)).toMatchObject({
      a: { 1: { in: 1 } },
      b: { 1: { in: 0, inFixed: true } },
    })
  })

  test('only the stations named, and the others hold still', () => {
    const plan = doAll(
      scattered(),
      smallCatalog,
      { ...begin[2]!, id: 's2' } as Command,
      insert('c', 1, 'DI', 's2'),
      { type: 'setAddress', moduleId: 'c', subslot: 1, direction: 'in', byte: 40, fixed: false },
      repack({ stationIds: ['s2'] }),
    )
    expect(addressesOf(plan)).toMatchObject({
      a: { 1: { in: 9 } },
      b: { 1: { in: 20 } },
      c: { 1: { in: 0 } },
    })
  })

  test('a reserve stays free behind each station, for its own modules to come', () => {
    const plan = doAll(
      scattered(),
      smallCatalog,
      { type: 'updateController', id: 'k1', set: { reserveBytes: 3 } },
      { ...begin[2]!, id: 's2' } as Command,
      insert('c', 1, 'DI', 's2'),
      repack(),
    )
    expect(addressesOf(plan)).toMatchObject({
      a: { 1: { in: 0 } },
      b: { 1: { in: 1 } },
      c: { 1: { in: 5 } },
    })
    expect(
      addressesOf(
        doAll(
          plan,
          smallCatalog,
          insert('d', 4, 'AO'),
          { type: 'removeModules', ids: ['ao'] },
          insert('e', 3, 'DI'),
        ),
      ),
    ).toMatchObject({ e: { 1: { in: 2 } } })
  })

  test('an image that is too small is told, and nothing moves', () => {
    const plan = doAll(scattered(), smallCatalog, {
      type: 'updateController',
      id: 'k1',
      set: { inputBytes: 1 },
    })
    expect(applyCommand(plan, smallCatalog, repack())).toMatchObject({
      ok: false,
      refusal: { code: 'image.full', bytes: 1, from: 0, to: 0 },
    })
  })
})

const step: fc.Arbitrary<Command> = fc.oneof(
  fc
    .record({
      id: fc.constantFrom('a', 'b', 'c', 'd'),
      slot: fc.integer({ min: 1, max: 4 }),
      module: fc.constantFrom('DI', 'AO'),
      stationId: fc.constantFrom('s1', 's2'),
    })
    .map(({ id, slot, module, stationId }) => insert(id, slot, module, stationId)),
  fc.constantFrom('a', 'b', 'c', 'd').map((id): Command => ({ type: 'removeModules', ids: [id] })),
  fc
    .record({
      id: fc.constantFrom('a', 'b', 'c', 'd'),
      slot: fc.integer({ min: 1, max: 4 }),
      stationId: fc.constantFrom('s1', 's2'),
    })
    .map((one): Command => ({ type: 'moveModule', ...one })),
  fc
    .constantFrom('a', 'b', 'c')
    .map((id): Command => ({ type: 'replaceModule', id, module: 'DI' })),
  fc.constantFrom<Command>(
    { ...begin[2]!, id: 's2' } as Command,
    { type: 'removeStation', id: 's2' },
    { type: 'updateController', id: 'k1', set: { reserveBytes: 2 } },
    { type: 'setProject', set: { packsBits: true } },
    repack(),
    repack({ tight: true }),
  ),
  fc.nat(20).map((first): Command => ({
    type: 'updateController',
    id: 'k1',
    set: { areas: [{ content: 'analog', networkId: '', in: first, out: first }] },
  })),
)

test('whatever is done, no two blocks share a bit, and what was not touched keeps its address', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      let plan = doAll(newPlan('p', 'P'), smallCatalog, ...begin)
      for (const command of steps) {
        const applied = applyCommand(plan, smallCatalog, command)
        if (!applied.ok) continue
        if (command.type !== 'repack' && command.type !== 'replaceModule') {
          const [before, after] = [addressesOf(plan), addressesOf(applied.plan)]
          for (const id in before) if (id in after) expect(after[id]).toEqual(before[id])
        }
        plan = applied.plan
        const bits = bitsOf(plan)
        expect(new Set(bits).size).toBe(bits.length)
        expect(
          check(derive(plan, smallCatalog)).all.filter(
            ({ code }) => code === 'image.overlap' || code === 'image.noAddress',
          ),
        ).toEqual([])
      }
    }),
    { numRuns: 200 },
  )
})
