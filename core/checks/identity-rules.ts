import { hostOf, ipOf, roleNameOf } from '../protocols/settings'
import { stationNameFault } from '../protocols/profinet/station-name'
import { canMake } from '../addressing/switches'
import {
  expectedName,
  expectedRole,
  isInPool,
  isReserved,
  numberOf,
  switchAddress,
  switchesOf,
} from '../changing/identities'
import { kindOf } from '../protocols/registry'
import { isNameFree, otherFixes } from './free'
import { atStation, nameOf, stationRule } from './finding'

/** Switches, numbers, patterns and role names of one station. */
export const identityRules = [
  stationRule<{ address: number; sets: 'number' | 'last octet' }>({
    code: 'station.switches',
    severity: 'blocker',
    find: function* ({ view }) {
      const { device, station } = view
      const bank = switchesOf(device, station)
      const address = bank && switchAddress(bank, station)
      if (bank && address !== null && !canMake(bank, address))
        yield {
          at: atStation(view),
          facts: { address, sets: bank.sets === 'number' ? 'number' : 'last octet' },
        }
    },
    say: ({ address, sets }, at) =>
      `The switches of ${at.words} cannot make the ${sets} ${address}.`,
    fixes: ({ sets }, { id }, _, now) =>
      otherFixes(now, id, sets === 'number' ? 'deviceNumber' : 'ip'),
  }),

  stationRule<{ number: number; why: string }>({
    code: 'station.pool',
    severity: 'warning',
    find: function* ({ view, network }) {
      if (!network?.pool) return
      const { station } = view
      const number = numberOf(network, station)
      if (number === null || isInPool(network, number)) return
      yield {
        at: atStation(view),
        facts: {
          number,
          why: isReserved(network, number)
            ? 'is reserved'
            : `is not among ${network.pool.first} to ${network.pool.last}${network.pool.step > 1 ? ` in steps of ${network.pool.step}` : ''}`,
        },
      }
    },
    say: ({ number, why }, at) => `${at.words} has ${number}, which ${why} in the network's pool.`,
  }),

  stationRule<{ host: number; number: number; word: string }>({
    code: 'station.tied',
    severity: 'warning',
    find: function* ({ view, network }) {
      if (!network?.tied || !kindOf(network).hasIp || kindOf(network).number.isUnit) return
      const { deviceNumber } = view.station
      const host = hostOf(network, ipOf(view.station))
      if (host !== null && host !== deviceNumber)
        yield {
          at: atStation(view),
          facts: { host, number: deviceNumber, word: kindOf(network).number.word.toLowerCase() },
        }
    },
    say: ({ host, number, word }, at) =>
      `${at.words} has the address .${host} and the ${word} ${number}; on this network both follow one number.`,
    fixes: (_, { id }, __, now) => otherFixes(now, id, 'ip'),
  }),

  stationRule<{ name: string; asked: string }>({
    code: 'station.pattern',
    severity: 'note',
    find: function* ({ view, network }) {
      if (!network?.tied || network.namePattern.includes('{station')) return
      const { device, station } = view
      const asked = expectedName(network, device, station)
      if (asked !== null && asked !== station.name)
        yield { at: atStation(view), facts: { name: station.name, asked } }
    },
    say: ({ name, asked }) =>
      `${nameOf(name)} does not follow the network's name pattern, which asks for ${asked}.`,
    fixes: ({ asked }, { id }, { network }, { plan }) =>
      isNameFree(plan, id, asked) &&
      !(network && kindOf(network).hasWireNames && stationNameFault(asked))
        ? [
            {
              label: `Name it ${asked}`,
              command: { type: 'updateStation', id, set: { name: asked } },
            },
          ]
        : [],
  }),

  stationRule<{ role: string; asked: string }>({
    code: 'station.roleName',
    severity: 'blocker',
    find: function* ({ view, network }) {
      const { device, station } = view
      const role = roleNameOf(station)
      const asked = network && role !== '' ? expectedRole(network, device, station) : null
      if (asked !== null && asked !== role) yield { at: atStation(view), facts: { role, asked } }
    },
    say: ({ role, asked }, at) =>
      `${at.words} is served its address as "${role}", but its part name and switches make "${asked}"; case and padding count.`,
    fixes: ({ asked }, { id }, __, { plan }) =>
      Object.values(plan.stations).some(
        ({ station }) => station.id !== id && roleNameOf(station) === asked,
      )
        ? []
        : [
            {
              label: `Serve it as ${asked}`,
              command: { type: 'updateStation', id, set: { settings: { roleName: asked } } },
            },
          ],
  }),
]
