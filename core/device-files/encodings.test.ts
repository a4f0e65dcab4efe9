import iconv from 'iconv-lite'
import { describe, expect, test } from 'vitest'
import { decodeText } from './decode-text'

const words = 'Füllstand °C ± µ Ø ß ÿ'
const xml = (encoding: string, text: string) =>
  `<?xml version="1.0" encoding="${encoding}"?>\n<a b="${text}"/>`

// Against an independent converter of the registry (iconv-lite).
describe('XML that names its encoding', () => {
  test.each([
    ['utf-8', 'utf8', `${words} Ω 電`],
    ['UTF-8', 'utf8', words],
    ['ISO-8859-1', 'latin1', words],
    ['ISO-8859-15', 'iso885915', `${words} €`],
    ['windows-1252', 'win1252', `${words} “€”`],
    ['windows-1250', 'win1250', 'Hladina čidla ž ř'],
    ['windows-1251', 'win1251', 'Уровень'],
    ['Shift_JIS', 'shiftjis', 'レベル'],
    ['GB2312', 'gb2312', '液位'],
  ])('%s', (encoding, theirs, text) => {
    expect(decodeText(new Uint8Array(iconv.encode(xml(encoding, text), theirs)))).toEqual({
      text: xml(encoding, text),
    })
  })
})

describe('byte order marks and texts without XML', () => {
  test.each([
    ['UTF-16 little-endian', 'utf16le', `\ufeff${xml('utf-16', words)}`, xml('utf-16', words)],
    ['UTF-16 big-endian', 'utf16be', `\ufeff${xml('utf-16', words)}`, xml('utf-16', words)],
    ['UTF-8 with mark', 'utf8', `\ufeff${words}`, words],
    [
      'a plain text in Windows-1252',
      'win1252',
      `#Profibus_DP\r\nInfo_Text="${words} €"`,
      `#Profibus_DP\r\nInfo_Text="${words} €"`,
    ],
    ['a plain text in UTF-8', 'utf8', `#Profibus_DP\n${words} Ω`, `#Profibus_DP\n${words} Ω`],
  ])('%s', (_, theirs, written, expected) =>
    expect(decodeText(new Uint8Array(iconv.encode(written, theirs)))).toEqual({ text: expected }),
  )

  test.each([
    [
      'XML in another encoding than it says',
      iconv.encode(xml('utf-8', words), 'latin1'),
      'encoding.bytes',
      2,
    ],
    [
      'an encoding nobody knows',
      iconv.encode(xml('klingon-8', 'x'), 'latin1'),
      'encoding.unknown',
      1,
    ],
    ['binary rubbish', Buffer.from([0x23, 0x50, 0, 1, 2, 0xff, 0xfe, 0x80]), 'encoding.bytes', 1],
  ])('%s is told with its line', (_, bytes, code, line) =>
    expect(decodeText(new Uint8Array(bytes))).toMatchObject({ problem: { code, line } }),
  )
})
