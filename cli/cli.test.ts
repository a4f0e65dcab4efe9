import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { strToU8, zipSync } from 'fflate'
import { afterAll, describe, expect, test } from 'vitest'
import { gsdml } from '../core/test/gsdml'

const root = fileURLToPath(new URL('..', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'kataxis-cli-'))
afterAll(() => rmSync(folder, { recursive: true }))
const write = (name: string, text: string) => {
  writeFileSync(join(folder, name), text)
  return join(folder, name)
}
function kataxis(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/kataxis.mjs', ...args], {
    cwd: root,
    encoding: 'utf8',
  })
  return { status, stdout, stderr, json: () => JSON.parse(stdout) as Record<string, unknown> }
}

const name = 'GSDML-V2.35-TarnVey-TV-20260101.xml'
const good = write(name, gsdml())
const commands = [
  { type: 'addController', id: 'k1', name: 'K1' },
  { type: 'addNetwork', id: 'n1', controllerId: 'k1', name: 'N1', controllerIp: '10.0.0.1' },
  { type: 'addStation', id: 's1', networkId: 'n1', file: name, device: 'DAP' },
  { type: 'insertModule', id: 'm1', stationId: 's1', slot: 1, module: 'DI' },
].map((command) => JSON.stringify(command))
const script = write('commands.ndjson', commands.join('\n'))
const plan = join(folder, 'plan.json')

describe('npx kataxis', () => {
  test('read prints the contract’s shape', () => {
    const { status, json } = kataxis('read', good)
    expect(status).toBe(0)
    expect(json()).toMatchObject({
      contract: 1,
      format: 'gsdml',
      file: { name, sha256: expect.stringMatching(/^[0-9a-f]{64}$/) },
      devices: [
        {
          key: 'DAP',
          protocol: 'profinet',
          connections: [],
          parameters: [],
          slots: [
            { slot: 1, fixed: null, default: null, allowed: ['DI'] },
            { slot: 2 },
            { slot: 3 },
            { slot: 4 },
          ],
        },
      ],
      modules: [
        {
          key: 'DI',
          ident: 16,
          inputBytes: 1,
          outputBytes: 0,
          configuration: null,
          currentMa: null,
        },
        { key: 'AO', outputBytes: 4 },
      ],
      problems: [],
    })
  }, 30_000)

  test('apply, check, image and export work on what the others write', () => {
    expect(kataxis('apply', 'new', script, '--files', folder, '--out', plan)).toMatchObject({
      status: 0,
      stdout: '',
    })
    expect(kataxis('check', plan).json()).toMatchObject({
      contract: 1,
      blockers: 0,
      warnings: 0,
      notes: 1,
      findings: [
        { code: 'channels.unnamed', severity: 'note', at: { station: 'tv-1' }, fixes: [] },
      ],
    })
    expect(kataxis('image', plan, '--notation', 'plain').json()).toMatchObject({
      contract: 1,
      controllers: [
        {
          name: 'K1',
          inputBytes: 1,
          items: [{ station: 'tv-1', slot: 1, address: 'in 0.0' }, {}, {}, {}, {}, {}, {}, {}],
        },
      ],
    })
    expect(
      kataxis('export', plan, '--as', 'kataxis', '--out', join(folder, 'again.json')).status,
    ).toBe(0)
    expect(kataxis('check', join(folder, 'again.json')).status).toBe(0)
  }, 60_000)

  test('networks prints links, times and what a failure costs', () => {
    write(
      'supply.sheet.json',
      JSON.stringify({
        kataxisSheet: 2,
        maker: 'TarnVey',
        name: 'G5',
        network: 'passive',
        source: { currentMa: 5000 },
      }),
    )
    const line = write(
      'line.ndjson',
      [
        ...commands.slice(0, 2),
        ...['a', 'b', 'c'].map((id) =>
          JSON.stringify({
            type: 'addStation',
            id,
            networkId: 'n1',
            file: name,
            device: 'DAP',
            name: id,
          }),
        ),
        JSON.stringify({ type: 'insertModule', id: 'm', stationId: 'c', slot: 1, module: 'DI' }),
        JSON.stringify({
          type: 'editSignals',
          edits: [
            {
              id: 'x',
              tag: 'LT_1',
              place: { moduleId: 'm', subslot: 1, direction: 'in', offsetBits: 0 },
            },
          ],
        }),
        JSON.stringify({ type: 'closeRing', networkId: 'n1' }),
        JSON.stringify({
          type: 'addNetwork',
          id: 's',
          controllerId: 'k1',
          name: 'S',
          kind: 'passive',
        }),
        JSON.stringify({
          type: 'addStation',
          id: 'g',
          networkId: 's',
          file: 'supply.sheet.json',
          device: 'G5',
          name: 'G1',
        }),
        JSON.stringify({
          type: 'setFeeds',
          edits: [
            { at: { node: 'c' }, set: { from: 'g', currentMa: 2000, lengthM: 30, mm2: 1.5 } },
          ],
        }),
      ].join('\n'),
    )
    const out = join(folder, 'line.json')
    expect(kataxis('apply', 'new', line, '--files', folder, '--out', out).status).toBe(0)
    const { status, json } = kataxis('networks', out, '--lose', 'c', '--cut', 'b:1')
    // The small head takes no part in rings by its description.
    expect(status).toBe(1)
    expect(json()).toMatchObject({
      contract: 1,
      networks: [
        {
          name: 'N1',
          kind: 'profinet',
          bitRate: 100_000_000,
          links: [
            { id: 'a:1', from: { node: 'a', port: 1 }, to: { node: 'K1', port: 1 } },
            { id: 'b:1' },
            { id: 'c:1' },
            { id: 'c:2', to: { node: 'K1', port: 2 }, towards: 0 },
          ],
          stations: [
            { name: 'a', hops: 0, frameBytes: { in: 88, out: 88 }, ridesThrough: false },
            { name: 'b', hops: 1 },
            { name: 'c', hops: 2 },
          ],
          cycleUs: null,
          packetsPerSecond: null,
          segments: [],
          ring: { closed: true, nodes: 4, manager: 'K1', reconfigurationUs: 200_000 },
          findings: expect.arrayContaining([expect.objectContaining({ code: 'ring.watchdog' })]),
        },
      ],
      power: [
        {
          supply: 'G1',
          capacityMa: 5000,
          usedMa: 2000,
          stations: ['c'],
          // 30 m of 1.5 mm², flexible, at 2 A: 1.60 V (13.3 Ω/km by IEC 60228).
          feeds: [{ station: 'c', volts: expect.closeTo(24 - 1.596, 9) }],
        },
      ],
      whatIf: { unreachable: ['b', 'c'], drops: [], signals: ['LT_1'], ridesThrough: [] },
    })
    expect(kataxis('networks', out, '--lose-supply', 'G1').json()).toMatchObject({
      whatIf: { unreachable: ['c'], signals: ['LT_1'], unfed: [] },
    })
    expect(kataxis('networks', out, '--lose-supply', 'G2')).toMatchObject({
      status: 2,
      stderr: '--lose-supply: the plan has no supply "G2".\n',
    })
    expect(kataxis('networks', out, '--cut', 'nothing')).toMatchObject({
      status: 2,
      stderr: '--cut: the plan has no link "nothing".\n',
    })
  }, 60_000)

  test('export lists its formats, and says what is missing', () => {
    const { status, json } = kataxis('export', '--list')
    expect(status).toBe(0)
    const { contract, formats } = json() as {
      contract: number
      formats: { name: string; comesBack: boolean }[]
    }
    expect(contract).toBe(1)
    expect(formats).toContainEqual({
      name: 'hosts',
      mediaType: 'text/plain; charset=utf-8',
      extension: 'hosts',
      comesBack: false,
    })
    expect(kataxis('export', 'plan.json')).toMatchObject({
      status: 2,
      stderr: 'A plan, --as FORMAT and --out FILE are needed, or --list.\n',
    })
  })

  // What a bus analyser shows: octets of EN 50170 and of the MODBUS Application Protocol V1.1b3
  // (from memory).
  test('telegrams prints what goes over the wire', () => {
    const wire = write(
      'wire.ndjson',
      [
        { type: 'addController', id: 'k1', name: 'K1' },
        { type: 'addNetwork', id: 'dp', controllerId: 'k1', name: 'DP', kind: 'profibus' },
        {
          type: 'addStation',
          id: 's1',
          networkId: 'dp',
          file: 'BRCK0F31.gsd',
          device: 'BW-DP Head',
          name: 'bus',
        },
        { type: 'insertModule', id: 's1.1', stationId: 's1', slot: 1, module: '2' },
        { type: 'insertModule', id: 's1.2', stationId: 's1', slot: 2, module: '3' },
        { type: 'addNetwork', id: 'rtu', controllerId: 'k1', name: 'RTU', kind: 'modbus-rtu' },
        {
          type: 'addStation',
          id: 'm1',
          networkId: 'rtu',
          file: 'ostrel-wellmeter.sheet.json',
          device: 'OD-WM3',
          name: 'meter',
        },
      ]
        .map((command) => JSON.stringify(command))
        .join('\n'),
    )
    const out = join(folder, 'wire.json')
    expect(kataxis('apply', 'new', wire, '--files', 'demo/shelf', '--out', out)).toMatchObject({
      status: 0,
      stderr: '',
    })
    const { status, json } = kataxis('telegrams', out, '--files', 'demo/shelf')
    expect(status).toBe(0)
    expect(json()).toMatchObject({
      contract: 1,
      networks: [
        {
          name: 'DP',
          kind: 'profibus',
          stations: [
            {
              name: 'bus',
              chkCfg: '11 20',
              setPrm: expect.stringMatching(/^88 0a 01 0b 0f 31 00 /),
            },
          ],
        },
        {
          name: 'RTU',
          kind: 'modbus-rtu',
          stations: [
            {
              name: 'meter',
              requests: expect.arrayContaining([
                expect.objectContaining({
                  function: expect.any(Number),
                  pdu: expect.stringMatching(/^0[1-46] /),
                }),
              ]),
            },
          ],
        },
      ],
    })
  }, 60_000)

  test('nothing applied changes no byte', () => {
    kataxis('apply', 'new', script, '--files', folder, '--out', plan)
    const before = readFileSync(plan, 'utf8')
    const nothing = write('nothing.ndjson', '\n')
    for (let i = 0; i < 2; i++)
      expect(kataxis('apply', plan, nothing, '--files', folder, '--out', plan).status).toBe(0)
    expect(readFileSync(plan, 'utf8')).toBe(before)
    expect(JSON.parse(before)).toMatchObject({ files: [{ name }] })
  }, 60_000)

  test('the documented commands run', () => {
    const documented = readFileSync(join(root, 'docs/command-line.md'), 'utf8')
      .split('\n')
      .filter((line) => line.startsWith('npx kataxis '))
    expect(documented.length).toBeGreaterThan(1)
    for (const line of documented) {
      const args = line
        .split(' ')
        .slice(2)
        .map((word) => (word === 'plan.json' ? join(folder, 'documented.json') : word))
      // 1: done, with the blockers that the demo has.
      expect(kataxis(...args), line).toMatchObject({
        status: args[0] === 'check' ? 1 : 0,
        stderr: '',
      })
    }
  }, 120_000)

  test.each([
    [
      'a reference to nothing',
      () => [
        'read',
        write(
          'one.xml',
          gsdml({ useable: '<ModuleItemRef ModuleItemTarget="NO" AllowedInSlots="1"/>' }),
        ),
      ],
      1,
      '',
    ],
    ['a file cut off', () => ['read', write('cut.xml', gsdml().slice(0, 900))], 2, 'line '],
    ['no file', () => ['read', join(folder, 'none.xml')], 2, 'There is no file'],
    ['no command', () => ['fly'], 2, 'fly'],
    [
      'a command that is refused',
      () => [
        'apply',
        'new',
        write('bad.ndjson', [...commands, commands[3]!.replace('m1', 'm2')].join('\n')),
        '--files',
        folder,
        '--out',
        plan,
      ],
      1,
      'Line 5: Slot 1 of tv-1 already holds',
    ],
    ['a plan that is none', () => ['check', script], 2, 'project file'],
    ['an unknown export', () => ['export', plan, '--as', 'papyrus', '--out', 'x'], 2, 'papyrus'],
  ] as [string, () => string[], number, string][])(
    '%s',
    (_, args, status, sentence) => {
      const result = kataxis(...args())
      expect(result.status).toBe(status)
      expect(result.stderr).toContain(sentence)
      expect(result.stderr).not.toMatch(/\n\s+at /)
      expect(result.stderr.trim().split('\n').length).toBeLessThanOrEqual(1)
    },
    30_000,
  )

  const gsd = write(
    'tv.gsd',
    `#Profibus_DP
Vendor_Name = "Tarn"
Model_Name = "TV"
Ident_Number = 1
Modular_Station = 1
Max_Module = 2
ExtUserPrmData = 1 "Filter"
Unsigned16 10 0-100
EndExtUserPrmData
Module = "AI" 0x50
1
Ext_User_Prm_Data_Const(0) = 0xAA,0x00,0x00
Ext_User_Prm_Data_Ref(1) = 1
EndModule
`,
  )
  test.each([
    ['the default record', [gsd, '1'], 0, { index: null, bytes: 'aa 00 0a' }],
    ['a value by key', [gsd, '1', '--set', '1=100'], 0, { index: null, bytes: 'aa 00 64' }],
    [
      'a value by name, the last one wins',
      [gsd, '1', '--set', 'Filter=5', '--set', 'Filter=0x06'],
      0,
      { bytes: 'aa 00 06' },
    ],
    [
      'a value that is not allowed',
      [gsd, '1', '--set', 'Filter=101'],
      1,
      { problems: [{ code: 'parameter.range', message: 'Filter is 101; 0..100 is allowed.' }] },
    ],
    [
      'a value that is no number',
      [gsd, '1', '--set', 'Filter=a=b'],
      1,
      { problems: [{ message: 'Filter is "a=b"; a number is needed.' }] },
    ],
  ])(
    'encode gives %s',
    (_, args, status, expected) => {
      const result = kataxis('encode', ...args)
      expect(result.status).toBe(status)
      expect(result.json()).toMatchObject(expected)
    },
    30_000,
  )

  test.each([
    [['no-module']],
    [['1', '--record', '7']],
    [['1', '--set', 'Nothing=1']],
    [['1', '--set', '=']],
  ])(
    'encode cannot do %j',
    (args) => {
      const result = kataxis('encode', gsd, ...args)
      expect([result.status, result.stdout, result.stderr.trim().split('\n').length]).toEqual([
        2,
        '',
        1,
      ])
    },
    30_000,
  )

  test('read looks into a package', () => {
    const path = join(folder, 'tv.zip')
    writeFileSync(
      path,
      zipSync({ 'some/tv.gsd': strToU8(readFileSync(gsd, 'utf8')), 'some/logo.png': strToU8('x') }),
    )
    expect(kataxis('read', path).json()).toMatchObject({
      format: 'gsd',
      file: { name: 'tv.zip' },
      entry: 'tv.gsd',
      modules: [{ key: '1', ident: 1, configuration: '50' }],
    })
  }, 30_000)

  test('the published schema of device sheets is the one that is read by', () => {
    expect(kataxis('schema', '--sheet').stdout).toBe(
      readFileSync(join(root, 'docs/device-sheet.schema.json'), 'utf8'),
    )
  }, 30_000)

  test.each([[[]], [['--commands']], [['--sheet']]])(
    'schema %j is JSON Schema',
    (options) => {
      expect(kataxis('schema', ...options).json()['$schema']).toContain('json-schema.org')
    },
    30_000,
  )
})
