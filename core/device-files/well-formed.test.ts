import fc from 'fast-check'
import { XmlDocument } from 'libxml2-wasm'
import { expect, test } from 'vitest'
import { gsdml } from '../test/gsdml'
import { demoBytes, demoFiles, readText } from '../test/plans'
import { readXmlRecords } from './xml-records'

const ours = (text: string) => readXmlRecords(text, { records: {}, outside: () => undefined }) === null

/** An independent parser of the registry (libxml2). */
function theirs(text: string): boolean {
  try {
    XmlDocument.fromString(text).dispose()
    return true
  } catch {
    return false
  }
}

test.each(demoFiles)('both parsers find %s well-formed', (name) => {
  const text = new TextDecoder().decode(demoBytes(name))
  expect([ours(text), theirs(text)]).toEqual([true, true])
})

// Mutations of a good file behind its namespace declarations (that parser also judges those): both must agree whether it is XML at all, and reading never crashes or half-reads in silence.
test('a mutated file gets the same verdict as from an independent parser', () => {
  const text = gsdml()
  fc.assert(
    fc.property(fc.integer({ min: text.indexOf('<ProfileBody>'), max: text.length - 1 }), fc.constantFrom('<', '>', '"', '/', '&', 'x', ''), fc.nat(3), (at, put, cut) => {
      const mutated = text.slice(0, at) + put + text.slice(at + cut)
      const verdict = ours(mutated)
      expect(verdict).toBe(theirs(mutated))
      const { file, problems } = readText(mutated)
      if (!verdict) expect(file).toBeNull()
      if (!file) expect(problems.some(({ severity }) => severity === 'error')).toBe(true)
    }),
    { numRuns: 400 },
  )
})
