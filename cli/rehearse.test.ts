import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { gsdml } from '../core/test/gsdml'

const root = fileURLToPath(new URL('..', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'kataxis-rehearse-'))
afterAll(() => rmSync(folder, { recursive: true }))
const at = (name: string) => join(folder, name)
const demo = ['--files', 'demo/shelf', '--files', 'demo']
function kataxis(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/kataxis.mjs', ...args], {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 64e6,
  })
  return { status, stderr, stdout, said: () => JSON.parse(stdout) as Said }
}
interface Said {
  readonly contract: number
  readonly steps: { step: string; findings: { code: string; station: string | null }[] }[]
  readonly stations: { name: string; state: string; mac: string | null; address: string | null }[]
  readonly signals: { tag: string; verdict: string }[]
  readonly frames: number
}
const differ = (name: string, list: unknown) => {
  writeFileSync(at(name), typeof list === 'string' ? list : JSON.stringify(list))
  return ['--differences', at(name)]
}

beforeAll(() => {
  kataxis('apply', 'new', 'demo/skarvholm.ndjson', ...demo, '--out', at('plan.json'))
  const name = 'GSDML-V2.35-TarnVey-TV-20260101.xml'
  writeFileSync(at(name), gsdml())
  const commands = [
    { type: 'addController', id: 'k1', name: 'K1' },
    { type: 'addNetwork', id: 'n1', controllerId: 'k1', name: 'N1', controllerIp: '10.0.0.1' },
    { type: 'addStation', id: 's1', networkId: 'n1', file: name, device: 'DAP' },
    { type: 'updateStation', id: 's1', set: { name: 'pump-1', settings: { ip: '10.0.0.2' } } },
    { type: 'insertModule', id: 'm1', stationId: 's1', slot: 1, module: 'DI' },
  ]
  writeFileSync(at('small.ndjson'), commands.map((one) => JSON.stringify(one)).join('\n'))
  kataxis('apply', 'new', at('small.ndjson'), '--files', folder, '--out', at('small.json'))
}, 120_000)

describe('npx kataxis rehearse', () => {
  test('the shape of the contract, with every step', () => {
    const { status, said } = kataxis('rehearse', at('plan.json'), ...demo)
    const { contract, steps, stations, signals, frames } = said()
    expect([contract, status, steps.map(({ step }) => step)]).toEqual([
      1,
      1,
      ['scan', 'match', 'assign', 'compare', 'start', 'check'],
    ])
    for (const { findings } of steps)
      for (const finding of findings)
        expect(Object.keys(finding).sort()).toEqual(
          ['code', 'message', 'remedy', 'severity', 'slot', 'station', 'tag'].sort(),
        )
    expect(new Set(stations.map(({ state }) => state))).toEqual(new Set(['running', 'fault']))
    expect(Object.keys(signals[0]!).sort()).toEqual(
      'address electrical expected quality raw tag unit value verdict why'.split(' '),
    )
    expect(frames).toBeGreaterThan(1000)
  })

  test('a plan without blockers, as planned: exit code 0', () => {
    const { status, said } = kataxis('rehearse', at('small.json'), '--files', folder)
    expect(said().stations).toMatchObject([
      { name: 'pump-1', state: 'running', address: '10.0.0.2' },
    ])
    expect(status).toBe(0)
  })

  test.each([
    ['scan', ['scan']],
    ['compare', ['scan', 'match', 'assign', 'compare']],
  ])('--until %s ends there', (until, steps) => {
    const { said } = kataxis('rehearse', at('small.json'), '--files', folder, '--until', until)
    expect(said().steps.map(({ step }) => step)).toEqual(steps)
    expect(said().signals).toEqual([])
    expect(said().stations[0]!.state).toBe('as planned')
  })

  test('differences are found; the same call gives the same', () => {
    const args = [
      'rehearse',
      at('small.json'),
      '--files',
      folder,
      ...differ('d.json', [{ kind: 'missing', station: 'pump-1' }]),
    ]
    const { status, said, stdout } = kataxis(...args)
    expect(status).toBe(1)
    expect(said().steps[1]!.findings).toMatchObject([{ code: 'match.missing', station: 'pump-1' }])
    expect(said().stations).toMatchObject([{ state: 'missing', mac: null, address: null }])
    expect(kataxis(...args).stdout).toBe(stdout)
  })

  test('the capture is a capture file, the same for the same call', () => {
    const args = ['rehearse', at('small.json'), '--files', folder, '--capture']
    kataxis(...args, at('one.pcap'))
    kataxis(...args, at('two.pcap'))
    const capture = readFileSync(at('one.pcap'))
    expect(capture.readUInt32LE(0)).toBe(0xa1b2c3d4)
    expect(capture.equals(readFileSync(at('two.pcap')))).toBe(true)
  })

  test.each([
    ['a step that there is not', ['--until', 'lunch'], 'lunch'],
    ['no JSON', differ('bad.json', '{'), 'bad.json'],
    ['an unknown kind', differ('kind.json', [{ kind: 'haunted' }]), 'kind.json'],
    [
      'an unknown station',
      differ('who.json', [{ kind: 'stopped', station: 'x' }]),
      'no station "x"',
    ],
    ['--serve without --ports', ['--serve'], '--ports'],
  ])('%s: exit code 2 and a sentence', (_, args, part) => {
    const { status, stderr, stdout } = kataxis(
      'rehearse',
      at('small.json'),
      '--files',
      folder,
      ...args,
    )
    expect([status, stdout]).toEqual([2, ''])
    expect(stderr).toContain(part)
  })

  test('--serve writes its ports, answers, and prints its JSON when it is told to stop', async () => {
    const child = spawn(
      process.execPath,
      [
        'cli/kataxis.mjs',
        'rehearse',
        at('plan.json'),
        ...demo,
        '--serve',
        '--ports',
        at('ports.json'),
        '--capture',
        at('served.pcap'),
      ],
      { cwd: root },
    )
    let printed = ''
    child.stdout.on('data', (chunk: Buffer) => (printed += chunk.toString()))
    const ended = new Promise((done) => child.once('exit', done))
    await vi.waitFor(() => expect(existsSync(at('ports.json'))).toBe(true), { timeout: 60_000 })
    const ports = JSON.parse(readFileSync(at('ports.json'), 'utf8')) as {
      station: string
      protocol: string
      port: number
      unit: number | null
    }[]
    const { port } = ports.find(({ protocol }) => protocol === 'modbus-tcp')!
    const answer = await new Promise<Buffer>((done, fail) => {
      const socket = connect(port, '127.0.0.1', () =>
        socket.write(Buffer.from('000700000006010400000002', 'hex')),
      )
      socket.once('data', done).once('error', fail)
    })
    expect(answer.subarray(0, 9).toString('hex')).toBe('000700000007010404')
    expect(printed).toBe('')
    child.kill('SIGTERM')
    await ended
    expect((JSON.parse(printed) as Said).contract).toBe(1)
    expect(existsSync(at('served.pcap'))).toBe(true)
  }, 90_000)
})
