import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import fc from 'fast-check'
import iconv from 'iconv-lite'
import { XmlDocument, XsdValidator } from 'libxml2-wasm'
import { describe, expect, test } from 'vitest'
import { derive, type Derived } from '../derive'
import { logicalImageOf } from '../derive/telegrams'
import { doAll, wholeDemo } from '../test/plans'
import { xmlText } from './xml'
import { compareList, guessMapping, listChannels, readList, writeExport, type ExportName } from '.'

const { plan, catalog } = wholeDemo()
const demo = derive(plan, catalog)

const write = (name: ExportName, derived: Derived = demo, blockers = 2) =>
  writeExport(name, {
    derived,
    blockers,
    revision: 12,
    at: '2026-05-04T08:00:00Z',
    files: [],
    loadFile: () => Promise.resolve(null),
  })
const textOf = async (name: ExportName, derived?: Derived) =>
  new TextDecoder().decode(await write(name, derived))

/** The signal list's texts as the plan has them, one of each unkind sort. */
const unkind = {
  markup: `</variable> & "quotes" <b>'`,
  formula: '=1+1',
  arabic: 'مضخة رقم ١',
  lone: 'half a pair \ud800 and \u0001',
  lines: 'one\ntwo\tthree',
  long: 'x'.repeat(2000),
}
const [first] = [...listChannels(demo)].filter(({ signal }) => signal && signal.tag !== '')
const commented = (comment: string) =>
  derive(
    doAll(plan, catalog, { type: 'editSignals', edits: [{ id: first!.signal!.id, comment }] }),
    catalog,
  )

const schemas: Readonly<Record<string, string>> = {
  plcopen: 'tc6_0201.xsd',
  'iec61131-10': 'iec61131-10.xsd',
  caex: 'caex_3.0.xsd',
  'ethercat-network': 'ethercat-network.xsd',
}
const formats = Object.keys(schemas) as ExportName[]

/** Null where a schema, written from the published structure, takes the text (libxml2). */
function faultBySchema(text: string, schema: string): string | null {
  const path = fileURLToPath(new URL(`./schemas/${schema}`, import.meta.url))
  const schemaDoc = XmlDocument.fromString(readFileSync(path, 'utf8'))
  const validator = XsdValidator.fromDoc(schemaDoc)
  const doc = XmlDocument.fromString(text)
  try {
    validator.validate(doc)
    return null
  } catch (error) {
    return (error as Error).message
  } finally {
    doc.dispose()
    validator.dispose()
    schemaDoc.dispose()
  }
}

/** Values of an XPath expression, by libxml2. */
function valuesOf(text: string, path: string, namespaces: Record<string, string> = {}): string[] {
  const doc = XmlDocument.fromString(text)
  try {
    return doc.find(path, namespaces).map((node) => node.content)
  } finally {
    doc.dispose()
  }
}

describe.each(formats)('%s', (name) => {
  test('keeps to the published structure, with unkind texts too', async () => {
    expect(faultBySchema(await textOf(name), schemas[name]!)).toBeNull()
    for (const comment of Object.values(unkind))
      expect(faultBySchema(await textOf(name, commented(comment)), schemas[name]!)).toBeNull()
  })
  test('and the schema refuses what does not', async () => {
    const text = await textOf(name)
    const end = text.lastIndexOf('</')
    expect(faultBySchema(`${text.slice(0, end)}<Odd/>${text.slice(end)}`, schemas[name]!)).toMatch(
      /Odd/,
    )
  })
  test('is the same to the byte, and says plan, revision, signature and draft', async () => {
    const text = await textOf(name)
    expect(await textOf(name, derive(plan, catalog))).toBe(text)
    for (const word of [plan.project.name, 'revision 12', 'signature', 'DRAFT: 2 blockers open'])
      expect(text).toContain(word)
  })
})

describe.each(['plcopen', 'iec61131-10', 'caex', 'csv', 'xlsx'] as const)(
  '%s comes back',
  (name) => {
    const differencesOf = async (bytes: Uint8Array, into: Derived = demo) => {
      const tables = await readList(bytes, `list.${name}`)
      if (typeof tables === 'string') throw new Error(tables)
      return compareList(into, tables[0]!, guessMapping(tables[0]!.headings)).differences
    }
    test('what went out says nothing new', async () => {
      expect(await differencesOf(await write(name))).toEqual([])
    })
    test('with unkind texts too', async () => {
      for (const [sort, comment] of Object.entries(unkind)) {
        if (sort === 'lone' || sort === 'lines') continue
        const now = commented(comment)
        expect(await differencesOf(await write(name, now), now), sort).toEqual([])
      }
    })
    test('an edited comment is one change, a signal more is added, one less removed', async () => {
      const [changed, ...more] = await differencesOf(await write(name, commented('Another text')))
      expect(more).toEqual([])
      expect(changed).toMatchObject({
        kind: 'changed',
        tag: first!.signal!.tag,
        changes: [{ field: 'comment', after: 'Another text' }],
      })
      const without = derive(
        doAll(plan, catalog, { type: 'removeSignals', ids: [first!.signal!.id] }),
        catalog,
      )
      expect(await differencesOf(await write(name, without))).toMatchObject([
        { kind: 'removed', tag: first!.signal!.tag },
      ])
      expect(await differencesOf(await write(name), without)).toMatchObject([
        { kind: 'added', tag: first!.signal!.tag },
      ])
    })
  },
)

const tc6 = { p: 'http://www.plcopen.org/xml/tc6_0201' }
const caex = { c: 'http://www.dke.de/CAEX' }

describe('what stands in them', () => {
  test('every tag that is an identifier is a variable at its address, once', async () => {
    const named = [...listChannels(demo)].filter(({ signal }) => signal && signal.tag !== '')
    const text = await textOf('plcopen')
    const names = valuesOf(text, '//p:globalVars/p:variable[@address]/@name', tc6)
    expect(names.toSorted()).toEqual(named.map(({ signal }) => signal!.tag).toSorted())
    expect(valuesOf(text, '//p:globalVars/p:variable[@name="INT_LT_101"]/@address', tc6)).toEqual([
      '%IW4',
    ])
  })
  test('scaling blocks are called with the numbers that the whole way gives', async () => {
    // The signed 16-bit raw format of the demo's modules: 4…20 mA is 0…30000 counts there.
    const text = await textOf('declarations')
    expect(text).toContain(
      'CIP_LT_1_value := ScaleLinear(raw := INT_TO_REAL(CIP_LT_1), rawLow := 0.0, rawHigh := 30000.0, low := 0.0, high := 3.2);',
    )
    const scaled = [...text.matchAll(/^ {4}(\w+)_value := /gm)].map(([, tag]) => tag)
    expect(scaled.length).toBeGreaterThan(50)
  })
  test('a name that a tag has already is not given to anything else', async () => {
    const taken = derive(
      doAll(plan, catalog, {
        type: 'editSignals',
        edits: [{ id: first!.signal!.id, tag: 'ScaleLinear' }],
      }),
      catalog,
    )
    expect(faultBySchema(await textOf('plcopen', taken), schemas['plcopen']!)).toBeNull()
    expect(await textOf('plcopen', taken)).toContain('<pou name="ScaleLinear_2"')
  })
  test('every channel is in the CAEX file, and links join what is there', async () => {
    const text = await textOf('caex')
    const count = (path: string) => valuesOf(text, path, caex).length
    expect(count('//c:ExternalInterface[contains(@RefBaseClassPath, "/Channel")]')).toBe(
      demo.totals.channels,
    )
    const ids = new Set(valuesOf(text, '//@ID'))
    const ends = valuesOf(
      text,
      '//c:InternalLink/@RefPartnerSideA | //c:InternalLink/@RefPartnerSideB',
      caex,
    )
    expect(ends.filter((id) => !ids.has(id))).toEqual([])
    expect([...ids].every((id) => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id))).toBe(
      true,
    )
  })
})

// ETG.1000-4 (from memory): register 0x0010 holds the configured address, 0x0600 the windows into the
// logical image, 16 octets each; a slave that is read counts one, one that is written two.
describe('EtherCAT network information', () => {
  const bands = demo.controllers
    .flatMap(({ networks }) => networks)
    .filter(({ network }) => network.settings.kind === 'ethercat')
  test('a part for each network, a slave for each station, working counters of the logical image', async () => {
    const text = await textOf('ethercat-network')
    expect(valuesOf(text, '//Config')).toHaveLength(bands.length)
    expect(valuesOf(text, '//Slave/Info/Name')).toEqual(
      bands.flatMap(({ stations }) => stations.map(({ station }) => station.name)),
    )
    expect(valuesOf(text, '//Cyclic/Frame/Cmd/Cnt').map(Number)).toEqual(
      bands.map((band) => logicalImageOf(band)!.workingCounter),
    )
  })
  const managersOf = (name: string) => {
    const view = [...demo.stations.values()].find(({ station }) => station.name === name)
    return view?.device && 'ethercat' in view.device
      ? view.device.ethercat.syncManagers.map(({ use }) => use)
      : []
  }
  test('each window lies where the slave’s data are, and covers them', async () => {
    const text = await textOf('ethercat-network')
    const windows = valuesOf(text, '//InitCmd[starts-with(Comment, "FMMU")]/Data').map((hex) =>
      Buffer.from(hex, 'hex'),
    )
    const places = bands.flatMap((band) =>
      logicalImageOf(band)!.parts.flatMap((part) =>
        (['out', 'in'] as const).flatMap((direction) => {
          const place = part[direction] as { bit: number; bits: number } | null
          const use = direction === 'out' ? 'Outputs' : 'Inputs'
          return place && managersOf(part.station).includes(use)
            ? [{ ...place, kind: direction === 'out' ? 2 : 1 }]
            : []
        }),
      ),
    )
    expect(
      windows.map((octets) => ({
        bit: octets.readUInt32LE(0) * 8 + octets[6]!,
        bits: (octets.readUInt16LE(4) - 1) * 8 + octets[7]! + 1 - octets[6]!,
        kind: octets[11],
      })),
    ).toEqual(places)
    expect(new Set(windows.map(({ length }) => length))).toEqual(new Set([16]))
  })
})

// XML 1.0, 2.2 and 2.4.
test('any text comes back out of XML as it was, but for what XML cannot hold', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      const doc = XmlDocument.fromString(`<a b="${xmlText(text)}">${xmlText(text)}</a>`)
      const { content } = doc.root
      const attribute = doc.get('/a/@b')!.content
      doc.dispose()
      const held = text.replace(
        /[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu,
        '\ufffd',
      )
      expect([content, attribute]).toEqual([held, held])
    }),
  )
})

describe('bad input is refused with its place', () => {
  const bomb = `<?xml version="1.0"?>\n<!DOCTYPE p [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>\n<project>&b;</project>`
  test.each([
    ['entities', bomb, /DOCTYPE/],
    ['cut off', '<project>\n<instances>\n<globalVars>', /Line 3: this is no well-formed XML/],
    ['something else', '<html><body/></html>', /outermost element is "html"/],
    ['an unknown entity', '<project>\n&nbsp;</project>', /Line 2/],
    ['nothing in it', '<project/>', /no row/],
  ])('%s', async (_, text, sentence) => {
    expect(await readList(new TextEncoder().encode(text), 'odd.xml')).toMatch(sentence)
  })
  test('characters that an encoding does not have, with their line', async () => {
    const derived = commented('Füllstand Ω')
    const input = {
      derived,
      revision: 1,
      blockers: 0,
      files: [],
      loadFile: () => Promise.resolve(null),
    }
    await expect(
      writeExport('csv', { ...input, options: { encoding: 'windows-1252' } }),
    ).rejects.toThrow(/Line \d+: Windows-1252 has no "Ω"/)
    const latin = await writeExport('csv', {
      ...input,
      derived: commented('Füllstand €'),
      options: { encoding: 'windows-1252', separator: ';', columns: ['tag', 'comment'] },
    })
    expect(iconv.decode(Buffer.from(latin), 'win1252')).toContain(';Füllstand €\r\n')
  })
})
