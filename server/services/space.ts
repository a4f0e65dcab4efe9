import { statfs } from 'node:fs/promises'
import type { Logger } from 'pino'

/** Below this the interface says so; PostgreSQL stops taking changes when nothing is left. */
const scarceBytes = 500_000_000
const everyMs = 15_000

/** Free space where the program and, as far as it stands on this machine, its database keep their
 *  files. */
export class Space {
  /** Of the folder that has least; null as long as nobody looked. */
  freeBytes: number | null = null
  private readonly timer = setInterval(() => void this.look(), everyMs).unref()

  constructor(
    private readonly folders: readonly string[],
    private readonly log: Logger,
  ) {
    void this.look()
  }

  get isScarce(): boolean {
    return this.freeBytes !== null && this.freeBytes < scarceBytes
  }

  close(): void {
    clearInterval(this.timer)
  }

  async look(): Promise<void> {
    const wasScarce = this.isScarce
    const free = await Promise.all(
      this.folders.map((folder) =>
        statfs(folder).then(
          ({ bavail, bsize }) => bavail * bsize,
          () => Infinity,
        ),
      ),
    )
    const least = Math.min(Infinity, ...free)
    this.freeBytes = Number.isFinite(least) ? least : null
    if (this.isScarce && !wasScarce)
      this.log.warn({ freeBytes: this.freeBytes }, 'the disk is nearly full')
  }
}
