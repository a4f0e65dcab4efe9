import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { mediumNames } from '../vocabulary/medium'
import { readLinkTable, writeLinkTable } from './link-table'

const nodes = ['K1', 'intake-a', 'intake-b', 'Screen 1'].map((name, i) => ({ id: `n${i}`, name }))
const read = (...rows: string[]) => readLinkTable(rows.join('\n'), nodes)

describe('a pasted list of links', () => {
  test('has headings in any order, units, and names in any case', () => {
    expect(
      read(
        'Label;Length (m);To;To port;From;From port;Cable;Medium',
        'W1;12,5 m;k1;1;INTAKE-A;Port 1;Type B;plastic fibre',
      ),
    ).toEqual({
      links: [
        {
          from: { node: 'n1', port: 1 },
          to: { node: 'n0', port: 1 },
          set: { medium: 'fibre-plastic', lengthM: 12.5, cable: 'Type B', label: 'W1' },
        },
      ],
      faults: [],
    })
  })

  test.each([
    ['intake-a\t1\tnobody\t2', '"nobody" is no node of this network'],
    ['intake-a\tx\tK1\t1', '"x" is no number of a port'],
    ['intake-a\t1\tintake-a\t2', 'intake-a is linked to itself'],
    ['intake-a\t1\tK1\t1\trope', '"rope" is no medium'],
    ['intake-a\t1\tK1\t1\tCopper\tlong', '"long" is no length in metres'],
    ['intake-a\t1\tK1\t1\tCopper\t-3', '"-3" is no length in metres'],
  ])('%s is told with its line', (row, words) => {
    const { links, faults } = read('intake-b\t1\tK1\t2', row)
    expect(links).toHaveLength(1)
    expect(faults).toEqual([{ line: 2, sentence: expect.stringContaining(`Line 2: ${words}`) }])
  })

  test('a port that two rows name is told', () =>
    expect(read('intake-a\t1\tK1\t1', 'intake-b\t1\tK1\t1').faults).toEqual([
      { line: 2, sentence: 'Line 2: one of its ports has a partner in line 1 already.' },
    ]))

  test('is read as it was written', () => {
    const text = fc.string({ unit: fc.constantFrom(...'abcW0189 -/'), maxLength: 12 })
    const link = fc.record({
      medium: fc.constantFrom(...mediumNames),
      lengthM: fc.option(fc.integer({ min: 0, max: 100_000 })),
      cable: text.map((one) => one.trim()),
      label: text.map((one) => one.trim()),
      connectors: fc.constant(0),
    })
    fc.assert(
      fc.property(fc.array(link, { maxLength: 2 }), (all) => {
        const rows = all.map((one, i) => ({
          from: { name: nodes[i + 1]!.name, port: 1 },
          to: { name: nodes[0]!.name, port: i + 1 },
          link: { ...one, to: { node: 'n0', port: i + 1 } },
        }))
        const { links, faults } = readLinkTable(writeLinkTable(rows), nodes)
        expect(faults).toEqual([])
        expect(links).toEqual(
          all.map(({ medium, lengthM, cable, label }, i) => ({
            from: { node: `n${i + 1}`, port: 1 },
            to: { node: 'n0', port: i + 1 },
            set: {
              medium,
              ...(lengthM !== null && { lengthM }),
              ...(cable !== '' && { cable }),
              ...(label !== '' && { label }),
            },
          })),
        )
      }),
    )
  })
})
