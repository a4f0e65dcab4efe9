import { describe, expect, test } from 'vitest'
import type { ShelfFile } from '../../api/client'
import { groupFiles, type GroupingName } from './grouping'

const file = (name: string, summary: Partial<ShelfFile['summary']>): ShelfFile => ({
  sha256: name,
  name,
  bytes: 1,
  addedAt: '',
  summary: {
    format: 'gsd',
    formatVersion: null,
    vendor: 'Ostrel Drives',
    family: '',
    protocol: 'profibus',
    languages: [],
    devices: [],
    heads: 1,
    modules: 0,
    adds: 0,
    parameters: 0,
    offers: [],
    errors: 0,
    warnings: 0,
    ...summary,
  },
})
const files = [
  file('b.gsd', { family: 'Pumps', offers: ['DI', 'AO'] }),
  file('a.eds', {
    format: 'eds',
    vendor: 'Brackwater Instruments',
    family: 'Rack',
    protocol: 'ethernet-ip',
    offers: ['DI', 'fail-safe'],
  }),
  file('a.gsd', { family: 'Pumps' }),
  file('x.json', { format: 'sheet', vendor: '', protocol: null }),
]

describe('the Shelf sorted by', () => {
  test.each<[GroupingName, [string, string[]][]]>([
    [
      'maker',
      [
        ['Brackwater Instruments', ['a.eds']],
        ['Ostrel Drives', ['a.gsd', 'b.gsd']],
        ['Unnamed maker', ['x.json']],
      ],
    ],
    [
      'network',
      [
        ['EtherNet/IP', ['a.eds']],
        ['PROFIBUS DP', ['a.gsd', 'b.gsd']],
        ['Without a network', ['x.json']],
      ],
    ],
    [
      'family',
      [
        ['Pumps', ['a.gsd', 'b.gsd']],
        ['Rack', ['a.eds']],
        ['Without a family', ['x.json']],
      ],
    ],
    [
      'format',
      [
        ['Device sheet', ['x.json']],
        ['EDS', ['a.eds']],
        ['GSD', ['a.gsd', 'b.gsd']],
      ],
    ],
    [
      'offers',
      [
        ['Analog outputs', ['b.gsd']],
        ['Digital inputs', ['b.gsd', 'a.eds']],
        ['Fail-safe', ['a.eds']],
        ['No named data', ['x.json', 'a.gsd']],
      ],
    ],
  ])('%s', (by, expected) => {
    expect(
      groupFiles(files, by).map(({ name, files: own }) => [name, own.map((entry) => entry.name)]),
    ).toEqual(expected)
  })
})
