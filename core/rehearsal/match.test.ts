import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import type { FoundDevice } from '../protocols/master'
import { wholeDemo } from '../test/plans'
import { commonOrder } from './common-order'
import { compareModules } from './compare'
import { wordSlots } from './compare-words'
import { matchNetwork } from './match'
import { sameFirmware } from './match-words'
import { plannedNetworks, type PlannedStation } from './planned'

const { plan, catalog } = wholeDemo()
const networks = plannedNetworks(derive(plan, catalog))
const networkOf = (id: string) =>
  networks.find(({ stations }) => stations.some((station) => station.id === id))!
const stationOf = (id: string) => networkOf(id).stations.find((station) => station.id === id)!

const intake = stationOf('intake-b')
const asPlanned = found(intake)
const nameless = { ...asPlanned, name: '', address: null, mac: 'm', key: 'm' }

function found({ wireName, ip, identity, modules, number, kind }: PlannedStation): FoundDevice {
  return {
    key: wireName || String(number),
    mac: wireName ? `mac of ${wireName}` : null,
    name: wireName || null,
    address: ip || String(number),
    type: identity.type,
    typeName: identity.typeName,
    firmware: identity.firmware,
    serial: null,
    modules: kind === 'ethercat' ? null : modules,
    neighbours: [],
  }
}

/** What is on the wire of the intake in place of intake-b, how that station stands, and what is
 *  said about it. */
const cases: [string, FoundDevice[], string, [code: string, part: string][]][] = [
  ['everything as planned', [asPlanned], 'found', []],
  ['nobody answers', [], 'missing', [['match.missing', 'does not answer']]],
  ['no name yet', [nameless], 'candidates', [['match.nameless', 'has no name yet']]],
  [
    'two without a name that look alike',
    [nameless, { ...nameless, key: 'n', mac: 'n' }],
    'ambiguous',
    [['match.ambiguous', '2 devices may be intake-b: m, n']],
  ],
  [
    'two without a name, one between the planned neighbours',
    [
      nameless,
      { ...nameless, key: 'n', neighbours: [{ port: 1, name: 'intake-a', peerPort: 'port-002' }] },
    ],
    'candidates',
    [['match.nameless', 'between the planned neighbours']],
  ],
  [
    'a name in the wrong case',
    [{ ...asPlanned, name: 'Intake-B' }],
    'candidates',
    [['match.nameCase', 'is called Intake-B; names on the wire are written intake-b']],
  ],
  [
    'a strange name',
    [{ ...asPlanned, name: 'pump-7' }],
    'candidates',
    [['match.otherName', 'is called pump-7']],
  ],
  [
    'the name held twice',
    [asPlanned, { ...asPlanned, key: 'b' }],
    'ambiguous',
    [['match.twice', '2 devices are called intake-b: intake-b and b']],
  ],
  [
    'another address',
    [{ ...asPlanned, address: '192.168.40.77' }],
    'found',
    [['match.address', 'has the address 192.168.40.77; planned is 192.168.40.12']],
  ],
  [
    'an address in another subnet',
    [{ ...asPlanned, address: '10.0.0.7' }],
    'found',
    [['match.subnet', 'in another subnet']],
  ],
  [
    'another type',
    [{ ...asPlanned, type: '0001:0005', typeName: 'Z' }],
    'found',
    [['match.type', 'is a Z (0001:0005); planned is a QH-401']],
  ],
  [
    'another firmware',
    [{ ...asPlanned, firmware: 'V0.9.0' }],
    'found',
    [['match.firmware', 'has the firmware V0.9.0']],
  ],
]

describe('found against planned', () => {
  test.each(cases)('%s', (_, devices, state, findings) => {
    const network = networkOf('intake-b')
    const others = network.stations.filter(({ id }) => id !== 'intake-b').map(found)
    const matched = matchNetwork(network, [...others, ...devices])
    const station = matched.stations.find((one) => one.station.id === 'intake-b')!
    expect(station.state).toBe(state)
    expect(station.findings.map(({ code }) => code)).toEqual(findings.map(([code]) => code))
    findings.forEach(([, part], i) => expect(station.findings[i]!.message).toContain(part))
  })

  test('the one with the planned modules comes first', () => {
    const other = { ...nameless, key: 'b', modules: intake.modules.slice(0, 1) }
    const one = matchNetwork(networkOf('intake-b'), [other, nameless]).stations[1]!
    expect([one.state, one.candidates.map(({ key }) => key)]).toEqual(['candidates', ['m', 'b']])
  })

  test.each([
    ['of another type', { ...nameless, type: '0001:0009' }],
    ['that nobody planned', { ...asPlanned, type: '0001:0009', name: 'other', key: 'z' }],
  ])('a device %s is not in the plan', (_, device) => {
    const { extra } = matchNetwork(networkOf('intake-b'), [asPlanned, device])
    expect(extra.map(({ finding }) => finding.code)).toEqual(['match.extra'])
  })

  test('on a line by position: one missing moves nobody else, another type is told in its place', () => {
    const line = networkOf('fill-head')
    const devices = line.stations.map(found)
    const without = matchNetwork(line, devices.toSpliced(2, 1)).stations
    expect(without.map(({ state }) => state)).toEqual(
      line.stations.map((_, i) => (i === 2 ? 'missing' : 'found')),
    )
    const other = matchNetwork(line, devices.toSpliced(3, 1, { ...devices[3]!, type: 'x:y' }))
    expect(other.stations.map(({ findings }) => findings.map(({ code }) => code))).toEqual(
      line.stations.map((_, i) => (i === 3 ? ['match.type'] : [])),
    )
  })

  test('switches that make another number are told with their positions', () => {
    const wells = networkOf('well-1')
    const devices = wells.stations.map(found)
    const moved = devices.map((one, i) =>
      wells.stations[i]!.id === 'well-1' ? { ...one, address: '77', key: '77' } : one,
    )
    const one = matchNetwork(wells, moved).stations.find(({ station }) => station.id === 'well-1')!
    expect(one.findings[0]).toMatchObject({
      code: 'match.switches',
      message: expect.stringContaining('make 77; planned is bus address 11'),
    })
  })
})

describe('modules slot by slot', () => {
  const [head, one, two, three] = intake.modules as [never, never, never, never]
  const at = (module: (typeof intake.modules)[number], slot: number) => ({ ...module, slot })
  test.each([
    ['all as planned', intake.modules, []],
    [
      'two swapped',
      [head, at(two, 1), at(one, 2), ...intake.modules.slice(3)],
      ['compare.swapped'],
    ],
    [
      'an unknown one',
      [head, { ...at(one, 1), ident: 'ffffffff' }, ...intake.modules.slice(2)],
      ['compare.wrong'],
    ],
    ['an empty slot', intake.modules.toSpliced(1, 1), ['compare.missing']],
    ['one too many', [...intake.modules, at(one, 99)], ['compare.surplus']],
    [
      'a ring of three is no swap',
      [head, at(two, 1), at(three, 2), at(one, 3), ...intake.modules.slice(4)],
      ['compare.wrong', 'compare.wrong', 'compare.wrong'],
    ],
    [
      'a submodule that is not there',
      intake.modules.map((module) =>
        module.slot === 1
          ? { ...module, submodules: [{ ...module.submodules[0]!, subslot: 77 }] }
          : module,
      ),
      ['compare.submodule', 'compare.submodule'],
    ],
  ] as [string, typeof intake.modules, string[]][])('%s', (_, modules, codes) => {
    const slots = compareModules(intake, { ...asPlanned, modules })
    expect(wordSlots(intake, slots).map(({ code }) => code)).toEqual(codes)
  })

  test('told without slots, an empty one is found at its place', () => {
    const head = stationOf('well-head')
    const modules = head.modules
      .filter(({ slot }) => slot !== 2)
      .map((one, i) => ({ ...one, slot: i }))
    const slots = compareModules(head, {
      ...found(head),
      modules: modules.filter(({ ident }) => ident !== ''),
    })
    expect(slots.filter(({ state }) => state !== 'same')).toMatchObject([
      { slot: 2, state: 'missing' },
    ])
  })

  test('a device that does not say what stands in it is not compared', () => {
    expect(compareModules(intake, { ...asPlanned, modules: null })).toEqual([])
  })
})

test.each([
  ['V1.4', '1.4.0', true],
  ['V01.04.00', 'V1.4', true],
  ['0x00020000', '0x20000', true],
  ['2.10', '2.1', false],
  ['1.0', null, false],
] as const)('firmware %s against %s: %s', (real, planned, isSame) => {
  expect(sameFirmware(real, planned)).toBe(isSame)
})

test('rows side by side: nothing is lost, pairs agree, and as many as there can be', () => {
  const row = fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 9 })
  const longest = (a: readonly string[], b: readonly string[]): number =>
    a.length === 0 || b.length === 0
      ? 0
      : a[0] === b[0]
        ? 1 + longest(a.slice(1), b.slice(1))
        : Math.max(longest(a.slice(1), b), longest(a, b.slice(1)))
  fc.assert(
    fc.property(row, row, (a, b) => {
      const agreed = commonOrder(a, b, (one, other) => one === other)
      expect(agreed.flatMap(({ left, pair }) => [...left, ...(pair ? [pair[0]] : [])])).toEqual(a)
      expect(agreed.flatMap(({ right, pair }) => [...right, ...(pair ? [pair[1]] : [])])).toEqual(b)
      expect(agreed.every(({ pair }) => !pair || pair[0] === pair[1])).toBe(true)
      expect(agreed.filter(({ pair }) => pair).length).toBe(longest(a, b))
    }),
  )
})
