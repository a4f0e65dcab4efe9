import { describe, expect, test } from 'vitest'
import { smallCatalog } from '../test/plans'
import { newPlan, runCommandScript } from './command-script'

const files = [{ name: 'tv.xml', sha256: 'tv' }]
const run = (...lines: (object | string)[]) =>
  runCommandScript(
    newPlan('p', 'P'),
    smallCatalog,
    files,
    lines.map((line) => (typeof line === 'string' ? line : JSON.stringify(line))).join('\n'),
  )
const controller = { type: 'addController', id: 'k', name: 'K' }
const network = {
  type: 'addNetwork',
  id: 'n',
  controllerId: 'k',
  name: 'N',
  controllerIp: '10.0.0.1',
}
const station = { type: 'addStation', id: 's', networkId: 'n', file: 'tv.xml', device: 'DAP' }

describe('a command script', () => {
  test('takes file names for hashes, also inside a batch, and passes over empty lines', () => {
    const result = run(
      controller,
      '',
      network,
      { type: 'batch', label: 'b', commands: [station] },
      '',
    )
    expect(result).toMatchObject({
      plan: { stations: { s: { station: { file: 'tv', name: 'tv-1' } } } },
    })
  })

  test.each([
    ['text that is no JSON', [controller, '{'], 2, 'not JSON'],
    ['a command nobody knows', [{ type: 'fly' }], 1, 'type'],
    [
      'a value of the wrong kind',
      [controller, '', { ...network, prefixLength: 'x' }],
      3,
      'prefixLength',
    ],
    [
      'a refused command',
      [controller, network, { ...station, device: 'NO' }],
      3,
      'no head module "NO"',
    ],
  ])('stops at %s and names the line', (_, lines, line, part) => {
    expect(run(...lines)).toEqual({ line, fault: expect.stringContaining(part) })
  })
})
