import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import AxeBuilder from '@axe-core/playwright'
import {
  expect,
  test,
  type Browser,
  type BrowserContext,
  type Locator,
  type Page,
} from '@playwright/test'
import { open } from './fixtures'
import { withoutHints } from './sign-in'

const demoFile = fileURLToPath(
  new URL('../demo/GSDML-V2.35-Quillane-QH400-20260312.xml', import.meta.url),
)

/** A description file that nobody brought in before: the demo's, with another comment. */
export function newDescription(mark: string) {
  const text = readFileSync(demoFile, 'utf8').replace(
    'do not exist. -->',
    `do not exist. ${mark} ${Date.now()} -->`,
  )
  return {
    name: `GSDML-V2.35-Quillane-QH400-${mark}.xml`,
    mimeType: 'text/xml',
    buffer: Buffer.from(text),
  }
}

export async function newProject(page: Page, name: string): Promise<string> {
  await open(page, '/')
  await page.getByLabel('Name of the project').fill(name)
  await page.getByRole('button', { name: 'Create project' }).click()
  await expect(page).toHaveURL(/\/p\/[^/]+\/overview/)
  await stage(page, 'Board')
  return /\/p\/([^/]+)\//.exec(page.url())![1]!
}

export const stage = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name }).click()

type Files = Parameters<Locator['setInputFiles']>[0]
/** Chooses files in the field of that name, once it is there; a link may be called the same. */
export const chooseFiles = (page: Page, label: string, files: Files) =>
  page.getByLabel(label).and(page.locator('input[type=file]')).setInputFiles(files)

/** Chooses in a list of choices by what the choice is called. */
export async function choose(field: Locator, choice: string): Promise<void> {
  await field.click()
  // Long lists draw only what can be seen.
  await field.fill(choice)
  await field
    .page()
    .locator('.n-base-select-option')
    .filter({ visible: true })
    .getByText(choice, { exact: true })
    .click()
}

/** Does something from a menu. */
export async function fromMenu(page: Page, menu: string, what: string): Promise<void> {
  await page.getByRole('button', { name: menu, exact: true }).click()
  await page.locator('.n-dropdown-menu').getByText(what, { exact: true }).click()
}

/** What is chosen in a list of choices. */
export const expectChosen = (field: Locator, choice: string) =>
  expect(field).toHaveAttribute('aria-description', choice)

export async function saved(page: Page): Promise<void> {
  await expect(page.getByTestId('link')).toContainText('Saved')
}

/** The first controller of a plan, with a network of a kind. */
export async function beginWith(page: Page, kind = 'PROFINET'): Promise<void> {
  await page.getByRole('button', { name: 'Add a controller and a network' }).click()
  await page.locator('.n-dropdown-menu').getByText(kind, { exact: true }).click()
}

/** One more network of a controller. */
export async function addNetwork(page: Page, controller: string, kind: string): Promise<void> {
  await page.getByRole('button', { name: `Add a network to ${controller}` }).click()
  await page.locator('.n-dropdown-menu').getByText(kind, { exact: true }).click()
}

/** A controller, its network, and a station on the head with that firmware; the cursor stands on
 *  slot 1. */
export async function addStation(page: Page, firmware: string): Promise<void> {
  const begin = page.getByRole('button', { name: 'Add a controller and a network' })
  const add = page.getByRole('button', { name: '+ Station' })
  await expect(begin.or(add)).toBeVisible()
  if (await begin.isVisible()) await beginWith(page)
  await add.click()
  await page.getByRole('combobox', { name: 'Head module' }).fill(firmware)
  await page.getByRole('combobox', { name: 'Head module' }).press('Enter')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page.locator('[data-cell]:focus')).toBeVisible()
}

/** Types into the focused free slot and takes the first candidate. */
export async function insertByKeyboard(page: Page, text: string): Promise<void> {
  await page.keyboard.type(text)
  await expect(page.getByRole('combobox', { name: /Module for slot/ })).toHaveValue(text)
  await page.keyboard.press('Enter')
}

export const cell = (page: Page, station: string, slot: number) =>
  page.getByRole('row').filter({ hasText: station }).locator(`[data-cell$=":${slot}"]`)

/** A browser of its own in which one of the demo's people is signed in. */
export async function signedIn(browser: Browser, name: string): Promise<BrowserContext> {
  const { baseURL } = test.info().project.use
  const context = await browser.newContext({
    storageState: { cookies: [], origins: [withoutHints(baseURL!)] },
  })
  await context.request.post('/api/session', { data: { name, password: 'skarvholm' } })
  return context
}

/** What axe finds that is serious or worse, with the places. What a theme changes is colours: where
 *  the same page was looked at in the other one, `only` them need another look. */
export async function violations(page: Page, only?: 'colours'): Promise<string[]> {
  // A colour on its way from one theme to the other is none of either.
  await page.evaluate(async () => {
    await document.fonts.ready
    await Promise.allSettled(document.getAnimations().map(({ finished }) => finished))
  })
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] })
  if (only === 'colours') axe.withRules(['color-contrast'])
  const found = await axe.analyze()
  return found.violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`)
}

/** Empty fields whose words do not fit into them, and controls that stand beyond the right edge where
 *  nothing scrolls to them. */
export function cutOff(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const pen = document.createElement('canvas').getContext('2d')!
    const isTooWide = (one: HTMLInputElement) => {
      const { font, paddingLeft, paddingRight } = getComputedStyle(one)
      pen.font = font
      const room = one.clientWidth - parseFloat(paddingLeft) - parseFloat(paddingRight)
      return one.checkVisibility() && pen.measureText(one.placeholder).width > room + 1
    }
    const fields = [...document.querySelectorAll('input')]
      .filter((one) => one.value === '' && isTooWide(one))
      .map((one) => one.placeholder)
    const scrolls = (one: Element | null): boolean =>
      one !== null &&
      (['auto', 'scroll'].includes(getComputedStyle(one).overflowX) || scrolls(one.parentElement))
    const outside = [...document.querySelectorAll<HTMLElement>('button, input, a, [role=combobox]')]
      .filter((one) => one.checkVisibility() && one.getBoundingClientRect().right > innerWidth + 1)
      .filter((one) => !scrolls(one.parentElement) && one.closest('revo-grid') === null)
      .map((one) => `outside: ${one.getAttribute('aria-label') ?? one.textContent?.trim()}`)
    return [...fields, ...outside]
  })
}

/** Begins a rehearsal with these differences, as a list, and shows it. */
export async function beginRehearsal(page: Page, differences: readonly object[]): Promise<void> {
  const status = await page.evaluate(async (list) => {
    const project = location.pathname.split('/')[2]
    const { csrf } = (await (await fetch('/api/session')).json()) as { csrf: string }
    const begun = await fetch(`/api/projects/${project}/rehearsal`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Kataxis-Token': csrf },
      body: JSON.stringify({ difficulty: 'few', differences: list }),
    })
    return begun.status
  }, differences)
  expect(status).toBe(200)
  await page.reload()
}
