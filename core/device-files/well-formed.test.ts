import fc from 'fast-check'
import { XmlDocument } from 'libxml2-wasm'
import { expect, test } from 'vitest'
import { gsdml } from '../test/gsdml'
import { demoBytes, demoFiles, readText } from '../test/plans'
import { Problems } from '../vocabulary/problem'
import { readXmlRecords, type XmlElement } from './xml-records'

const ours = (text: string) =>
  readXmlRecords(text, { problems: new Problems(), records: {}, outside: () => undefined }) === null

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

// Mutations of a good file behind its namespace declarations (that parser also judges those): both
// must agree whether it is XML at all, and reading never crashes or half-reads in silence.
test('a mutated file gets the same verdict as from an independent parser', () => {
  const text = gsdml()
  fc.assert(
    fc.property(
      fc.integer({ min: text.indexOf('<ProfileBody>'), max: text.length - 1 }),
      fc.constantFrom('<', '>', '"', '/', '&', 'x', ''),
      fc.nat(3),
      (at, put, cut) => {
        const mutated = text.slice(0, at) + put + text.slice(at + cut)
        const verdict = ours(mutated)
        expect(verdict).toBe(theirs(mutated))
        const { file, problems } = readText(mutated)
        if (!verdict) expect(file).toBeNull()
        if (!file) expect(problems.some(({ severity }) => severity === 'error')).toBe(true)
      },
    ),
    { numRuns: 400 },
  )
})

// A part that is written like an earlier one is passed over; what is read must be the same as if it
// were not.
test('what stands for others changes neither what is read nor what is refused', () => {
  const part = (id: string) =>
    `<p:Part a="${id}"><p:Part2><Leaf b="1">text</Leaf></p:Part2><Leaf/></p:Part>`
  const text = `<?xml version="1.0"?>\n<p:Root xmlns:p="urn:p">${['1', '2', '1', '2', '1'].map((id) => `<!-- ${part('1')} --><Record n="${id}">\n${part(id)}<Between><![CDATA[<p:Part a="1">]]></Between><Partly/>${part('1')}\n</Record>`).join('\n')}</p:Root>`
  const treeOf = (element: XmlElement): unknown => [
    element.name,
    { ...element.attributes },
    element.text,
    element.children.map(treeOf),
  ]
  const read = (xml: string, shared?: ReadonlySet<string>) => {
    const records: unknown[] = []
    const failure = readXmlRecords(xml, {
      problems: new Problems(),
      withText: true,
      records: { Record: (element) => records.push(treeOf(element)) },
      outside: () => undefined,
      ...(shared && { shared }),
    })
    return { records, failure }
  }
  const both = (xml: string) => {
    expect(read(xml, new Set(['Part', 'Part2']))).toEqual(read(xml))
  }
  both(text)
  expect(read(text).records).toHaveLength(5)
  fc.assert(
    fc.property(
      fc.integer({ min: 30, max: text.length - 1 }),
      fc.constantFrom('<', '>', '"', '/', '&', 'x', '', '-->', '<!--', '\r\n', '😀'),
      fc.nat(12),
      (at, put, cut) => both(text.slice(0, at) + put + text.slice(at + cut)),
    ),
    { numRuns: 1000 },
  )
})

test('what is wrong in a part that stands often is told at each place', () => {
  const input =
    '<Input Consistency="All items consistency"><DataItem DataType="Unsigned9" TextId="T"/></Input>'
  const modules = [1, 2, 3].map(
    (n) =>
      `<ModuleItem ID="M${n}" ModuleIdentNumber="${n}"><ModuleInfo><Name TextId="T"/></ModuleInfo><VirtualSubmoduleList><VirtualSubmoduleItem ID="V${n}" SubmoduleIdentNumber="1"><IOData>${input}</IOData></VirtualSubmoduleItem></VirtualSubmoduleList></ModuleItem>`,
  )
  const { problems } = readText(gsdml({ modules: modules.join('\n') }))
  const lines = problems.filter(({ code }) => code === 'data.type').map(({ line }) => line)
  expect(new Set(lines).size).toBe(3)
})
