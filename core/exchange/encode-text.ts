import { windowsSigns } from '../device-files/decode-text'
import { Utf8Writer } from './utf8-writer'
import { CannotExport, type ExportOptions } from './options'

type Encoding = ExportOptions['encoding']

/** The octet of each character in Windows-1252. */
const windows1252 = () =>
  new Map(
    Array.from({ length: 256 }, (_, octet) => [
      octet >= 0x80 && octet <= 0x9f ? windowsSigns[octet - 0x80]! : String.fromCharCode(octet),
      octet,
    ]),
  )

/** What a text is written into piece by piece. */
export type TextSink = Pick<Utf8Writer, 'add' | 'finish'>

/** Writes a text in an encoding, with a byte order mark where the encoding has one. */
export function encoderOf(encoding: Encoding): TextSink {
  if (encoding === 'utf-8') {
    const file = new Utf8Writer()
    file.add('\ufeff')
    return file
  }
  const pieces: string[] = []
  return {
    add: (piece) => void pieces.push(piece),
    finish: () => encodeText(pieces.join(''), encoding),
  }
}

/** A text in an encoding, with a byte order mark where the encoding has one. A character that the
 *  encoding does not have refuses the whole, with its line. */
export function encodeText(text: string, encoding: Encoding): Uint8Array {
  if (encoding === 'utf-8') return new TextEncoder().encode(`\ufeff${text}`)
  if (encoding === 'utf-16le') {
    const units = new Uint8Array(2 + 2 * text.length)
    const view = new DataView(units.buffer)
    view.setUint16(0, 0xfeff, true)
    for (let i = 0; i < text.length; i++) view.setUint16(2 + 2 * i, text.charCodeAt(i), true)
    return units
  }
  const octetOf = windows1252()
  const octets = new Uint8Array(text.length)
  let length = 0
  let line = 1
  for (const sign of text) {
    const octet = octetOf.get(sign)
    if (octet === undefined)
      throw new CannotExport(
        `Line ${line}: Windows-1252 has no "${sign}". Choose UTF-8 for this list.`,
      )
    if (sign === '\n') line++
    octets[length++] = octet
  }
  return octets.subarray(0, length)
}
