import { describe, expect, test } from 'vitest'
import fc from 'fast-check'
import { Address4 } from 'ip-address'
import { formatIp, ipFault, maskOf, parseIp, subnetOf } from '../addressing/ip'
import { check, proposeIdentities, type IdentityWish } from '../checks'
import { derive } from '../derive'
import { supplemented } from '../catalog'
import { doAll, readText, smallCatalog, smallPlan } from '../test/plans'
import { type Command, type NetworkRow, type Plan } from '../plan/index'
import { hostOf, ipOf, ipOfHost } from '../protocols'
import { expectedRole, isInPool } from './identities'
import { applyCommand } from '.'

const add = (id: string, more: object = {}): Command => ({
  type: 'addStation',
  id,
  networkId: 'n1',
  file: 'tv',
  device: 'DAP',
  comment: '',
  ...more,
})
const tied = (set: object): Command => ({ type: 'updateNetwork', id: 'n1', set })
const at = (plan: Plan, id: string) => {
  const { station } = plan.stations[id]!
  return [station.name, ipOf(station), station.deviceNumber]
}

describe('a new station', () => {
  test.each<[string, object, [string, string, number]]>([
    ['goes on behind the highest address', {}, ['tv-2', '10.0.0.3', 2]],
    [
      'takes the next of the pool',
      { pool: { first: 20, last: 30, step: 5, reserved: '' } },
      ['tv-2', '10.0.0.20', 2],
    ],
    [
      'leaves reserved numbers out',
      { pool: { first: 20, last: 30, step: 5, reserved: '20..24' } },
      ['tv-2', '10.0.0.25', 2],
    ],
    [
      'has one number for name, octet and device where they are tied',
      {
        tied: true,
        namePattern: 'hall-{n:03}',
        pool: { first: 28, last: 40, step: 1, reserved: '' },
      },
      ['hall-028', '10.0.0.28', 28],
    ],
    [
      'follows the pattern with its own number too',
      { namePattern: '{order:l}-{n}' },
      ['tv-1-3', '10.0.0.3', 2],
    ],
  ])('%s', (_, set, expected) =>
    expect(at(doAll(smallPlan(), smallCatalog, tied(set), add('s2')), 's2')).toEqual(expected),
  )

  test.each([
    [
      'a pool that is used up',
      { pool: { first: 2, last: 2, step: 1, reserved: '' } },
      'no free address left',
    ],
    ['a pattern with a field nobody knows', { namePattern: 'hall-{x}' }, 'There is no field {x}'],
  ])('%s is told', (_, set, says) => {
    const applied = applyCommand(
      doAll(smallPlan(), smallCatalog, tied(set)),
      smallCatalog,
      add('s2'),
    )
    expect(applied.ok).toBe(false)
    if (!applied.ok)
      expect(JSON.stringify(applied.refusal)).toContain(
        says.includes('{x}') ? '{x}' : 'subnet.full',
      )
  })

  // Switches by a supplement of the head, such as jumpers from 1 to 3.
  const jumpered = (sets: 'number' | 'lastOctet') => {
    const bank = {
      style: 'jumper',
      sets,
      positions: [1, 2, 3].map((value) => ({ label: `J${value}`, value })),
    }
    const sheet = {
      kataxisSheet: 1,
      maker: 'Tarn & Vey',
      name: 'Jumpers',
      adds: [{ orderNumber: 'TV-1', switches: bank }],
    }
    return supplemented(
      new Map([...smallCatalog, [sets, readText(JSON.stringify(sheet), 'adds.json').file!]]),
      [sets],
    )
  }
  test.each<['number' | 'lastOctet', object, (string | number)[]]>([
    ['number', {}, [2, 3, 'switches.full']],
    ['lastOctet', {}, ['10.0.0.3', 'switches.full']],
    [
      'number',
      { pool: { first: 40, last: 60, step: 1, reserved: '' }, tied: true },
      ['switches.full'],
    ],
    [
      'number',
      { pool: { first: 3, last: 60, step: 1, reserved: '' }, tied: true },
      [3, 'switches.full'],
    ],
  ])('gets what its switches can make: %s, %j', (sets, network, expected) => {
    let plan = doAll(smallPlan(), smallCatalog, tied(network))
    const given = Array.from({ length: expected.length }, (_, i) => {
      const applied = applyCommand(plan, jumpered(sets), add(`t${i}`))
      if (!applied.ok) return applied.refusal.code
      plan = applied.plan
      const { station } = plan.stations[`t${i}`]!
      return sets === 'number' ? station.deviceNumber : ipOf(station)
    })
    expect(given).toEqual(expected)
  })

  test.each<[string, object, object, [string, string, number]]>([
    [
      'an address given needs none that is free',
      { pool: { first: 2, last: 2, step: 1, reserved: '' } },
      { settings: { ip: '10.0.0.77' } },
      ['tv-2', '10.0.0.77', 2],
    ],
    [
      'the number follows it where they are tied',
      {
        tied: true,
        namePattern: 'hall-{n:03}',
        pool: { first: 2, last: 2, step: 1, reserved: '' },
      },
      { settings: { ip: '10.0.0.77' } },
      ['hall-077', '10.0.0.77', 77],
    ],
    [
      'a name given needs no pattern',
      { namePattern: 'hall-{x}' },
      { name: 'own' },
      ['own', '10.0.0.3', 2],
    ],
  ])('%s', (_, set, given, expected) =>
    expect(at(doAll(smallPlan(), smallCatalog, tied(set), add('s2', given)), 's2')).toEqual(
      expected,
    ),
  )

  test('however many come, none has an address, number or name of another', () => {
    const pool = fc.record({
      first: fc.integer({ min: 2, max: 200 }),
      last: fc.integer({ min: 200, max: 254 }),
      step: fc.integer({ min: 1, max: 4 }),
      reserved: fc.constantFrom('', '10..60', '200'),
    })
    fc.assert(
      fc.property(pool, fc.boolean(), fc.integer({ min: 1, max: 12 }), (one, isTied, count) => {
        let plan = doAll(
          smallPlan(),
          smallCatalog,
          tied({ pool: one, tied: isTied, namePattern: 'x-{n:03}' }),
        )
        for (let i = 0; i < count; i++) {
          const applied = applyCommand(plan, smallCatalog, add(`t${i}`))
          if (applied.ok) plan = applied.plan
        }
        const network = plan.networks['n1']!
        for (const { station } of Object.values(plan.stations))
          if (station.id !== 's1')
            expect(isInPool(network, hostOf(network, ipOf(station))!)).toBe(true)
        expect(
          check(derive(plan, smallCatalog)).all.filter(({ code }) =>
            /Duplicate|station\.(ip|name|number)$/.test(code),
          ),
        ).toEqual([])
      }),
      { numRuns: 60 },
    )
  })
})

describe('names on the wire', () => {
  const named = (name: string, id: string): Command => ({
    type: 'updateStation',
    id,
    set: { name },
  })
  const second: Command[] = [
    {
      type: 'addNetwork',
      id: 'n2',
      controllerId: 'k1',
      name: 'N2',
      kind: 'profinet',
      settings: { controllerIp: '10.0.1.1' },
    },
    { type: 'addStation', id: 's2', networkId: 'n2', file: 'tv', device: 'DAP', comment: '' },
  ]
  const duplicates = (...commands: Command[]) =>
    check(
      derive(doAll(smallPlan(), smallCatalog, ...second, ...commands), smallCatalog),
    ).all.filter(({ code }) => code === 'station.nameDuplicate')
  test.each<[string, Command[], number]>([
    // RFC 3492: the letters of a label and their form in ASCII are one name.
    ['are one in either form', [named('müller', 's1'), named('xn--mller-kva', 's2')], 1],
    ['are one whatever the case', [named('pump', 's1'), named('Pump', 's2')], 1],
    [
      'may stand on each of two cables',
      [
        named('pump', 's1'),
        named('pump', 's2'),
        { type: 'updateNetwork', id: 'n2', set: { cable: 'hall 2' } },
      ],
      0,
    ],
    ['differ', [named('pump', 's1'), named('pump-2', 's2')], 0],
  ])('%s', (_, commands, count) => expect(duplicates(...commands)).toHaveLength(count))

  test('the role name follows what the switches show', () => {
    const rotary = {
      style: 'rotary-decimal',
      digits: 3,
      sets: 'number',
      offset: 0,
      first: null,
      last: null,
      powerCycle: true,
    } as const
    const network: NetworkRow = {
      ...smallPlan().networks['n1']!,
      settings: {
        kind: 'ethernet-ip',
        controllerIp: '10.0.0.1',
        prefixLength: 24,
        rolePattern: 'part-{n:03}',
        safetyNetworkNumber: '',
        ring: false,
        ringManager: '',
      },
    }
    const settings = {
      kind: 'ethernet-ip',
      ip: '10.0.0.28',
      roleName: '',
      outputIntervalUs: null,
      inputIntervalUs: null,
      timeoutMultiplier: 4,
      isMulticast: false,
      safetyConfiguration: null,
    } as const
    const { station } = smallPlan().stations['s1']!
    expect(
      expectedRole(network, null, {
        ...station,
        settings,
        deviceNumber: 7,
        switches: rotary,
      }),
    ).toBe('part-007')
    expect(
      expectedRole(network, null, {
        ...station,
        settings,
        deviceNumber: 7,
        switches: { ...rotary, sets: 'lastOctet' },
      }),
    ).toBe('part-028')
    expect(expectedRole(network, null, { ...station, settings, deviceNumber: 7 })).toBe('part-028')
  })
})

describe('new identities for many', () => {
  const three = () => doAll(smallPlan(), smallCatalog, add('s2'), add('s3'))
  const wish = (more: Partial<IdentityWish> = {}): IdentityWish => ({
    start: 28,
    step: 1,
    namePattern: 'intake-{n:03}',
    rolePattern: '',
    setsNumber: true,
    setsIp: true,
    ...more,
  })
  const propose = (plan: Plan, ids: string[], one: IdentityWish) =>
    proposeIdentities(plan, smallCatalog, 'n1', ids, one)

  test('28 → …-028, .28 and 28', () => {
    const { changes, fault } = propose(three(), ['s1', 's2', 's3'], wish())
    expect(fault).toBeNull()
    expect(
      changes.map(({ after: { name, ip, deviceNumber }, faults }) => [
        name,
        ip,
        deviceNumber,
        faults,
      ]),
    ).toEqual([28, 29, 30].map((n) => [`intake-0${n}`, `10.0.0.${n}`, n, []]))
  })

  test('leaves out what is reserved and what others have', () => {
    const plan = doAll(
      three(),
      smallCatalog,
      tied({ pool: { first: 2, last: 99, step: 1, reserved: '28 30' } }),
      { type: 'updateStation', id: 's3', set: { settings: { ip: '10.0.0.29' } } },
    )
    expect(propose(plan, ['s1', 's2'], wish()).changes.map(({ after }) => after.ip)).toEqual([
      '10.0.0.31',
      '10.0.0.32',
    ])
  })

  test.each<[string, Partial<IdentityWish>, string]>([
    ['a name in upper case', { namePattern: 'Intake-{n}' }, 'upper-case'],
    ['one name for all', { namePattern: 'tv-3' }, 'is used by 2 stations'],
    ['past the end of the subnet', { start: 300 }, 'is no IP address'],
  ])('%s is told beside it', (_, more, says) =>
    expect(
      propose(three(), ['s1', 's2'], wish(more))
        .changes.flatMap(({ faults }) => faults)
        .join(),
    ).toContain(says),
  )

  test('switches that cannot make the number are told', () => {
    const plan = doAll(three(), smallCatalog, {
      type: 'updateStation',
      id: 's1',
      set: {
        switches: {
          style: 'rotary-decimal',
          digits: 1,
          sets: 'number',
          offset: 0,
          first: null,
          last: null,
          powerCycle: true,
        },
      },
    })
    expect(propose(plan, ['s1'], wish()).changes[0]!.faults).toEqual([
      'The switches of intake-028 cannot make the number 28.',
    ])
  })

  test('what is proposed without a fault makes no finding', () => {
    const { changes } = propose(three(), ['s3', 's1', 's2'], wish({ start: 40, step: 3 }))
    const plan = doAll(
      three(),
      smallCatalog,
      ...changes.map(({ id, after }): Command => ({ type: 'updateStation', id, set: after })),
    )
    expect(
      check(derive(plan, smallCatalog)).all.filter(({ code }) =>
        /Duplicate|station\.(ip|name|number)$/.test(code),
      ),
    ).toEqual([])
  })
})

// Second opinion: the registry's ip-address.
test('subnets are what an independent library says', () => {
  const ip = fc.nat(0xffffffff).map(formatIp)
  fc.assert(
    fc.property(ip, fc.integer({ min: 1, max: 30 }), fc.nat(70_000), (one, prefixLength, host) => {
      const other = new Address4(`${one}/${prefixLength}`)
      const subnet = subnetOf(one, prefixLength)!
      expect(formatIp(subnet.network)).toBe(other.startAddress().address)
      expect(formatIp(subnet.broadcast)).toBe(other.endAddress().address)
      // The mask has as many ones as the prefix is long.
      expect(maskOf(prefixLength).toString(2)).toBe(
        '1'.repeat(prefixLength) + '0'.repeat(32 - prefixLength),
      )
      const network = { settings: { controllerIp: one, prefixLength } }
      const found = ipOfHost(network, host)
      if (found === null) expect(host === 0 || subnet.network + host >= subnet.broadcast).toBe(true)
      else {
        expect(new Address4(found).isInSubnet(other)).toBe(true)
        expect(ipFault(found, subnet)).toBeNull()
        expect(hostOf(network, found)).toBe(host)
        expect(parseIp(found)).toBe(subnet.network + host)
      }
    }),
  )
})
