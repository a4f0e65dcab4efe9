import type { SocketAddress } from '../protocols/ip/packets'

/** One frame, telegram or message of a rehearsal. */
export interface LoggedFrame {
  /** Since the rehearsal began. */
  readonly timeUs: number
  readonly networkId: string
  readonly direction: 'sent' | 'received'
  readonly octets: Uint8Array
  /** Where it was sent to, where it travels over IP; of an answer: where the question was sent. */
  readonly to: SocketAddress | null
  /** Who it goes to or comes from, where that is one: its MAC address, its IP address. */
  readonly peer: { readonly mac: string; readonly ip: string } | null
}

/** How long a question and an answer take on the simulated wire. */
const questionUs = 120
const answerUs = 80

/** All frames of a rehearsal in their order. Beyond `most` the oldest go; `count` counts on. */
export class FrameLog {
  private readonly frames: LoggedFrame[] = []
  count = 0
  nowUs = 0

  constructor(private readonly most = Infinity) {}

  add(frame: Omit<LoggedFrame, 'timeUs'>): void {
    this.nowUs += frame.direction === 'sent' ? questionUs : answerUs
    this.count++
    this.frames.push({ ...frame, timeUs: this.nowUs })
    if (this.frames.length > 2 * this.most) this.frames.splice(0, this.frames.length - this.most)
  }

  get latest(): readonly LoggedFrame[] {
    return this.frames.length > this.most ? this.frames.slice(-this.most) : this.frames
  }
}
