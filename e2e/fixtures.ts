import {
  expect,
  test as base,
  type BrowserContext,
  type BrowserContextOptions,
  type Page,
} from '@playwright/test'

export { expect }

/** Goes to a place of the program as a link does; only an empty window loads the page. */
export async function open(page: Page, path: string): Promise<void> {
  if (page.url() === 'about:blank') await page.goto(path)
  else
    await page.evaluate((to) => {
      history.pushState(null, '', to)
      dispatchEvent(new PopStateEvent('popstate', { state: null }))
    }, path)
  const { pathname, search } = new URL(path, page.url())
  await expect(page).toHaveURL((at) => `${at.pathname}${at.search}`.startsWith(pathname + search))
}

/** What a test has left behind goes: windows, hindrances, what the browser keeps of its looks. */
async function tidy(page: Page): Promise<void> {
  await page.unrouteAll({ behavior: 'ignoreErrors' })
  await page.context().setOffline(false)
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.emulateMedia({ colorScheme: null })
  for (const other of page.context().pages()) if (other !== page) await other.close()
  await page.evaluate(() => {
    for (const key of Object.keys(localStorage))
      if (/^kataxis\.(?!hints|user)/.test(key)) localStorage.removeItem(key)
  })
}

/** The window that stays open from test to test. */
let kept: BrowserContext | null = null

/** Tests about loading, leaving or several windows: a browser that knows nothing yet. Windows that a
 *  test has opened close with it. */
export const freshTest = base.extend<{ closing: undefined }>({
  closing: [
    async ({ browser }, use) => {
      await use(undefined)
      for (const context of browser.contexts()) if (context !== kept) await context.close()
    },
    { auto: true },
  ],
})

/** Tests in which one person goes from task to task in a window that stays open, as at work; loading
 *  the page takes longer than most of them. */
export const test = freshTest.extend<object, { window: Page }>({
  window: [
    async ({ browser }, use, { project }) => {
      const { baseURL, storageState, viewport, acceptDownloads, permissions, contextOptions } =
        project.use
      const options: BrowserContextOptions = { ...contextOptions, viewport: viewport ?? null }
      const context = await browser.newContext({
        ...options,
        ...(baseURL !== undefined && { baseURL }),
        ...(storageState !== undefined && { storageState }),
        ...(acceptDownloads !== undefined && { acceptDownloads }),
        ...(permissions !== undefined && { permissions }),
      })
      kept = context
      const page = await context.newPage()
      await use(page)
      kept = null
      await context.close()
    },
    { scope: 'worker' },
  ],
  page: async ({ window }, use) => {
    await window.bringToFront()
    await open(window, '/')
    await expect(window.getByRole('region', { name: 'Projects', exact: true })).toBeVisible()
    await use(window)
    await tidy(window)
  },
})
