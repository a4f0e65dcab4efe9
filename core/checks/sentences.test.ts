import { expect, test } from 'vitest'
import { derive } from '../derive'
import { wholeDemo } from '../test/plans'
import { check } from './check'

const most = 24
const { plan, catalog } = wholeDemo()

// A place counts as one word, and so does what it names.
const wordsOf = (message: string, place: string) =>
  message.replaceAll(place, 'place').split(/\s+/).length

test('sentences of findings are short', () => {
  const long = check(derive(plan, catalog)).all.filter(
    // What a file is reproached with is quoted from its reader.
    ({ code, message, at }) => !code.startsWith('file.') && wordsOf(message, at.words) > most,
  )
  expect(long.map(({ message }) => message)).toEqual([])
})
