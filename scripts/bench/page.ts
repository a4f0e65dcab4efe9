import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type BrowserContext, type CDPSession, type Page } from '@playwright/test'
import { median } from './measure'
import { withServers } from './servers'

/** The 128,000-channel plan in the browser: how long until there is something to work with, how long
 *  the page is held up while somebody scrolls, how much memory its script keeps. In a browser that
 *  has been here before, as at work; beside it what a browser takes that knows nothing yet. */

/** What is measured and the most that it may be. */
export const pageLimits = {
  'page.board': { most: 2000, unit: 'ms', what: 'from the address to the first lanes' },
  'page.ledger': { most: 1500, unit: 'ms', what: 'from the address to the first rows' },
  'page.board.new': { most: null, unit: 'ms', what: 'the first lanes in a new browser' },
  'page.ledger.new': { most: null, unit: 'ms', what: 'the first rows in a new browser' },
  'page.stage': { most: 1500, unit: 'ms', what: 'from the Board to the first rows of the Ledger' },
  'page.scroll': { most: 50, unit: 'ms', what: 'longest task while scrolling Board and Ledger' },
  'page.sheet': { most: 100, unit: 'ms', what: 'from the key to a sheet that is drawn' },
  'page.memory': { most: 350, unit: 'MB', what: 'script memory after both' },
} as const
export type PageMeasure = keyof typeof pageLimits

const firstRow = '[data-testid=ledger-grid] [data-rgrow]'
const passes = 5
/** It compiles ahead what it has seen twice. */
const unmeasured = 3
const wheelTurns = 40
const wheelEveryMs = 40
const wheelPixels = 300

/** Milliseconds since the address was opened at which that was there. */
async function arrival(page: Page, path: string, selector: string): Promise<number> {
  await page.goto(path, { waitUntil: 'commit' })
  const found = await page.waitForFunction(
    (wanted) => document.querySelector(wanted) !== null && performance.now(),
    selector,
    { polling: 'raf', timeout: 60_000 },
  )
  return (await found.jsonValue()) as number
}

/** The page does nothing any more: plan checked, no task for a second. */
async function rest(page: Page): Promise<void> {
  await page.getByRole('contentinfo').getByRole('button').first().waitFor()
  await page.evaluate(
    () =>
      new Promise<void>((done) => {
        let last = performance.now()
        const timer = setInterval(() => {
          const now = performance.now()
          if (now - last > 60) quietSince = now
          last = now
          if (now - quietSince < 1000) return
          clearInterval(timer)
          done()
        }, 20)
        let quietSince = performance.now()
      }),
  )
}

/** The longest task, in milliseconds, while the wheel is turned over what that names. */
async function longestTask(page: Page, selector: string): Promise<number> {
  await page.evaluate(() => {
    const tasks: number[] = []
    Object.assign(window, { benchTasks: tasks })
    new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) tasks.push(duration)
    }).observe({ type: 'longtask' })
  })
  await page.locator(selector).first().hover()
  for (let turn = 0; turn < wheelTurns; turn++) {
    await page.mouse.wheel(0, wheelPixels)
    await page.waitForTimeout(wheelEveryMs)
  }
  await page.waitForTimeout(500)
  return page.evaluate(() =>
    Math.max(0, ...(window as unknown as { benchTasks: number[] }).benchTasks),
  )
}

/** Milliseconds from a click to the frame after the one in which something stands. */
const untilDrawn = (page: Page, clicked: string, wanted: string) =>
  page.evaluate(
    ([clicked, wanted]) =>
      new Promise<number>((done) => {
        const started = performance.now()
        const watch = new MutationObserver(() => {
          if (document.querySelector(wanted!) === null) return
          watch.disconnect()
          requestAnimationFrame(() => setTimeout(() => done(performance.now() - started)))
        })
        watch.observe(document.body, { childList: true, subtree: true })
        document.querySelector<HTMLElement>(clicked!)!.click()
      }),
    [clicked, wanted],
  )

/** Sheets of several modules in turn. */
async function untilSheet(page: Page): Promise<number> {
  const times: number[] = []
  for (const slot of [1, 2, 3, 4, 5]) {
    times.push(await untilDrawn(page, `[data-cell$=":${slot}"]`, 'aside[aria-label="Sheet"] h1'))
    await page.getByLabel('Close the sheet').click()
    await rest(page)
  }
  return median(times)
}

async function scriptMegabytes(page: Page): Promise<number> {
  const session: CDPSession = await page.context().newCDPSession(page)
  await session.send('HeapProfiler.collectGarbage')
  const { usedSize } = await session.send('Runtime.getHeapUsage')
  await session.detach()
  return usedSize / 1e6
}

type Measured = Record<PageMeasure, number>
const looks = { viewport: { width: 1280, height: 800 } }

/** Signs in and dismisses the hints, which lie over the first rows. */
async function enter(context: BrowserContext, url: string): Promise<void> {
  await context.request.post(`${url}/api/session`, {
    data: { name: 'owner', password: 'skarvholm' },
  })
  await context.addInitScript(() =>
    localStorage.setItem('kataxis.hints-dismissed', JSON.stringify(['all'])),
  )
}

async function onePass(context: BrowserContext, url: string): Promise<Partial<Measured>> {
  let page = await context.newPage()
  const board = await arrival(page, `${url}/p/large/board`, '[data-cell]')
  await rest(page)
  const boardTask = await longestTask(page, '[data-cell]')
  const sheet = await untilSheet(page)
  const stage = await untilDrawn(page, 'nav[aria-label="Stages"] a[href$="/ledger"]', firstRow)
  // In a window of its own: what the one before leaves behind is cleared away by the browser.
  await page.close()
  page = await context.newPage()
  const ledger = await arrival(page, `${url}/p/large/ledger`, firstRow)
  await rest(page)
  const ledgerTask = await longestTask(page, '[data-testid=ledger-grid]')
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: 'Board' })
    .click()
  await page.locator('[data-cell]').first().waitFor()
  await rest(page)
  const memory = await scriptMegabytes(page)
  await page.close()
  return {
    'page.board': board,
    'page.ledger': ledger,
    'page.stage': stage,
    'page.scroll': Math.max(boardTask, ledgerTask),
    'page.sheet': sheet,
    'page.memory': memory,
  }
}

const launched = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-features=WebUIOmniboxPopup,WebUIOmniboxAimPopup',
  ],
}

/** The arrivals in browsers that know nothing yet. */
async function newBrowsers(url: string): Promise<Partial<Measured>[]> {
  const browser = await chromium.launch(launched)
  const found: Partial<Measured>[] = []
  for (let pass = 0; pass < passes; pass++)
    for (const [name, stage, selector] of [
      ['page.board.new', 'board', '[data-cell]'],
      ['page.ledger.new', 'ledger', firstRow],
    ] as const) {
      const context = await browser.newContext(looks)
      await enter(context, url)
      const page = await context.newPage()
      found.push({ [name]: await arrival(page, `${url}/p/large/${stage}`, selector) })
      await context.close()
    }
  await browser.close()
  return found
}

/** Passes in one browser that keeps what it has fetched and compiled, after some unmeasured ones. */
async function knownBrowser(url: string): Promise<Partial<Measured>[]> {
  const profile = mkdtempSync(join(tmpdir(), 'kataxis-browser-'))
  const context = await chromium.launchPersistentContext(profile, { ...launched, ...looks })
  try {
    await enter(context, url)
    const found: Partial<Measured>[] = []
    for (let pass = 0; pass < unmeasured + passes; pass++) found.push(await onePass(context, url))
    return found.slice(unmeasured)
  } finally {
    await context.close()
    rmSync(profile, { recursive: true, force: true })
  }
}

/** Medians of several passes. */
export function measurePage(): Promise<Readonly<Measured>> {
  return withServers(1, async ({ urls: [url] }) => {
    const all = [...(await newBrowsers(url!)), ...(await knownBrowser(url!))]
    const names = Object.keys(pageLimits) as PageMeasure[]
    const of = (name: PageMeasure) => median(all.flatMap((found) => found[name] ?? []))
    return Object.fromEntries(names.map((name) => [name, of(name)])) as Measured
  })
}
