import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readCells, writeCells } from './cell-text'

// What office spreadsheets put on the clipboard: common practice.
describe('cells of the clipboard', () => {
  test.each<[string, string, string[][]]>([
    [
      'the last line ends too',
      'a\tb\r\nc\td\r\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    ['one cell', 'a', [['a']]],
    ['nothing', '', [['']]],
    ['an emptied cell', '\r\n', [['']]],
    [
      'empty cells in between',
      'a\t\tb\n\t\t',
      [
        ['a', '', 'b'],
        ['', '', ''],
      ],
    ],
    [
      'a cell of two lines',
      'a\t"first\nsecond"\r\nb\tc\r\n',
      [
        ['a', 'first\nsecond'],
        ['b', 'c'],
      ],
    ],
    ['quotation marks in a cell of two lines', '"say ""no""\nnow"\tx', [['say "no"\nnow', 'x']]],
    ['an inch', '5" pipe\t2', [['5" pipe', '2']]],
    [
      'an inch at the beginning',
      '"5 pipe\t2\nx\ty',
      [
        ['"5 pipe', '2'],
        ['x', 'y'],
      ],
    ],
    ['a guarded formula', "'=A1.BL101\t'-5…5 mV", [['=A1.BL101', '-5…5 mV']]],
  ])('%s', (_, text, cells) => expect(readCells(text)).toEqual(cells))

  test('what would be a formula elsewhere is guarded', () =>
    expect(writeCells([['=1+1', '-5…5', '@x', '+y', '-5', '+0,5', 'z']])).toBe(
      `"'=1+1"\t"'-5…5"\t"'@x"\t"'+y"\t-5\t+0,5\tz\n`,
    ))

  test('what is written comes back', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', '"', '\t', '\n', '=', '-', ' ', 'ü') })
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4 }).chain((width) =>
          fc.array(fc.array(cell, { minLength: width, maxLength: width }), {
            minLength: 1,
            maxLength: 5,
          }),
        ),
        (rows) => {
          expect(readCells(writeCells(rows))).toEqual(rows)
        },
      ),
    )
  })
})
