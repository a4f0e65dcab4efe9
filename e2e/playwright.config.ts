import { fileURLToPath } from 'node:url'
import { defineConfig } from '@playwright/test'
import { signedInState } from './sign-in'

const port = process.env['PORT'] ?? '4690'
const specs = (...names: string[]) => names.map((name) => `${name}.spec.ts`)
/** The other two lines take the rest, so that all take about equally long. */
const first = specs('board', 'jobs', 'resilience', 'shelf')
const second = specs('stages', 'together', 'way')

/** Features of the browser that are left off. Of two such lists the later one holds, so what matters
 *  of Playwright's own stands here too. The first two are hidden pages of the address field, which
 *  a browser without a screen loads for each new window: a quarter of its work. */
const unwanted = [
  ...['WebUIOmniboxPopup', 'WebUIOmniboxAimPopup'],
  ...['AvoidUnnecessaryBeforeUnloadCheckSync', 'DestroyProfileOnBrowserClose', 'HttpsUpgrades'],
  ...['HttpsFirstBalancedModeAutoEnable', 'LensOverlay', 'MediaRouter', 'PaintHolding'],
  ...['ThirdPartyStoragePartitioning', 'OptimizationHints', 'NetworkTimeServiceQuerying'],
  ...['AimEnabled', 'PreconnectToSearch'],
]

/** The real start command, with a home and a port of its own. */
export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  timeout: 90_000,
  // A page that loads beside two others takes up to ten seconds.
  expect: { timeout: 20_000 },
  // Beside each other on one program: those that change the demo one after the other, since Undo
  // takes back what the same person did last, and two lines of others. A browser waits half of the
  // time, so three keep two cores busy.
  workers: 3,
  projects: [
    { name: 'demo', testMatch: '*.spec.ts', testIgnore: [...first, ...second], workers: 1 },
    { name: 'first', testMatch: first, workers: 1 },
    { name: 'second', testMatch: second, workers: 1 },
  ],
  reporter: [['list'], ['json']],
  globalSetup: fileURLToPath(new URL('./sign-in.ts', import.meta.url)),
  use: {
    storageState: signedInState,
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    contextOptions: { reducedMotion: 'reduce' },
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        `--disable-features=${unwanted.join(',')}`,
      ],
    },
    // A trace of every test takes a third of their time: `--trace on` where one is wanted.
    screenshot: 'only-on-failure',
  },
  webServer: {
    command: 'node scripts/start.mjs --demo',
    cwd: '..',
    url: `http://127.0.0.1:${port}/api/health`,
    timeout: 180_000,
    reuseExistingServer: false,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 15_000 },
    env: {
      KATAXIS_HOME: process.env['KATAXIS_HOME'] ?? '.kataxis-e2e',
      PORT: port,
      KATAXIS_CHECK_ANSWERS: '1',
    },
  },
})
