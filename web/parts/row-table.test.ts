import { expect, test } from 'vitest'
import { compareNatural } from './row-table'

test.each([
  [
    ['slot 10', 'slot 9', 'slot 1'],
    ['slot 1', 'slot 9', 'slot 10'],
  ],
  [
    [10, 9, 100],
    [9, 10, 100],
  ],
  [
    ['b', '', 'A'],
    ['', 'A', 'b'],
  ],
])('%j in order', (given, ordered) => expect([...given].sort(compareNatural)).toEqual(ordered))
