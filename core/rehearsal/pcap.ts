export interface CapturedFrame {
  readonly timeMs: number
  readonly bytes: Uint8Array
}

/** Frames as a capture file (libpcap format 2.4, link type 1 = Ethernet), for any protocol
 *  analyser. */
export function writePcap(frames: readonly CapturedFrame[]): Uint8Array {
  const file = new Uint8Array(24 + frames.reduce((sum, { bytes }) => sum + 16 + bytes.length, 0))
  const view = new DataView(file.buffer)
  view.setUint32(0, 0xa1b2c3d4, true)
  view.setUint16(4, 2, true)
  view.setUint16(6, 4, true)
  view.setUint32(16, 65_535, true)
  view.setUint32(20, 1, true)
  let at = 24
  for (const { timeMs, bytes } of frames) {
    view.setUint32(at, Math.floor(timeMs / 1000), true)
    view.setUint32(at + 4, Math.round((timeMs % 1000) * 1000), true)
    view.setUint32(at + 8, bytes.length, true)
    view.setUint32(at + 12, bytes.length, true)
    file.set(bytes, at + 16)
    at += 16 + bytes.length
  }
  return file
}
