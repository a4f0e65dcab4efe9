const pairs = Array.from({ length: 256 }, (_, octet) => octet.toString(16).padStart(2, '0'))

/** One octet as two digits, in lower case. */
export const hexOctet = (octet: number): string => pairs[octet & 0xff]!

/** The first octets as hex, two digits each, with blanks between them or another sign. */
export function toHex(bytes: Uint8Array, length = bytes.length, between = ' '): string {
  if (length === 0) return ''
  let text = pairs[bytes[0]!]!
  for (let i = 1; i < length; i++) text += between + pairs[bytes[i]!]!
  return text
}

/** Octets of what `toHex` wrote, whatever one sign stands between them, or none. */
export function fromHex(text: string): Uint8Array {
  return Uint8Array.from(text.match(/[0-9a-f]{2}/gi) ?? [], (pair) => parseInt(pair, 16))
}

/** Octets written as `0x01,0x02`, `01 02` or `0102`; null where the text is none of these. */
export function parseOctets(text: string): Uint8Array | null {
  const trimmed = text.trim()
  // Mostly written without anything between them.
  if (/^(?:[0-9a-f]{2})*$/i.test(trimmed)) return octetsOf(trimmed)
  const words = trimmed.split(/[\s,]+/).filter(Boolean)
  const digits = words
    .map((word) => word.replace(/^(0x|#x)/i, ''))
    .map((word) => (word.length % 2 === 1 ? `0${word}` : word))
    .join('')
  return /^[0-9a-f]*$/i.test(digits) ? octetsOf(digits) : null
}

function octetsOf(digits: string): Uint8Array {
  const octets = new Uint8Array(digits.length >> 1)
  for (let i = 0; i < octets.length; i++) octets[i] = parseInt(digits.slice(2 * i, 2 * i + 2), 16)
  return octets
}

/** Index of a dictionary object as everybody writes it, in hexadecimal: `8010`, `0x8010`, `#x8010`;
 *  null where it is none (ETG.2000, CiA 301). */
export function parseObjectIndex(text: string): number | null {
  const [, digits] = /^\s*(?:0x|#x)?([0-9a-f]{1,4})\s*$/i.exec(text) ?? []
  return digits === undefined ? null : Number.parseInt(digits, 16)
}
