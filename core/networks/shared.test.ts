import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import type { Command, Plan } from '../plan'
import { begin, doAll, insert, readText } from '../test/plans'
import { gsdml } from '../test/gsdml'
import { singleFailures, whatIf, wiredNetworks } from '.'

/** A head that controllers may share, with two relations, and system redundancy S2. */
const head = gsdml({
  accessPoint: 'PhysicalSlots="0..4" FixedInSlots="0" NumberOfAR="2" SharedDeviceSupported="true"',
}).replace('<UseableModules>', '<SystemRedundancy DeviceType="S2"/><UseableModules>')
/** The same with one relation and neither of both. */
const plain = gsdml({ accessPoint: 'PhysicalSlots="0..4" FixedInSlots="0" NumberOfAR="1"' })
const catalog = new Map([
  ['tv', readText(head).file!] as const,
  ['plain', readText(plain).file!] as const,
])

const network = (id: string, controllerId: string, ip: string): Command => ({
  type: 'addNetwork',
  id,
  controllerId,
  name: id.toUpperCase(),
  kind: 'profinet',
  settings: { controllerIp: ip },
})
const station = (id: string, networkId: string, file = 'tv'): Command => ({
  type: 'addStation',
  id,
  networkId,
  file,
  device: 'DAP',
  name: id,
  comment: '',
})
const decide = (id: string, settings: object, more: object = {}): Command => ({
  type: 'updateStation',
  id,
  set: { settings, ...more },
})
const base = doAll(
  newPlan('p', 'P'),
  catalog,
  begin[0]!,
  { type: 'addController', id: 'k2', name: 'K2', inputBytes: 64, outputBytes: 64, aligned: true },
  network('n1', 'k1', '10.0.0.1'),
  network('n2', 'k2', '10.0.0.2'),
  station('a', 'n1'),
  station('b', 'n1'),
  insert('b1', 1, 'DI', 'b'),
  station('c', 'n2'),
)
const joinB: Command = {
  type: 'linkPorts',
  links: [{ from: { node: 'b', port: 2 }, to: { node: 'n2', port: 2 } }],
}
const after = (...commands: Command[]): Plan => doAll(base, catalog, ...commands)
const found = (plan: Plan) =>
  check(derive(plan, catalog)).all.filter(({ code }) =>
    /^(shared|redundancy)\.|nameDuplicate|ipDuplicate|link\.none/.test(code),
  )
const codes = (plan: Plan) => found(plan).map(({ code }) => code)
const wired = (plan: Plan, id: string) =>
  wiredNetworks(derive(plan, catalog)).find(({ network: one }) => one.id === id)!
const names = (views: readonly { id: string }[]) => views.map(({ id }) => id)
const lose = (plan: Plan, networkId: string, nodes: string[], links: string[] = []) => {
  const { unreachable, ridesThrough } = whatIf(wired(plan, networkId), {
    links: new Set(links),
    nodes: new Set(nodes),
  })
  return { unreachable: names(unreachable), ridesThrough: names(ridesThrough) }
}

const bIp = (base.stations['b']!.station.settings as { ip: string }).ip
const share: Command = decide('c', { sharedWith: 'b', ip: bIp }, { name: 'b' })
const redundant: Command = decide('b', { redundancy: 'S2', secondController: 'n2' })

describe('a shared device', () => {
  test('is one device: one name, one address, and its cables once', () => {
    const plan = after(share, joinB)
    expect(codes(plan)).toEqual([])
    expect(plan.stations['c']!.station.links).toEqual({})
    expect(wired(plan, 'n2').stations.map(({ view, hops }) => [view.id, hops])).toEqual([['c', 0]])
  })

  test('a copy of one is a device of its own', () => {
    const plan = after(share, joinB, {
      type: 'copyStation',
      sourceId: 'c',
      networkId: 'n2',
      copies: [{ id: 'd', name: 'd', find: '', with: '' }],
    })
    expect(plan.stations['d']!.station.settings).toMatchObject({ sharedWith: '' })
    expect(codes(plan)).toEqual([])
  })

  test('is lost to both controllers at once', () => {
    const plan = after(share, joinB)
    expect(lose(plan, 'n1', ['b']).unreachable).toEqual(['b'])
    expect(lose(plan, 'n2', ['b']).unreachable).toEqual(['c'])
    expect(lose(plan, 'n2', ['c']).unreachable).toEqual(['c'])
  })

  test.each<[string, Command[], string[], string | null]>([
    [
      'another name',
      [share, decide('c', {}, { name: 'c' })],
      ['shared.identity'],
      'Take name and address of the other',
    ],
    [
      'a slot with two owners',
      [share, insert('c1', 1, 'DI', 'c'), insert('c2', 2, 'DI', 'c')],
      ['shared.slot'],
      'Remove it here',
    ],
    ['slots that are apart', [share, insert('c2', 2, 'DI', 'c')], [], null],
    [
      'the other one is gone',
      [share, { type: 'removeStation', id: 'b' }],
      ['shared.gone', 'link.none'],
      'Make it a device of its own',
    ],
    [
      'both of one controller',
      [decide('a', { sharedWith: 'b', ip: bIp }, { name: 'b' })],
      ['shared.cannot'],
      null,
    ],
    ['three controllers and two relations', [share, redundant], ['shared.relations'], null],
  ])('%s', (_, commands, expected, fix) => {
    const plan = after(
      ...(commands.includes(share)
        ? [...commands, ...(expected.includes('shared.gone') ? [] : [joinB])]
        : commands),
    )
    const all = found(plan)
    expect(all.map(({ code }) => code)).toEqual(expected)
    expect(all[0]?.fixes()[0]?.label ?? null).toBe(fix)
  })
})

describe('two controllers for a station', () => {
  test('the second one stands for the first', () => {
    const plan = after(redundant, joinB)
    expect(codes(plan)).toEqual([])
    expect(lose(plan, 'n1', ['n1'])).toEqual({ unreachable: ['a'], ridesThrough: ['b'] })
    expect(lose(plan, 'n1', ['a'])).toEqual({ unreachable: ['a'], ridesThrough: ['b'] })
    expect(lose(plan, 'n1', ['n1', 'n2'])).toEqual({ unreachable: ['a', 'b'], ridesThrough: [] })
  })

  test('its data travel to both', () => {
    const share = (plan: Plan, id: string) => {
      const link = wired(plan, 'n1').links.find((one) => one.id === id)
      return [link!.towards, link!.away]
    }
    const plan = after(redundant, joinB)
    expect(share(plan, 'b:2')[0]).toBeGreaterThan(0)
    expect(share(plan, 'b:2')[0]).toBeCloseTo(share(base, 'b:1')[0]!, 12)
  })

  test.each<[string, Command[], string[]]>([
    ['no way to the second one', [redundant], ['redundancy.way']],
    ['no second one', [decide('b', { redundancy: 'S2' })], ['redundancy.second']],
    [
      'the first one twice',
      [decide('b', { redundancy: 'S2', secondController: 'n1' })],
      ['redundancy.second'],
    ],
    [
      'another redundancy than it has',
      [decide('b', { redundancy: 'R1', secondController: 'n2' }), joinB],
      ['redundancy.cannot'],
    ],
    [
      'a head that has none',
      [station('d', 'n1', 'plain'), decide('d', { redundancy: 'S2', secondController: 'n2' })],
      ['shared.relations', 'redundancy.cannot', 'redundancy.way'],
    ],
  ])('%s', (_, commands, expected) =>
    expect(codes(after(...commands)).filter((code) => code !== 'link.none')).toEqual(expected),
  )

  // The table of all failures is worked out at once; each of them alone says the same.
  test('every single failure costs what it costs alone, whatever is linked and redundant', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(5), fc.nat(5)), { maxLength: 7 }),
        fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }),
        (pairs, doubled) => {
          const nodes = ['n1', 'n2', 'x0', 'x1', 'x2', 'x3']
          let plan = doAll(
            newPlan('p', 'P'),
            catalog,
            begin[0]!,
            {
              type: 'addController',
              id: 'k2',
              name: 'K2',
              inputBytes: 64,
              outputBytes: 64,
              aligned: true,
            },
            network('n1', 'k1', '10.0.0.1'),
            network('n2', 'k2', '10.0.0.2'),
            ...[0, 1, 2, 3].map((i) => station(`x${i}`, 'n1')),
            ...doubled.flatMap((is, i) =>
              is ? [decide(`x${i}`, { redundancy: 'S2', secondController: 'n2' })] : [],
            ),
          )
          for (const id of ['x0', 'x1', 'x2', 'x3']) plan = unlinked(plan, id)
          for (const [a, b] of pairs) plan = linked(plan, nodes[a]!, nodes[b]!)
          const one = wired(plan, 'n1')
          for (const { link, node, unreachable } of singleFailures(one)) {
            const alone = whatIf(one, {
              links: new Set(link ? [link.id] : []),
              nodes: new Set(node ? [node.id] : []),
            })
            const before = whatIf(one, { links: new Set(), nodes: new Set() })
            expect(alone.unreachable.length - before.unreachable.length).toBe(unreachable)
          }
        },
      ),
      { numRuns: 60 },
    ))
})

const unlinked = (plan: Plan, node: string): Plan =>
  [1, 2].reduce((now, port) => tried(now, { type: 'unlinkPorts', ends: [{ node, port }] }), plan)
const linked = (plan: Plan, a: string, b: string): Plan =>
  [1, 2].reduce((now, from) => {
    if (now !== plan) return now
    return [1, 2].reduce(
      (then, to) =>
        then === plan
          ? tried(then, {
              type: 'linkPorts',
              links: [{ from: { node: a, port: from }, to: { node: b, port: to } }],
            })
          : then,
      now,
    )
  }, plan)
function tried(plan: Plan, command: Command): Plan {
  try {
    return doAll(plan, catalog, command)
  } catch {
    return plan
  }
}
