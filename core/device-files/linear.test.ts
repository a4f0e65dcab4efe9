import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { checkSync } from 'recheck'
import ts from 'typescript'
import { describe, expect, test } from 'vitest'
import { demoBytes, demoFiles } from '../test/plans'
import { gsdml } from '../test/gsdml'
import { packFile, unpackFile } from '../catalog'
import { readDeviceFile } from './index'
import { rootElement } from './recognise'

const folder = fileURLToPath(new URL('.', import.meta.url))

/** Every regular expression that stands in the readers. */
function expressions(): [string, string, string][] {
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter(
    (name) => name.endsWith('.ts') && !name.endsWith('.test.ts'),
  )
  return files.flatMap((name) => {
    const found: [string, string, string][] = []
    const visit = (node: ts.Node): void => {
      if (ts.isRegularExpressionLiteral(node)) {
        const [, source, flags] = /^\/(.*)\/([a-z]*)$/s.exec(node.text)!
        found.push([name, source!, flags!])
      }
      ts.forEachChild(node, visit)
    }
    visit(
      ts.createSourceFile(name, readFileSync(folder + name, 'utf8'), ts.ScriptTarget.Latest, true),
    )
    return found
  })
}

const text = (bytes: string) => new TextEncoder().encode(bytes)
const timed = (work: () => unknown) => {
  const began = performance.now()
  work()
  return performance.now() - began
}

describe('whatever the bytes are, reading takes as long as they are many', () => {
  test.each(expressions())(
    '%s: /%s/%s does not take exponential time',
    (_, source, flags) => {
      const found = checkSync(source, flags, { timeout: 5000, checker: 'auto' })
      expect(found.status === 'vulnerable' ? found.complexity.type : found.status).toMatch(
        /^(safe|polynomial)$/,
      )
    },
    10_000,
  )

  // Ordinary comments before what tells the format, and what looks like it and is not.
  const comments: Record<string, (lines: number) => string> = {
    'GSD comments': (lines) => '; a comment\r\n'.repeat(lines),
    'EDS comments': (lines) => '$ a comment\r\n'.repeat(lines),
    'XML comments': (lines) => '<!-- a comment -->\n'.repeat(lines),
    'XML declarations': (lines) => '<?a b?>\n'.repeat(lines),
    'document types': (lines) => '<!DOCTYPE a [ b ]>\n'.repeat(lines),
    'empty lines': (lines) => ' \r\n'.repeat(lines),
    'opened brackets': (lines) => '<'.repeat(lines * 10),
    'a JSON that is none': (lines) => '{'.repeat(lines * 10),
  }
  const endings: Record<string, string> = {
    nothing: '',
    '[File]': '[File]\nDescText = "x";\n',
    GSD: '#Profibus_DP\nVendor_Name = "x"\n',
    XML: '<ISO15745Profile/>',
    rubbish: 'x',
  }
  test.each(
    Object.keys(comments).flatMap((what) =>
      Object.keys(endings).map((ending) => [what, ending] as const),
    ),
  )(
    '%s before %s',
    (what, ending) => {
      for (const name of ['a.eds', 'a.gsd', 'a.xml', 'a.json', 'a.txt']) {
        const read = (lines: number) =>
          timed(() => readDeviceFile(text(comments[what]!(lines) + endings[ending]), name))
        read(10)
        // Eight times as much may take some twelve times as long; exponential or cubic expressions
        // take hundreds.
        const [few, many] = [Math.max(2, read(500)), read(4000)]
        expect(many).toBeLessThan(few * 40)
      }
    },
    20_000,
  )

  test('the root element is found behind much that is no element', () => {
    const before =
      '<?xml version="1.0"?>\n' +
      '<!-- one --> '.repeat(3000) +
      '<!DOCTYPE a [ <!ENTITY b "c"> ]>\n'
    expect([
      rootElement(`${before}<x:EtherCATInfo a="b">`),
      rootElement('\ufeff<IODevice/>'),
      rootElement('none'),
      rootElement('<!-- open'),
    ]).toEqual(['EtherCATInfo', 'IODevice', null, null])
  })

  test('slots that are alike stay a range in what is kept', () => {
    const wide = gsdml({
      accessPoint: 'PhysicalSlots="0..65535" FixedInSlots="0"',
      useable:
        '<ModuleItemRef ModuleItemTarget="DI" AllowedInSlots="2..65535"/><ModuleItemRef ModuleItemTarget="AO" AllowedInSlots="2..4 9"/>',
    })
    const { file } = readDeviceFile(text(wide), 'GSDML-V2.35-TarnVey-TV-20260101.xml')
    const packed = JSON.stringify(packFile(file!))
    expect(packed.length).toBeLessThan(10_000)
    expect(unpackFile(JSON.parse(packed))).toEqual(file)
    const allowed = new Map(file!.devices[0]!.slots.map(({ slot, allowed: keys }) => [slot, keys]))
    expect([1, 2, 5, 9, 65_535].map((slot) => allowed.get(slot))).toEqual([
      [],
      ['DI', 'AO'],
      ['DI'],
      ['DI', 'AO'],
      ['DI'],
    ])
  })

  test.each(demoFiles)('%s comes back from what is kept', (name) => {
    const { file } = readDeviceFile(demoBytes(name), name)
    expect(unpackFile(JSON.parse(JSON.stringify(packFile(file!))))).toEqual(file)
  })
})
