import { isIPv4 } from 'node:net'
import fc from 'fast-check'
import { Address4 } from 'ip-address'
import { describe, expect, test } from 'vitest'
import { derive } from '../../derive'
import { newPlan } from '..'
import type { Command, Plan } from '../../plan'
import { begin, doAll, shelfCatalog, smallCatalog, wholeDemo } from '../../test/plans'
import { originOf } from '../origin'
import { writeHosts } from './hosts'
import { writeKea } from './kea'
import { hostName } from './served'

const { plan, catalog } = wholeDemo()
const demo = derive(plan, catalog)

/** A hosts file as hosts(5) describes it: address, then names, `#` to the end of the line. */
const readHosts = (text: string) =>
  text.split('\n').flatMap((line) => {
    const [ip, ...names] = line.replace(/#.*/, '').trim().split(/\s+/)
    return ip ? [{ ip, names }] : []
  })

test('a name becomes a host name by RFC 1123, whatever it was', () =>
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), (name) => {
      const made = hostName(name)
      if (made === null) return
      for (const label of made.split('.')) {
        expect(label).toMatch(/^[a-z0-9]([a-z0-9-]*[a-z0-9])?$/)
        expect(label.length).toBeLessThanOrEqual(63)
      }
      // What is one already stays as it is.
      expect(hostName(made)).toBe(made)
    }),
  ))

describe('a hosts file', () => {
  test('holds every station and controller with its address', () => {
    const lines = readHosts(writeHosts(demo, originOf(demo, 3, 0)))
    for (const { ip } of lines) expect(isIPv4(ip)).toBe(true)
    const byName = new Map(lines.flatMap(({ ip, names }) => names.map((name) => [name, ip])))
    expect(byName.get('intake-a')).toBe('192.168.40.11')
    expect(byName.get('screen-1')).toBe('192.168.40.13')
    expect(lines.filter(({ names }) => names.includes('k1-waterworks'))).toEqual([
      { ip: '192.168.40.1', names: ['k1-waterworks'] },
    ])
  })

  test('says plan, revision and draft, and the same plan gives the same bytes', () => {
    const text = writeHosts(demo, originOf(demo, 3, 2))
    expect(text.split('\n')[0]).toMatch(
      /^# Demo, revision 3, fail-safe signature [0-9a-f]{64}, DRAFT: 2 blockers open$/,
    )
    expect(writeHosts(derive(plan, catalog), originOf(derive(plan, catalog), 3, 2))).toBe(text)
  })

  test('what breaks lines in a name breaks none here', () => {
    const odd = doAll(newPlan('p', 'P\nx'), smallCatalog, ...begin, {
      type: 'updateStation',
      id: 's1',
      set: { name: 'pump 1\n10.0.0.9 evil' },
    })
    expect(
      readHosts(
        writeHosts(derive(odd, smallCatalog), originOf(derive(odd, smallCatalog), 1, 0)),
      ).map(({ names }) => names),
    ).toEqual([
      ['k1'],
      ['pump-1-10', '0', '0', '9-evil'].length > 0 ? ['pump-1-10.0.0.9-evil'] : [],
    ])
  })
})

describe('reservations', () => {
  const served = (roleName: string): Plan => {
    const commands: Command[] = [
      begin[0]!,
      {
        type: 'addNetwork',
        id: 'e',
        controllerId: 'k1',
        name: 'Skid',
        kind: 'ethernet-ip',
        settings: { controllerIp: '10.0.5.1', prefixLength: 24 },
      },
      ...['a', 'b'].map((id): Command => ({
        type: 'addStation',
        id,
        networkId: 'e',
        file: 'Ostrel-OzonePump.eds',
        device: 'OD-P7',
        name: id,
        comment: '',
      })),
      { type: 'updateStation', id: 'a', set: { settings: { roleName } } },
    ]
    return doAll(newPlan('p', 'P'), shelfCatalog, ...commands)
  }
  const read = (now: Plan) =>
    JSON.parse(writeKea(derive(now, shelfCatalog), originOf(derive(now, shelfCatalog), 7, 1))) as {
      Dhcp4: {
        'user-context': object
        subnet4: { id: number; subnet: string; reservations: Record<string, string>[] }[]
      }
    }

  test('only of stations that are served, in their subnet, by what they send', () => {
    const { Dhcp4 } = read(served('Pump-007'))
    expect(Dhcp4['user-context']).toMatchObject({ plan: 'P', revision: 7, draft: true })
    expect(Dhcp4.subnet4).toHaveLength(1)
    const [{ subnet, reservations }] = Dhcp4.subnet4 as [(typeof Dhcp4.subnet4)[0]]
    expect(reservations).toHaveLength(1)
    const [one] = reservations
    expect(new Address4(one!['ip-address']!).isInSubnet(new Address4(subnet))).toBe(true)
    // RFC 2132, 9.14: type 0, then an identifier that is no hardware address.
    const octets = one!['client-id']!.split(':').map((pair) => parseInt(pair, 16))
    expect([octets[0], Buffer.from(octets.slice(1)).toString()]).toEqual([0, 'Pump-007'])
    expect(one!['hostname']).toBe('pump-007')
  })

  test('none where nobody is served', () => expect(read(served('')).Dhcp4.subnet4).toEqual([]))
})
