import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** Claims `home` for this process. Gives the address of the program that already holds it, or
 *  null. */
export async function claim(home) {
  mkdirSync(home, { recursive: true })
  const file = join(home, 'running.json')
  for (;;) {
    try {
      writeFileSync(file, JSON.stringify({ pid: process.pid, url: null }), { flag: 'wx' })
      return null
    } catch (error) {
      if (error.code !== 'EEXIST') throw error
    }
    const holder = readHolder(file)
    if (holder && isAlive(holder.pid)) return holder
    rmSync(file, { force: true })
  }
}

export function announce(home, url) {
  writeFileSync(join(home, 'running.json'), JSON.stringify({ pid: process.pid, url }))
}

export function release(home) {
  const file = join(home, 'running.json')
  if (existsSync(file) && readHolder(file)?.pid === process.pid) rmSync(file, { force: true })
}

function readHolder(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return null
  }
}

/** Alive, and really one of our start scripts: after a crash the number may belong to another
 *  program. */
function isAlive(pid) {
  try {
    process.kill(pid, 0)
  } catch (error) {
    if (error.code !== 'EPERM') return false
  }
  try {
    return /scripts\/start\.mjs/.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8'))
  } catch {
    return true
  }
}
