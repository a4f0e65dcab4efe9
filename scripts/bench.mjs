// `npm run bench [-- NAME…]`: ratios measured in one run, as JSON on standard output. Plain Node,
// no packages.
import { ensureServerBuild, ensureWebBuild } from './setup/build.mjs'
import { chromium, ensureDebianPackages, ensureNpmPackages } from './setup/packages.mjs'
import { root, runAsync } from './setup/run.mjs'
import { failWith } from './setup/say.mjs'

/** Young generation as in the server's reading threads (server/reading/reader-pool.ts), for both
 *  sides of every ratio. */
const semiSpaceMb = 32

async function main() {
  const names = process.argv.slice(2)
  if (names.length === 0 || names.some((name) => name.startsWith('page.')))
    ensureDebianPackages([chromium])
  ensureNpmPackages()
  ensureServerBuild()
  ensureWebBuild()
  process.exit(
    await runAsync(
      process.execPath,
      [
        '--expose-gc',
        '--max-old-space-size=8192',
        `--max-semi-space-size=${semiSpaceMb}`,
        '--import',
        'tsx',
        'scripts/bench/main.ts',
        ...names,
      ],
      { cwd: root },
    ),
  )
}

main().catch(failWith)
