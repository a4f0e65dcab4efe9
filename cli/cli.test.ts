import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
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
  const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/kataxis.mjs', ...args], { cwd: root, encoding: 'utf8' })
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
      contract: 1, format: 'gsdml', file: { name, sha256: expect.stringMatching(/^[0-9a-f]{64}$/) },
      devices: [{ key: 'DAP', protocol: 'profinet', connections: [], parameters: [], slots: [{ slot: 1, fixed: null, default: null, allowed: ['DI'] }, { slot: 2 }, { slot: 3 }, { slot: 4 }] }],
      modules: [{ key: 'DI', ident: 16, inputBytes: 1, outputBytes: 0, configuration: null, currentMa: null }, { key: 'AO', outputBytes: 4 }],
      problems: [],
    })
  }, 30_000)

  test('apply, check, image and export work on what the others write', () => {
    expect(kataxis('apply', 'new', script, '--files', folder, '--out', plan)).toMatchObject({ status: 0, stdout: '' })
    expect(kataxis('check', plan).json()).toMatchObject({ contract: 1, blockers: 0, warnings: 0, notes: 1, findings: [{ code: 'channels.unnamed', severity: 'note', at: { station: 'tv-1' }, fixes: [] }] })
    expect(kataxis('image', plan, '--notation', 'plain').json()).toMatchObject({ contract: 1, controllers: [{ name: 'K1', inputBytes: 1, items: [{ station: 'tv-1', slot: 1, address: 'in 0.0' }, {}, {}, {}, {}, {}, {}, {}] }] })
    expect(kataxis('export', plan, '--as', 'kataxis', '--out', join(folder, 'again.json')).status).toBe(0)
    expect(kataxis('check', join(folder, 'again.json')).status).toBe(0)
  }, 60_000)

  test.each([
    ['a reference to nothing', () => ['read', write('one.xml', gsdml({ useable: '<ModuleItemRef ModuleItemTarget="NO" AllowedInSlots="1"/>' }))], 1, ''],
    ['a file cut off', () => ['read', write('cut.xml', gsdml().slice(0, 900))], 2, 'line '],
    ['no file', () => ['read', join(folder, 'none.xml')], 2, 'There is no file'],
    ['no command', () => ['fly'], 2, 'fly'],
    ['a command that is refused', () => ['apply', 'new', write('bad.ndjson', [...commands, commands[3]!.replace('m1', 'm2')].join('\n')), '--files', folder, '--out', plan], 1, 'Line 5: Slot 1 of tv-1 already holds'],
    ['a plan that is none', () => ['check', script], 2, 'project file'],
    ['an unknown export', () => ['export', plan, '--as', 'papyrus', '--out', 'x'], 2, 'papyrus'],
  ] as [string, () => string[], number, string][])('%s', (_, args, status, sentence) => {
    const result = kataxis(...args())
    expect(result.status).toBe(status)
    expect(result.stderr).toContain(sentence)
    expect(result.stderr).not.toMatch(/\n\s+at /)
    expect(result.stderr.trim().split('\n').length).toBeLessThanOrEqual(1)
  }, 30_000)

  test.each([[[]], [['--commands']]])('schema %j is JSON Schema', (options) => {
    expect(kataxis('schema', ...options).json()['$schema']).toContain('json-schema.org')
  }, 30_000)
})
