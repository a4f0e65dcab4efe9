import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root, run } from './run.mjs'
import { say } from './say.mjs'

/** Builds the web interface when its sources, core's or the packages changed since the last time. */
export function ensureWebBuild() {
  const sources = fingerprint(['web', 'core', 'package-lock.json'])
  const marker = join(root, 'web', 'dist', '.sources')
  if (existsSync(marker) && readFileSync(marker, 'utf8') === sources) return
  say('Building the interface …')
  run('npx', ['vite', 'build', '--logLevel', 'warn'], { quiet: true, cwd: join(root, 'web') })
  writeFileSync(marker, sources)
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
