/** How long is waited between attempts at what failed, in milliseconds. */
const firstMs = 1500
const longestMs = 20_000

export const pause = (ms: number) => new Promise<void>((go) => setTimeout(go, ms))

/** Waiting times that grow from attempt to attempt. */
export class Patience {
  private ms = firstMs

  next(): number {
    const ms = this.ms
    this.ms = Math.min(longestMs, ms * 1.6)
    return ms
  }

  reset(): void {
    this.ms = firstMs
  }
}
