import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive } from '../derive'
import { readDeviceFile } from '../device-files'
import { runCommandScript } from '../exchange'
import { filesOfPlan } from '../plan'
import { doAll, insert, smallCatalog, smallPlan } from '../test/plans'
import { supplemented } from './index'

const sheet = (adds: object[], more: object = {}) =>
  readDeviceFile(
    new TextEncoder().encode(
      JSON.stringify({
        kataxisSheet: 1,
        maker: 'Tarn & Vey',
        name: 'what the file does not say',
        adds,
        ...more,
      }),
    ),
    'a.json',
  )
const file = sheet([
  {
    orderNumber: 'tv-1',
    currentMa: -100,
    switches: { style: 'rotary-decimal', digits: 2, sets: 'lastOctet' },
  },
  {
    orderNumber: 'X-DI',
    currentMa: 60,
    terminals: [{ terminal: '1', function: 'signal', channel: 'Name of S' }],
  },
])
const catalog = new Map([
  ...smallCatalog,
  [
    'adds',
    readDeviceFile(
      new TextEncoder().encode(
        JSON.stringify({
          kataxisSheet: 1,
          maker: 'tarn & vey',
          name: 'n',
          adds: [
            { orderNumber: 'tv-1', currentMa: -100 },
            {
              orderNumber: 'X-DI',
              currentMa: 60,
              terminals: [{ terminal: '1', channel: 'Name of S' }],
            },
          ],
        }),
      ),
      'b.json',
    ).file!,
  ],
])
const taken = ['adds']

describe('a sheet that adds to another file', () => {
  test('is laid over heads and modules of the same maker and order number; the file stays as it is', () => {
    const made = supplemented(catalog, taken).get('tv')!
    expect([
      made.devices[0]!.currentMa,
      made.modules[0]!.currentMa,
      made.modules[1]!.currentMa,
    ]).toEqual([-100, 60, null])
    expect(made.modules[0]!.terminals).toEqual([
      { terminal: '1', function: '', channel: 'Name of S' },
    ])
    expect(smallCatalog.get('tv')!.devices[0]!.currentMa).toBeNull()
  })
  test('gives the same object each time, so that nothing is derived twice', () => {
    expect(supplemented(catalog, taken).get('tv')).toBe(
      supplemented(new Map(catalog), [...taken]).get('tv'),
    )
    expect(supplemented(catalog, [])).toBe(catalog)
    expect(supplemented(catalog, ['not there'])).toBe(catalog)
  })
  test('counts for the rules', () => {
    const plan = doAll(smallPlan(insert('a', 1, 'DI'), insert('b', 2, 'DI')), catalog, {
      type: 'setProject',
      set: { supplements: taken },
    })
    expect(filesOfPlan(plan).sort()).toEqual(['adds', 'tv'])
    expect(check(derive(plan, catalog)).all.map(({ code }) => code)).not.toContain('station.supply')
    expect(check(derive(plan, supplemented(catalog, taken))).all.map(({ code }) => code)).toContain(
      'station.supply',
    )
  })
  test('may be named by its file name in a script', () => {
    const result = runCommandScript(
      smallPlan(),
      catalog,
      [{ name: 'b.json', sha256: 'adds' }],
      '{"type":"setProject","set":{"supplements":["b.json"]}}',
    )
    expect('plan' in result && result.plan.project.supplements).toEqual(['adds'])
  })
  test.each([
    ['no order number', [{ currentMa: 1 }], 'sheet.value'],
    ['nothing to add', [], 'sheet.value'],
    ['switches that are none', [{ orderNumber: 'a', switches: { style: 'wheel' } }], 'sheet.value'],
  ])('%s is refused with its place', (_, adds, code) =>
    expect(sheet(adds)).toMatchObject({ file: null, problems: [{ code, line: 1 }] }),
  )
  test('finds a module by its name where it has no order number', () => {
    const named = sheet([{ module: 'name of ao', currentMa: 70 }]).file!
    const files = new Map([
      [
        'tv',
        {
          ...smallCatalog.get('tv')!,
          modules: smallCatalog.get('tv')!.modules.map((one) => ({ ...one, orderNumber: null })),
        },
      ],
      ['adds', named],
    ])
    expect(
      supplemented(files, taken)
        .get('tv')!
        .modules.map(({ currentMa }) => currentMa),
    ).toEqual([null, 70])
  })
  test('an order number that stands twice is told', () => {
    expect(sheet([{ orderNumber: 'a' }, { orderNumber: 'A' }]).problems).toMatchObject([
      { code: 'id.duplicate' },
    ])
  })
  test('what a described device has of switches is read like a sheet’s own', () => {
    expect(file.problems.map(({ message }) => message)).toEqual([])
    expect(file.file!.supplements).toHaveLength(2)
  })
})
