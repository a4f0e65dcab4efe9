import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { choose, fromMenu, newProject, saved, signedIn, stage } from './steps'

const named = (page: Page, table: string, name: string) =>
  page.getByLabel(table).getByText(name, { exact: true })
const act = (page: Page, name: string, what: string) => fromMenu(page, `More for ${name}`, what)

test('a project is renamed, duplicated, archived, restored, deleted and restored', async ({
  page,
}) => {
  const name = `Basin ${Date.now()}`
  await newProject(page, name)
  await open(page, '/')
  await act(page, name, 'Rename …')
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name').fill(`${name} north`)
  await dialog.getByRole('button', { name: 'Rename' }).click()
  await expect(named(page, 'Projects in use', `${name} north`)).toBeVisible()

  await act(page, `${name} north`, 'Duplicate …')
  await dialog.getByLabel('Name').fill(`${name} south`)
  await dialog.getByRole('button', { name: 'Duplicate' }).click()
  await expect(named(page, 'Projects in use', `${name} south`)).toBeVisible()

  await act(page, `${name} south`, 'Archive')
  await named(page, 'Archived projects', `${name} south`).click()
  await expect(page.getByText('This project is archived and can only be looked at')).toBeVisible()
  await open(page, '/')
  await act(page, `${name} south`, 'Restore')
  await expect(named(page, 'Projects in use', `${name} south`)).toBeVisible()
  await act(page, `${name} south`, 'Delete')
  await expect(named(page, 'Projects in use', `${name} south`)).toHaveCount(0)
  await page.getByRole('button', { name: `Restore ${name} south` }).click()
  await expect(named(page, 'Projects in use', `${name} south`)).toBeVisible()

  await page.getByLabel('Find a project').fill('north')
  await expect(named(page, 'Projects in use', `${name} south`)).toHaveCount(0)
  await expect(named(page, 'Projects in use', `${name} north`)).toBeVisible()
})

test('members enter in their role, others do not see the project', async ({ page, browser }) => {
  const name = `Closed ${Date.now()}`
  await newProject(page, name)
  await saved(page)
  await open(page, '/')
  await act(page, name, 'Members …')
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Members only').click()
  await choose(dialog.getByRole('combobox', { name: 'Role of Pia Norr' }), 'Viewer')
  await dialog.getByRole('button', { name: 'Apply' }).click()
  await expect(dialog).toHaveCount(0)

  const [planner, viewer] = await Promise.all(
    ['planner', 'viewer'].map(async (who) => (await signedIn(browser, who)).newPage()),
  )
  await open(viewer!, '/')
  await expect(viewer!.getByText('Skarvholm Waterworks')).toBeVisible()
  await expect(viewer!.getByText(name)).toHaveCount(0)
  await open(planner!, '/')
  await planner!.getByText(name, { exact: true }).click()
  await stage(planner!, 'Board')
  await planner!.getByRole('button', { name: 'Add a controller and a network' }).click()
  await planner!.locator('.n-dropdown-menu').getByText('PROFINET', { exact: true }).click()
  await expect(planner!.getByText(/Your role is Viewer/)).toBeVisible()
})

test('a stage says what it is for, its hints once, its keys on ?', async ({ browser, page }) => {
  const first = await (
    await browser.newContext({ storageState: { cookies: [], origins: [] } })
  ).newPage()
  await first.context().addCookies(await page.context().cookies())
  await open(first, '/p/skarvholm/ledger')
  const hints = first.getByRole('region', { name: 'Hints for Ledger' })
  await expect(hints.getByRole('listitem')).toHaveCount(3)
  await hints.getByRole('button', { name: 'Dismiss' }).click()
  await first.reload()
  await expect(first.getByRole('heading', { name: 'Ledger' })).toBeVisible()
  await expect(hints).toHaveCount(0)
  await first.keyboard.press('?')
  const help = first.getByRole('dialog', { name: 'Help: Ledger' })
  await expect(help.getByText('continues the first rows of the selection downwards')).toBeVisible()
  const manual = first.waitForEvent('popup')
  await help.getByRole('link', { name: 'The manual’s page about it' }).click()
  await expect((await manual).getByRole('heading', { level: 1 })).toBeVisible()
})

test('pages that need something chosen offer it', async ({ page }) => {
  await open(page, '/p/skarvholm/range')
  const signals = page.getByRole('region', { name: 'Choose: Signal' })
  await signals.getByLabel('Search').fill('INT_LT')
  await signals.getByRole('button', { name: 'INT_LT_101', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'INT_LT_101' })).toBeVisible()
  await open(page, '/p/skarvholm/parameters')
  const modules = page.getByRole('region', { name: 'Choose: Module' })
  await modules.getByLabel('Search').fill('dosing')
  await modules.locator('.choice').first().click()
  await expect(page.getByRole('button', { name: 'All of this type' })).toBeVisible()
})
