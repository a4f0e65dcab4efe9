// `npm run faults [-- --short]`: what goes wrong in operation, done on purpose for ten minutes (or
// one). Plain Node, no packages.
import { ensureServerBuild } from './setup/build.mjs'
import { ensureNpmPackages } from './setup/packages.mjs'
import { root, runAsync } from './setup/run.mjs'
import { failWith } from './setup/say.mjs'

async function main() {
  ensureNpmPackages()
  ensureServerBuild()
  process.exit(
    await runAsync(
      process.execPath,
      ['--import', 'tsx', 'scripts/faults/main.ts', ...process.argv.slice(2)],
      { cwd: root },
    ),
  )
}

main().catch(failWith)
