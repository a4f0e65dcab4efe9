import { expect, test } from 'vitest'
import { derive } from '../derive'
import { demoPlan } from '../test/plans'
import { plannedStations } from './planned'

const { plan, catalog } = demoPlan()
const planned = plannedStations(derive(plan, catalog))

test('the wire should show every station in its place, by the name that travels', () => {
  expect(
    planned.map(({ id, wireName, ip, mask, identity }) => [
      id,
      wireName,
      ip,
      mask,
      identity.typeName,
    ]),
  ).toEqual([
    ['intake-a', 'intake-a', '192.168.40.11', '255.255.255.0', 'QH-401 PROFINET head'],
    ['intake-b', 'intake-b', '192.168.40.12', '255.255.255.0', 'QH-401 PROFINET head'],
    ['screen-1', 'screen-1', '192.168.40.13', '255.255.255.0', 'BW-HEAD field head'],
    ['membrane-1', 'membrane-1', '192.168.40.14', '255.255.255.0', 'QH-401 PROFINET head'],
  ])
})

test('with the idents of its description, head first in slot 0 with interface and ports', () => {
  const screen = planned[2]!
  expect(screen.identity.type).toBe('0f62:0110')
  expect(screen.modules.map(({ slot, ident }) => [slot, ident])).toEqual([
    [0, '00b10010'],
    [1, '0000a001'],
    [2, '0000a108'],
    [3, '0000a208'],
    [4, '0000a401'],
  ])
  expect(screen.modules[0]!.submodules.map(({ subslot }) => subslot)).toEqual([
    1, 32768, 32769, 32770,
  ])
  expect(screen.moduleNames['0000a401']).toBe('Level radar')
})

test('a station whose description is missing is left out', () => {
  expect(
    plannedStations(derive(plan, new Map([...catalog].slice(0, 1)))).map(({ id }) => id),
  ).not.toContain('screen-1')
})
