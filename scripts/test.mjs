// `npm test`: installs what is missing, then type check, lint, unit, server and browser tests.
// Plain Node, no packages. Ends with the line `N passed, N failed, N skipped`.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensureServerBuild, ensureWebBuild } from './setup/build.mjs'
import { chromium, ensureDebianPackages, ensureNpmPackages } from './setup/packages.mjs'
import { nextFree } from './setup/ports.mjs'
import { ensurePostgresInstalled, removePostgres } from './setup/postgres.mjs'
import { root, runAsync, succeeds } from './setup/run.mjs'
import { failWith, say } from './setup/say.mjs'

const results = mkdtempSync(join(tmpdir(), 'kataxis-results-'))
const totals = { passed: 0, failed: 0, skipped: 0 }

/** How long each part took. */
const times = []
async function timed(name, work) {
  say(`── ${name}`)
  const started = performance.now()
  const result = await work()
  times.push(`${Math.round((performance.now() - started) / 1000)} s ${name}`)
  return result
}

/** A step that is one test by itself: it passes or it fails. */
async function step(name, args, program = 'npx') {
  const code = await timed(name, () => runAsync(program, args))
  totals[code === 0 ? 'passed' : 'failed']++
}

/** A test runner whose own counts are added up from its JSON report. */
async function suite(name, args, report, count, env = {}) {
  const code = await timed(name, () => runAsync('npx', args, { env: { ...process.env, ...env } }))
  const counts = existsSync(report)
    ? count(JSON.parse(readFileSync(report, 'utf8')))
    : { passed: 0, failed: 1, skipped: 0 }
  for (const key of Object.keys(totals)) totals[key] += counts[key]
  if (code !== 0 && counts.failed === 0) totals.failed++
}

/** What is told without running anything: types, lint, how code is set, who imports whom. */
async function checks() {
  // The compiler that runs by itself; linting and components need the one written in JavaScript.
  const tsc = ['node_modules/typescript-7/bin/tsc', '--noEmit', '-p']
  await step('type check', [...tsc, 'tsconfig.json'], process.execPath)
  await step(
    'type check of core without DOM and Node',
    [...tsc, 'core/tsconfig.json'],
    process.execPath,
  )
  await step('type check of the interface', ['vue-tsc', '--noEmit', '-p', 'web/tsconfig.json'])
  await step('lint', ['eslint', '.', '--max-warnings', '0'])
  await step('how code is set', ['prettier', '--check', '.'])
  await step('layers and circles of imports', [
    'depcruise',
    ...['--config', '.dependency-cruiser.mjs'],
    ...['core', 'pdf', 'standins', 'server', 'web', 'cli'],
  ])
}

/** Some projects of `vitest.config.ts`. */
async function tests(name, projects) {
  const report = join(results, `${projects[0]}.json`)
  await suite(
    name,
    [
      ...['vitest', 'run', ...projects.flatMap((project) => ['--project', project])],
      ...['--reporter=dot', '--reporter=json', `--outputFile.json=${report}`],
    ],
    report,
    (counted) => ({
      passed: counted.numPassedTests,
      failed: counted.numFailedTests,
      skipped: counted.numPendingTests + (counted.numTodoTests ?? 0),
    }),
  )
}

async function unitThenFaults() {
  await tests('unit tests', ['unit', 'apart', 'cli'])
  await step(
    'what goes wrong in operation, for a minute',
    ['scripts/faults.mjs', '--short'],
    process.execPath,
  )
}

async function main() {
  ensureDebianPackages([
    chromium,
    {
      package: 'poppler-utils',
      present: () => succeeds('pdftotext', ['-v']),
      why: 'documents are read by a program of somebody else',
    },
    {
      package: 'tshark',
      present: () => succeeds('tshark', ['--version']),
      why: 'the protocol analyser that frames are checked against',
    },
  ])
  ensurePostgresInstalled()
  ensureNpmPackages()
  ensureServerBuild()
  ensureWebBuild()

  removePostgres(join(root, '.kataxis-test'))
  // Beside each other what waits and what computes; what measures times runs alone.
  await Promise.all([checks(), unitThenFaults()])
  await tests('server tests', ['server'])
  await tests('server tests that measure', ['measured'])

  const home = join(root, '.kataxis-e2e')
  removePostgres(home)
  const browserReport = join(results, 'playwright.json')
  const port = await nextFree(4690)
  await suite(
    'browser tests',
    ['playwright', 'test', '--config', 'e2e/playwright.config.ts'],
    browserReport,
    (report) => ({
      passed: report.stats.expected,
      failed: report.stats.unexpected + report.stats.flaky,
      skipped: report.stats.skipped,
    }),
    {
      KATAXIS_HOME: home,
      PORT: String(port),
      PLAYWRIGHT_JSON_OUTPUT_NAME: browserReport,
      DATABASE_URL: '',
    },
  )
  removePostgres(home)

  rmSync(results, { recursive: true, force: true })
  say(`── times\n${times.join('\n')}`)
  process.stdout.write(
    `${totals.passed} passed, ${totals.failed} failed, ${totals.skipped} skipped\n`,
  )
  process.exit(totals.failed > 0 ? 1 : 0)
}

main().catch(failWith)
