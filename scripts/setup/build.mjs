import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root, run } from './run.mjs'
import { say } from './say.mjs'

/** Builds the web interface when its sources, core's or the packages changed since the last
 *  time. */
export function ensureWebBuild() {
  ensureBuilt('web', ['web', 'core', 'package-lock.json'], 'the interface')
}

/** The same for the server and its threads. */
export function ensureServerBuild() {
  ensureBuilt(
    'server',
    ['server', 'core', 'pdf', 'standins', 'demo', 'package-lock.json'],
    'the server',
  )
}

function ensureBuilt(folder, sources, what) {
  const wanted = fingerprint(sources)
  const marker = join(root, folder, 'dist', '.sources')
  if (existsSync(marker) && readFileSync(marker, 'utf8') === wanted) return
  say(`Building ${what} …`)
  // What is built is the same whoever asks; tests set another NODE_ENV.
  const env = { ...process.env, NODE_ENV: 'production' }
  const cwd = join(root, folder)
  run('npx', ['vite', 'build', '--logLevel', 'warn'], { quiet: true, cwd, env })
  writeFileSync(marker, wanted)
}

function fingerprint(paths) {
  const hash = createHash('sha256')
  const visit = (path) => {
    if (/\/(node_modules|dist)$|\.test\.ts$/.test(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) visit(join(path, name))
    } else {
      hash.update(path.slice(root.length)).update(readFileSync(path))
    }
  }
  for (const path of paths) visit(join(root, path))
  return hash.digest('hex')
}
