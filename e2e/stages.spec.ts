import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { beginRehearsal, cutOff, violations } from './steps'

const stages = [
  'overview',
  'shelf',
  'board?at=module:intake-a.5',
  'board?at=station:screen-1',
  'ledger',
  'memory?at=module:intake-a.5',
  'board?at=station:ozone-pump',
  'board?at=network:n-intake',
  'board?at=controller:k3',
  'range?at=signal:s041',
  'list',
  'networks?at=station:screen-1',
  'networks?view=links',
  'networks?view=times',
  'networks?view=failures',
  'layout?at=station:ozone-ports',
  'ports',
  'devices?at=station:air-gate',
  'rehearsal',
  'handover',
]

/** What stands on the stage is there. */
const isDrawn = (page: Page) => expect(page.locator('main.stage')).not.toBeEmpty()

test('every stage is whole: nothing cut off, no serious accessibility violation in either theme', async ({
  page,
}) => {
  test.setTimeout(300_000)
  await open(page, '/p/skarvholm/overview')
  await expect(page.getByRole('contentinfo')).toBeVisible()
  for (const stage of stages)
    await test.step(stage, async () => {
      await open(page, `/p/skarvholm/${stage}`)
      await isDrawn(page)
      if (stage === 'rehearsal') {
        await beginRehearsal(page, [
          { kind: 'factoryNew', station: 'membrane-1' },
          { kind: 'swapped', station: 'intake-b', slots: [2, 3] },
        ])
        await page.getByRole('button', { name: 'Scan', exact: true }).click()
        await expect(page.getByText('of 36 stations as planned or running')).toBeVisible()
      }
      for (const width of [1024, 1280]) {
        await page.setViewportSize({ width, height: 800 })
        expect.soft(await cutOff(page), `${stage}, ${width} px`).toEqual([])
      }
      for (const colorScheme of ['light', 'dark'] as const) {
        await page.emulateMedia({ colorScheme })
        await expect(page.locator('html')).toHaveAttribute('data-theme', colorScheme)
        const only = colorScheme === 'dark' ? 'colours' : undefined
        expect.soft(await violations(page, only), `${stage}, ${colorScheme}`).toEqual([])
      }
    })
})

test('with a sheet, a menu or a dialog open nothing is serious in either theme', async ({
  page,
}) => {
  test.setTimeout(120_000)
  await open(page, '/p/skarvholm/ledger')
  await expect(page.getByTestId('ledger-grid').getByText('INT_P101_Run')).toBeVisible()
  const opened: Readonly<Record<string, () => Promise<void>>> = {
    sheet: () => page.getByRole('button', { name: 'Circuit', exact: true }).click(),
    menu: () => page.getByRole('button', { name: 'Show in', exact: true }).click(),
    dialog: async () => {
      await page.keyboard.press('Escape')
      await page.getByRole('button', { name: 'Help', exact: true }).click()
      await expect(page.getByRole('dialog', { name: 'Help: Ledger' })).toBeVisible()
    },
  }
  for (const [what, act] of Object.entries(opened)) {
    await act()
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme })
      await expect(page.locator('html')).toHaveAttribute('data-theme', colorScheme)
      expect.soft(await violations(page), `${what}, ${colorScheme}`).toEqual([])
    }
  }
})

test('the projects page has no serious accessibility violation', async ({ page }) => {
  await open(page, '/')
  await expect(page.getByText('Skarvholm Waterworks')).toBeVisible()
  expect(await violations(page)).toEqual([])
})

test('at 1280 × 800 the Board shows at least 14 stations', async ({ page }) => {
  await open(page, '/p/skarvholm/board')
  await expect(page.locator('[data-cell="intake-a:0"]')).toBeVisible()
  const lane = (await page.getByRole('row').first().boundingBox())!
  const tally = (await page.getByRole('contentinfo').boundingBox())!
  expect(Math.floor((tally.y - lane.y) / lane.height)).toBeGreaterThanOrEqual(14)
})

test('find goes to a station, a tag, an address and does things', async ({ page }) => {
  await open(page, '/p/skarvholm/board')
  // The list of projects has rows too.
  await expect(page.locator('[data-cell="intake-a:0"]')).toBeVisible()
  const find = async (text: string, first: string) => {
    await page.keyboard.press('Control+k')
    await page.getByRole('combobox', { name: 'Find or do' }).fill(text)
    await expect(page.getByRole('listbox').getByRole('option').first()).toContainText(first)
    await page.keyboard.press('Enter')
  }
  await find('membrane-1', 'membrane-1')
  await expect(page.getByRole('heading', { name: 'membrane-1', level: 1 })).toBeVisible()
  await find('%IX0.3', 'INT_P101_Rdy')
  await expect(page).toHaveURL(/memory\?at=signal/)
  await find('QM-4104', 'membrane-1 · slot 3')
  await expect(page.getByRole('heading', { name: '4 analog outputs 4 to 20 mA' })).toBeVisible()
  await find('handover', 'Handover')
  await expect(page).toHaveURL(/handover/)
})

test('a Board that is still being drawn does not take the keyboard from who types elsewhere', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/memory')
  await expect(page.getByRole('main')).toContainText('inputs 87 of 96')
  await page.keyboard.press('Control+k')
  const field = page.getByRole('combobox', { name: 'Find or do' })
  await field.fill('QM-4104')
  await expect(page.getByRole('listbox').getByRole('option').first()).toContainText(
    'membrane-1 · slot 3',
  )
  // Slower than any machine: lanes are drawn a few a frame, so the cell is long in coming.
  await page.evaluate(() => {
    const drawn = window.requestAnimationFrame
    window.requestAnimationFrame = (next) =>
      drawn(() => setTimeout(() => next(performance.now()), 100))
    Object.assign(window, { atFullSpeed: () => (window.requestAnimationFrame = drawn) })
  })
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+k')
  await expect(field).toBeFocused()
  await expect(page.locator('[data-cell="membrane-1:3"]')).toBeVisible()
  await page.waitForTimeout(500)
  await expect(field).toBeFocused()
  await page.evaluate(() => (window as unknown as { atFullSpeed: () => void }).atFullSpeed())
})
