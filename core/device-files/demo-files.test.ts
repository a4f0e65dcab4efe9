import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import fc from 'fast-check'
import { XmlDocument, ParseOption } from 'libxml2-wasm'
import { describe, expect, test } from 'vitest'
import { itemsOf, packFile, recordsOf, unpackFile } from '../catalog'
import { decodeRecord, encodeRecord } from '../parameters'
import { largeEsi } from '../../demo/large-esi'
import { readDeviceFile } from './read'
import { fromHex } from '../vocabulary'

const folder = fileURLToPath(new URL('../../demo/shelf/', import.meta.url))
const bytesOf = (name: string) => new Uint8Array(readFileSync(folder + name))
const names = readdirSync(folder).sort()

// Faults stand in these files on purpose.
test.each([
  ['BRCK0F31.gsd', 'gsd', []],
  ['Brackwater-BWEN.eds', 'eds', []],
  [
    'Brackwater-OldSense-20150401-IODD1.0.1.xml',
    'iodd',
    ['iodd.value', 'parameter.default', 'reference.text', 'reference.datatype', 'data.bit'],
  ],
  ['GSDML-V2.4-TarnVey-DoseGuard-20260210.xml', 'gsdml', ['reference.module']],
  ['OSTR0F21.gsd', 'gsd', []],
  ['Ostrel-FillDrive.xml', 'esi', []],
  ['Ostrel-OzonePump.eds', 'eds', []],
  ['Quillane-QE200-terminals.xml', 'esi', []],
  ['Quillane-Valve8-20251020-IODD1.1.xml', 'iodd', []],
  [
    'TARV0F41.gse',
    'gsd',
    [
      'gsd.number',
      'parameter.default',
      'reference.text',
      'reference.parameter',
      'gsd.configuration',
    ],
  ],
  ['TarnVey-LevelEye-20260301-IODD1.1.xml', 'iodd', []],
  [
    'TarnVey-Ringmeter.eds',
    'eds',
    [
      'eds.range',
      'eds.type',
      'reference.member',
      'eds.size',
      'eds.semicolon',
      'eds.path',
      'reference.parameter',
    ],
  ],
  ['brackwater-ringnode.sheet.json', 'sheet', []],
  ['ostrel-wellmeter.sheet.json', 'sheet', []],
  ['tarnvey-bridge.sheet.json', 'sheet', []],
])('%s is read as %s with the faults %j', (name, format, codes) => {
  expect(names).toContain(name)
  const { file, problems } = readDeviceFile(bytesOf(name), name)
  expect([file?.format, problems.map(({ code }) => code)]).toEqual([format, codes])
  expect(problems.every(({ line, message }) => (line ?? 0) > 0 && message.endsWith('.'))).toBe(true)
})

test('the large file is read whole', () => {
  const text = largeEsi()
  expect(text.length).toBeGreaterThan(5_000_000)
  const { file, problems } = readDeviceFile(new TextEncoder().encode(text), 'large.xml')
  expect(problems).toEqual([])
  expect([file!.devices.length, file!.devices.filter(({ hidden }) => !hidden).length]).toEqual([
    1024, 128,
  ])
})

describe.each(names)('%s', (name) => {
  const { file } = readDeviceFile(bytesOf(name), name)

  test('packs and comes back', () =>
    expect(unpackFile(JSON.parse(JSON.stringify(packFile(file!))) as never)).toEqual(
      JSON.parse(JSON.stringify(file)),
    ))

  test('its default records hold its parameters’ default values, and give them back', () => {
    for (const { key } of itemsOf(file!)) {
      for (const record of recordsOf(file!, key) ?? []) {
        const numbers = record.parameters.filter(
          ({ default: standard, bits }) => typeof standard === 'number' && standard < 2 ** bits,
        )
        const decoded = decodeRecord(record, fromHex(record.bytes))
        for (const parameter of numbers) {
          if (
            record.parameters.filter((other) => other.offsetBytes === parameter.offsetBytes)
              .length === 1
          )
            expect([parameter.key, decoded[parameter.key]]).toEqual([
              parameter.key,
              parameter.kind === 'float'
                ? Math.fround(Number(parameter.default))
                : parameter.default,
            ])
        }
        expect(encodeRecord(record, {}).bytes).toBe(record.bytes)
      }
    }
  })
})

/** An independent parser of the registry (libxml2), which neither fetches nor expands. */
function theirs(text: string): boolean {
  try {
    XmlDocument.fromString(text, { option: ParseOption.XML_PARSE_NONET }).dispose()
    return true
  } catch {
    return false
  }
}

describe.each(names.filter((name) => name.endsWith('.xml')))('mutations of %s', (name) => {
  // Without prefixes: that parser also judges namespaces, this reader does not.
  const text = new TextDecoder().decode(bytesOf(name)).replace(/\b(xsi|xml):/g, '$1_')
  // Behind the root's namespace declarations, which that parser judges as well.
  const from = text.indexOf('>', text.indexOf('<', text.indexOf('-->') + 3)) + 1

  test('are well-formed to both parsers or to none; none is read half in silence', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: from, max: text.length - 1 }),
        fc.constantFrom('<', '>', '"', '/', '&', 'x', ''),
        fc.nat(3),
        (at, put, cut) => {
          const mutated = text.slice(0, at) + put + text.slice(at + cut)
          const { file, problems } = readDeviceFile(new TextEncoder().encode(mutated), name)
          const isRefused = problems.some(({ code }) => code.startsWith('xml.'))
          expect(isRefused).toBe(!theirs(mutated))
          if (isRefused) expect(file).toBeNull()
          if (!file) expect(problems.some(({ severity }) => severity === 'error')).toBe(true)
        },
      ),
      { numRuns: 120 },
    )
  })
})
