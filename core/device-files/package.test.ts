import { strToU8, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { isZip, unpack } from './package'

const zip = zipSync({
  'a/../../etc/one.gsd': strToU8('one'),
  'pictures/logo.png': strToU8('png'),
  'C:\\x\\two.eds': strToU8('two'),
  'IODD-StandardDefinitions1.1.xml': strToU8('x'),
  'inner.zip': zipSync({ 'x.gsd': strToU8('x') }),
})

/** The stated sizes of the only entry, in its local header and in the directory (APPNOTE 4.3.7,
 *  4.3.12). */
function withSize(bytes: Uint8Array, size: number): Uint8Array {
  const lied = Uint8Array.from(bytes)
  const view = new DataView(lied.buffer)
  for (let at = 0; at < lied.length - 4; at++) {
    if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, size, true)
    if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, size, true)
  }
  return lied
}

describe('a package', () => {
  test('gives its description files by their bare names', () => {
    expect(isZip(zip)).toBe(true)
    const result = unpack(zip)
    expect(
      'files' in result &&
        result.files.map(({ name, bytes }) => [name, new TextDecoder().decode(bytes)]),
    ).toEqual([
      ['one.gsd', 'one'],
      ['two.eds', 'two'],
    ])
  })

  const bomb = zipSync({ 'bomb.xml': new Uint8Array(40_000_000) }, { level: 9 })
  test.each([
    ['cut off', zip.slice(0, zip.length - 40), /cannot be unpacked/],
    [
      'rubbish',
      Uint8Array.from({ length: 200 }, (_, i) => [0x50, 0x4b, 3, 4][i] ?? i % 251),
      /cannot be unpacked/,
    ],
    ['without description files', zipSync({ 'a.png': strToU8('x') }), /no description file/],
    ['a bomb', bomb, /more than 250 times/],
    ['a bomb that says how much it is', withSize(bomb, 600_000_000), /more than 250 times/],
    ['a bomb that says it is small', withSize(bomb, 10), /more than 250 times/],
  ])('%s is refused with a sentence', (_, bytes, fault) => {
    const result = unpack(bytes)
    expect('fault' in result && result.fault).toMatch(fault)
  })

  test('of which one file is too large is read but for that one', () => {
    const large = new Uint8Array(65 * 1024 * 1024)
    for (let at = 0; at < large.length; at += 97) large[at] = (at * 7919) % 251
    const result = unpack(
      zipSync({ 'large.xml': large, 'good.gsd': strToU8('good') }, { level: 1 }),
    )
    expect(result).toMatchObject({
      files: [{ name: 'good.gsd' }],
      refused: [{ name: 'large.xml', fault: expect.stringContaining('more than 64 MB') }],
    })
  }, 30_000)
})
