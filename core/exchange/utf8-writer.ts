/** Characters that are put together before they are encoded: a text of many megabytes held as one
 *  chain of pieces costs more than writing it. */
const chunk = 32 * 1024

/** Puts a long text together, piece by piece, as UTF-8. */
export class Utf8Writer {
  private readonly encoder = new TextEncoder()
  private bytes = new Uint8Array(4 * chunk)
  private length = 0
  private text = ''

  add(piece: string): void {
    this.text += piece
    if (this.text.length >= chunk) this.flush()
  }

  /** All that was added; the writer is empty again after it. */
  finish(): Uint8Array {
    this.flush()
    const whole = this.bytes.slice(0, this.length)
    this.length = 0
    return whole
  }

  private flush(): void {
    // Three octets at most for each unit of UTF-16.
    const needed = this.length + 3 * this.text.length
    if (needed > this.bytes.length) {
      const grown = new Uint8Array(Math.max(needed, 2 * this.bytes.length))
      grown.set(this.bytes.subarray(0, this.length))
      this.bytes = grown
    }
    this.length += this.encoder.encodeInto(this.text, this.bytes.subarray(this.length)).written
    this.text = ''
  }
}
