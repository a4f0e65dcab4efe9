import { inflateSync } from 'node:zlib'

const header = { woff: 44, woffEntry: 20, font: 12, fontEntry: 16 } as const

/** A font as it is outside of its WOFF 1.0 package (W3C WOFF File Format 1.0). The PDF package reads
 *  past the end of a table whose last glyph is empty, as a blank is in some of these files; here the
 *  next table follows. */
export function unpackWoff(bytes: Buffer): Buffer {
  if (bytes.toString('latin1', 0, 4) !== 'wOFF') throw new Error('This is no WOFF font.')
  const count = bytes.readUInt16BE(12)
  const power = 2 ** Math.floor(Math.log2(count))
  const directory = Buffer.alloc(header.font + header.fontEntry * count)
  bytes.copy(directory, 0, 4, 8)
  directory.writeUInt16BE(count, 4)
  directory.writeUInt16BE(16 * power, 6)
  directory.writeUInt16BE(Math.log2(power), 8)
  directory.writeUInt16BE(16 * (count - power), 10)
  const parts: Buffer[] = [directory]
  let at = directory.length
  for (let i = 0; i < count; i++) {
    const entry = header.woff + header.woffEntry * i
    const [offset, packed, length, sum] = [4, 8, 12, 16].map((field) =>
      bytes.readUInt32BE(entry + field),
    ) as [number, number, number, number]
    const content = bytes.subarray(offset, offset + packed)
    const table = packed < length ? inflateSync(content) : content
    const place = header.font + header.fontEntry * i
    bytes.copy(directory, place, entry, entry + 4)
    directory.writeUInt32BE(sum, place + 4)
    directory.writeUInt32BE(at, place + 8)
    directory.writeUInt32BE(length, place + 12)
    // Tables begin at multiples of four.
    const padded = Buffer.alloc(Math.ceil(length / 4) * 4)
    table.copy(padded)
    parts.push(padded)
    at += padded.length
  }
  return Buffer.concat([...parts, Buffer.alloc(16)])
}
