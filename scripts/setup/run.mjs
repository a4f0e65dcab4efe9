import { spawn, spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { CannotGoOn } from './say.mjs'

export const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '')

/** Runs a command to its end, its output to standard error; `quiet` shows it only when it fails. */
export function run(command, args, { quiet = false, env = process.env, cwd = root } = {}) {
  const result = spawnSync(command, args, {
    cwd,
    env,
    encoding: 'utf8',
    stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 2, 2],
    maxBuffer: 1 << 28,
  })
  if (result.error)
    throw new CannotGoOn(`"${command}" could not be started: ${result.error.message}.`)
  if (result.status !== 0) {
    const said = quiet ? `\n${result.stdout}${result.stderr}`.trimEnd() : ''
    throw new CannotGoOn(
      `"${command} ${args.join(' ')}" ended with ${result.status ?? result.signal}.${said}`,
    )
  }
  return result.stdout ?? ''
}

export function succeeds(command, args) {
  return spawnSync(command, args, { stdio: 'ignore' }).status === 0
}

/** The same without waiting; resolves with the exit code. */
export function runAsync(command, args, { env = process.env, stdio = 'inherit', cwd = root } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd, env, stdio })
    child.on('error', reject)
    child.on('exit', (code) => resolve(code ?? 1))
  })
}
