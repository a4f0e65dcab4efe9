import { chmodSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
// Plain Node, without types: the same set-up that `npm start` uses.
import { nextFree } from '../setup/ports.mjs'
import { startPostgres } from '../setup/postgres.mjs'
import { enter } from './editors'
import { Instance, mountSmall, pause, unmount } from './plant'

export interface FullDisk {
  /** Answers to changes while nothing was left, by status. */
  readonly refused: Record<string, number>
  readonly stayedUp: boolean
  readonly wentOn: boolean
}

/** A database on a small file system that is filled: changes are refused in a sentence, the program
 *  stays up, and goes on when there is room again. Null where this machine mounts nothing. */
export async function fullDisk(say: (sentence: string) => void): Promise<FullDisk | null> {
  const folder = mkdtempSync(join(tmpdir(), 'kataxis-small-'))
  if (!mountSmall(folder, 200)) {
    say('No small disk can be mounted here; a full one is not tried.')
    rmSync(folder, { recursive: true, force: true })
    return null
  }
  chmodSync(folder, 0o755)
  say('Filling a small disk …')
  try {
    const postgres = await startPostgres(folder)
    const instance = new Instance((await nextFree(4860))!, postgres.url)
    await instance.start()
    const pid = instance.pid
    const headers = await enter(instance.url, 'owner', 'skarvholm')
    const { id } = (await (
      await fetch(`${instance.url}/projects`, { method: 'POST', headers, body: '{"name":"Small"}' })
    ).json()) as { id: string }
    let number = 0
    // Some kilobytes each, so that the log of the database needs a new segment soon.
    const change = () =>
      fetch(`${instance.url}/projects/${id}/commands`, {
        method: 'POST',
        headers,
        body: JSON.stringify({
          commandId: `d${number++}`,
          baseRevision: 1e9,
          command: {
            type: 'editSignals',
            edits: Array.from({ length: 300 }, (_, i) => ({
              id: `g${i}`,
              tag: `T${number}_${i}`,
              comment: Math.random().toString(36).repeat(8),
            })),
          },
        }),
      }).then(
        ({ status }) => status,
        () => 0,
      )
    const ballast = join(folder, 'ballast')
    for (let bytes = 64 * 1024 * 1024; bytes >= 4096; bytes /= 2) {
      for (;;) {
        try {
          writeFileSync(ballast, new Uint8Array(bytes), { flag: 'a' })
        } catch {
          break
        }
      }
    }
    const refused: Record<string, number> = {}
    for (let i = 0; i < 60; i++) {
      const status = await change()
      if (status !== 200) refused[status] = (refused[status] ?? 0) + 1
    }
    const stayedUp =
      instance.pid === pid &&
      (await fetch(`${instance.url}/health`).then(
        () => true,
        () => false,
      ))
    say(`The disk was full at ${statSync(ballast).size} bytes of ballast; making room.`)
    rmSync(ballast)
    let wentOn = false
    for (let tries = 0; tries < 30 && !wentOn; tries++) {
      await postgres.startAgain().catch(() => undefined)
      wentOn = (await change()) === 200
      if (!wentOn) await pause(1000)
    }
    await instance.stop()
    postgres.stop()
    return { refused, stayedUp, wentOn }
  } finally {
    // All of it goes with the file system.
    unmount(folder)
    rmSync(folder, { recursive: true, force: true })
  }
}
