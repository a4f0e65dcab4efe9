/** Octets put one behind the other. Numbers in the order that the name says: `u16` big, `le16`
 *  little. */
export class OctetWriter {
  private readonly octets: number[] = []

  get length(): number {
    return this.octets.length
  }

  u8(...values: number[]): this {
    for (const value of values) this.octets.push(value & 0xff)
    return this
  }
  u16(value: number): this {
    return this.u8(value >> 8, value)
  }
  u32(value: number): this {
    return this.u8(value >>> 24, value >>> 16, value >>> 8, value)
  }
  le16(value: number): this {
    return this.u8(value, value >> 8)
  }
  le32(value: number): this {
    return this.u8(value, value >>> 8, value >>> 16, value >>> 24)
  }
  bytes(values: Iterable<number>): this {
    for (const value of values) this.octets.push(value & 0xff)
    return this
  }
  /** One octet a character; what is no ASCII keeps its lowest seven bits. */
  ascii(text: string): this {
    for (let i = 0; i < text.length; i++) this.octets.push(text.charCodeAt(i) & 0x7f)
    return this
  }
  /** ASCII in so many octets, cut or filled. */
  fixed(text: string, length: number, fill = 0): this {
    for (let i = 0; i < length; i++)
      this.octets.push(i < text.length ? text.charCodeAt(i) & 0x7f : fill)
    return this
  }
  zeros(count: number): this {
    for (let i = 0; i < count; i++) this.octets.push(0)
    return this
  }
  /** Zeros until so many octets stand there. */
  upTo(length: number): this {
    return this.zeros(length - this.octets.length)
  }
  done(): Uint8Array {
    return Uint8Array.from(this.octets)
  }
}

/** The octets ended before what was asked for. */
export class CutOff extends Error {
  constructor(readonly at: number) {
    super(`The octets end at ${at}, in the middle of a field.`)
  }
}

/** Octets taken one after the other; throws `CutOff` beyond the end, which `reading` turns into
 *  null. */
export class OctetReader {
  at = 0
  constructor(readonly octets: Uint8Array) {}

  get left(): number {
    return this.octets.length - this.at
  }

  u8(): number {
    if (this.at >= this.octets.length) throw new CutOff(this.octets.length)
    return this.octets[this.at++]!
  }
  u16(): number {
    return this.u8() * 256 + this.u8()
  }
  u32(): number {
    return this.u16() * 65_536 + this.u16()
  }
  le16(): number {
    return this.u8() + this.u8() * 256
  }
  le32(): number {
    return this.le16() + this.le16() * 65_536
  }
  bytes(count: number): Uint8Array {
    if (count > this.left) throw new CutOff(this.octets.length)
    this.at += count
    return this.octets.subarray(this.at - count, this.at)
  }
  ascii(count: number): string {
    return String.fromCharCode(...this.bytes(count))
  }
  skip(count: number): this {
    this.bytes(count)
    return this
  }
  rest(): Uint8Array {
    return this.bytes(this.left)
  }
}

/** What `read` makes of the octets; null where they end too early. */
export function reading<T>(octets: Uint8Array, read: (from: OctetReader) => T): T | null {
  try {
    return read(new OctetReader(octets))
  } catch (error) {
    if (error instanceof CutOff) return null
    throw error
  }
}
