import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root, run, succeeds } from './run.mjs'
import { CannotGoOn, say } from './say.mjs'

const isRoot = process.getuid?.() === 0

export const chromium = {
  package: 'chromium',
  present: () => existsSync('/usr/bin/chromium'),
  why: 'the browser that tests and measurements drive',
}

/** Installs Debian packages whose program is not there yet. `wanted`: [{ package, present: () =>
 *  boolean, why }]. */
export function ensureDebianPackages(wanted) {
  const missing = wanted.filter(({ present }) => !present())
  if (missing.length === 0) return
  const names = missing.map((entry) => entry.package)
  const sudo = isRoot ? [] : succeeds('sudo', ['-n', 'true']) ? ['sudo', '-n'] : null
  if (sudo === null || !succeeds('apt-get', ['--version'])) {
    const reasons = missing.map((entry) => `${entry.package} (${entry.why})`).join(', ')
    throw new CannotGoOn(
      `Missing: ${reasons}. An ordinary user may not install it; ask an administrator for: apt-get install ${names.join(' ')}`,
    )
  }
  say(`Installing Debian packages: ${names.join(', ')} …`)
  keepDistributionClusterAway(sudo)
  const apt = (...args) =>
    run(
      sudo[0] ?? 'env',
      [
        ...sudo.slice(1),
        ...(sudo.length ? ['env'] : []),
        'DEBIAN_FRONTEND=noninteractive',
        'apt-get',
        '-qq',
        '-y',
        ...args,
      ],
      { quiet: true },
    )
  apt('update')
  apt('install', '--no-install-recommends', ...names)
  const still = missing.filter(({ present }) => !present())
  if (still.length > 0)
    throw new CannotGoOn(
      `${still.map((entry) => entry.package).join(', ')} was installed but cannot be found.`,
    )
}

/** Debian would create and start a cluster of its own on 5432; we bring our own. */
function keepDistributionClusterAway(sudo) {
  if (sudo.length > 0 || existsSync('/usr/share/postgresql-common')) return
  mkdirSync('/etc/postgresql-common/createcluster.d', { recursive: true })
  writeFileSync(
    '/etc/postgresql-common/createcluster.d/kataxis.conf',
    'create_main_cluster = false\n',
  )
}

/** `npm ci` when the installed packages are not those of the lock file. */
export function ensureNpmPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  const marker = join(root, 'node_modules', '.kataxis-lock')
  if (existsSync(marker) && readFileSync(marker, 'utf8') === lock) return
  say('Installing npm packages …')
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { quiet: true })
  writeFileSync(marker, lock)
}
