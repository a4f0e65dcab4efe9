import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'

const root = fileURLToPath(new URL('..', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'kataxis-import-'))
afterAll(() => rmSync(folder, { recursive: true }))
const at = (name: string) => join(folder, name)
const demo = ['--files', 'demo/shelf', '--files', 'demo']
function kataxis(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['cli/kataxis.mjs', ...args], {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 64e6,
  })
  return { status, stderr, said: () => JSON.parse(stdout) as Record<string, { at: string }[]> }
}
const none = { contract: 1, added: [], changed: [], removed: [], unclear: [] }

beforeAll(() => {
  kataxis('apply', 'new', 'demo/skarvholm.ndjson', ...demo, '--out', at('plan.json'))
})

const twoWay = ['csv', 'xlsx', 'plcopen', 'iec61131-10', 'caex', 'kataxis', 'archive']

describe('npx kataxis import', () => {
  test('the formats that come back are those of the list', () => {
    const { formats } = kataxis('export', '--list').said() as unknown as {
      formats: { name: string; comesBack: boolean }[]
    }
    const back = formats.filter(({ comesBack }) => comesBack).map(({ name }) => name)
    expect(back.toSorted()).toEqual(twoWay.toSorted())
  })
  test.each(twoWay)('%s: what went out says nothing new', (format) => {
    expect(
      kataxis('export', at('plan.json'), ...demo, '--as', format, '--out', at(format)).status,
    ).toBe(1)
    const { status, said } = kataxis(
      'import',
      at(format),
      ...['--into', at('plan.json')],
      ...demo,
      '--dry-run',
    )
    expect([status, said()]).toEqual([0, none])
  })
  test('a list edited by hand: one entry a signal, and the plan written says what the list says', () => {
    kataxis('export', at('plan.json'), ...demo, '--as', 'csv', '--out', at('list.csv'))
    const lines = readFileSync(at('list.csv'), 'utf8').split('\r\n')
    const edited = lines
      .filter((line) => !line.includes('INT_P102_Flt'))
      .map((line) =>
        line.includes('INT_P101_Run')
          ? line.replace('Intake pump 1: running', 'Pump 1 runs')
          : line,
      )
    const columns = lines[0]!.replace('\ufeff', '').split(',')
    edited.splice(-1, 0, columns.map((name) => (name === 'Tag' ? 'NEW_1' : '')).join(','))
    edited.splice(-1, 0, columns.map((name) => (name === 'Tag' ? 'no tag' : '')).join(','))
    writeFileSync(at('edited.csv'), edited.join('\r\n'))
    const into = ['--into', at('plan.json'), ...demo]
    const before = readFileSync(at('plan.json'), 'utf8')
    const dry = kataxis('import', at('edited.csv'), ...into, '--dry-run')
    const { status, said } = kataxis('import', at('edited.csv'), ...into, '--out', at('new.json'))
    expect(status).toBe(1)
    expect(said()).toEqual(dry.said())
    expect(said()).toMatchObject({
      added: [{ what: 'tag NEW_1' }],
      changed: [{ what: 'comment Intake pump 1: running → Pump 1 runs' }],
      removed: [{ what: 'not in the list' }],
      unclear: [{ why: expect.stringContaining('no tag') }],
    })
    expect(readFileSync(at('plan.json'), 'utf8')).toBe(before)
    kataxis('export', at('new.json'), ...demo, '--as', 'csv', '--out', at('again.csv'))
    const again = readFileSync(at('again.csv'), 'utf8')
    expect(again).toContain('Pump 1 runs')
    expect(again).toContain('NEW_1')
    expect(again).not.toContain('INT_P102_Flt')
    const kept = kataxis('import', at('edited.csv'), ...into, '--keep', '--dry-run').said()
    expect(kept['removed']).toEqual([])
  })
  test.each([
    ['no such file', ['import', 'missing.csv', '--into', 'x', '--dry-run'], 'There is no file'],
    ['nowhere to write', ['import', 'package.json', '--into', 'x'], '--out FILE is needed'],
  ])('%s', (_, args, sentence) => {
    const { status, stderr } = kataxis(...args)
    expect([status, stderr]).toEqual([2, expect.stringContaining(sentence)])
  })
  test('a DOCTYPE is refused with its place, and options with the word', () => {
    writeFileSync(at('bomb.xml'), '<!DOCTYPE a [<!ENTITY b "c">]><project>&b;</project>')
    expect(
      kataxis('import', at('bomb.xml'), '--into', at('plan.json'), '--dry-run').stderr,
    ).toContain('DOCTYPE')
    const wrong = ['--as', 'csv', '--out', at('x'), '--option', 'separator=&']
    const { status, stderr } = kataxis('export', at('plan.json'), ...demo, ...wrong)
    expect([status, stderr]).toEqual([2, expect.stringContaining('separator')])
  })
})
