import type { Problem } from '../vocabulary/problem'

/** Text of a description file: byte order marks first, then the encoding an XML declaration names,
 *  else UTF-8 (XML 1.0, 4.3.3 and appendix F). Bytes that are illegal in that encoding are a
 *  problem; a text that is no XML and no UTF-8 is taken as Windows-1252, in which makers write
 *  (common practice). */
export function decodeText(bytes: Uint8Array): { text: string } | { problem: Problem } {
  const encoding = encodingOf(bytes)
  let decoder: TextDecoder
  try {
    decoder = new TextDecoder(encoding, { fatal: true })
  } catch {
    return {
      problem: fault(
        'encoding.unknown',
        `The file names the encoding "${encoding}", which is not known; save it as UTF-8.`,
        1,
      ),
    }
  }
  try {
    return { text: withWindowsSigns(decoder.decode(bytes), encoding) }
  } catch {
    if (isPlainText(bytes))
      return {
        text: withWindowsSigns(new TextDecoder('windows-1252').decode(bytes), 'windows-1252'),
      }
    const line = lineOfBadByte(bytes, encoding)
    return {
      problem: fault(
        'encoding.bytes',
        `Line ${line} holds bytes that are not ${encoding.toUpperCase()}; save the file in the encoding it names.`,
        line,
      ),
    }
  }
}

function encodingOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8'
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be'
  if (bytes[0] === 0x3c && bytes[1] === 0 && bytes[2] === 0x3f) return 'utf-16le'
  if (bytes[0] === 0 && bytes[1] === 0x3c && bytes[2] === 0) return 'utf-16be'
  const head = String.fromCharCode(...bytes.subarray(0, 200))
  return /^\s*<\?xml[^>]*?encoding\s*=\s*["']([^"']+)["']/.exec(head)?.[1]?.toLowerCase() ?? 'utf-8'
}

/** What Windows-1252 has where ISO-8859-1 has control characters, from 0x80 (WHATWG Encoding, index
 *  windows-1252). */
export const windowsSigns = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ'

/** Some versions of Node leave those control characters in what they call Windows-1252. */
function withWindowsSigns(text: string, encoding: string): string {
  return /^(windows-1252|iso-8859-1|latin1|us-ascii)$/.test(encoding)
    ? text.replace(/[\x80-\x9f]/g, (sign) => windowsSigns[sign.charCodeAt(0) - 0x80]!)
    : text
}

/** No XML and no control characters but tabs, line ends and the old end-of-file mark. */
function isPlainText(bytes: Uint8Array): boolean {
  const first = bytes.find((byte) => byte > 0x20)
  return (
    first !== 0x3c &&
    first !== 0xff &&
    first !== 0xfe &&
    !bytes.some((byte) => byte < 0x20 && ![0x09, 0x0a, 0x0c, 0x0d, 0x1a].includes(byte))
  )
}

/** The first line whose bytes alone cannot be decoded. */
function lineOfBadByte(bytes: Uint8Array, encoding: string): number {
  const decoder = new TextDecoder(encoding, { fatal: true })
  let line = 1
  for (let start = 0; start < bytes.length; line++) {
    const newline = bytes.indexOf(0x0a, start)
    const end = newline < 0 ? bytes.length : newline + 1
    try {
      decoder.decode(bytes.subarray(start, end))
    } catch {
      return line
    }
    start = end
  }
  return line
}

function fault(code: string, message: string, line: number): Problem {
  return { severity: 'error', code, message, line, column: 1 }
}
