import { expect, open, test } from './fixtures'
import { choose } from './steps'

/** Cables, times and failures on the demo; each test takes back what it did. */
const undo = async (page: import('@playwright/test').Page) => {
  await page.getByRole('button', { name: /^Undo/ }).click()
}

test('a cable is cut on the drawing: who drops out, and the way to keep it', async ({ page }) => {
  await open(page, '/p/skarvholm/networks')
  await expect(page.getByRole('heading', { name: /Intake/ }).first()).toBeVisible()
  await page.getByRole('button', { name: /^Link Screen-1 port 1/ }).click()
  await page.getByRole('button', { name: 'What if it is cut?' }).click()
  const what = page.getByRole('region', { name: 'What if' })
  await expect(what).toContainText('1 drops out and comes back · 1 rides through · 0 signals lost')
  await expect(page.getByRole('button', { name: 'Screen-1, drops out, comes back' })).toBeVisible()
  await page.getByRole('button', { name: 'Set the watchdog factor to 7 (224 ms)' }).click()
  await expect(what).toContainText('0 drop out and come back · 2 ride through')
  await undo(page)
  await expect(what).toContainText('1 drops out')
  await what.getByRole('button', { name: 'Clear' }).click()
  await expect(what).toBeHidden()
})

test('the table of failures begins with the worst, and shows each on the drawing', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/networks?view=failures')
  const rows = page.getByRole('row')
  await expect(rows.nth(1)).toContainText('Lose intake-supply')
  await page.getByRole('button', { name: 'Lose membrane-1' }).click()
  await expect(page.getByRole('region', { name: 'What if' })).toContainText('1 station unreachable')
  await expect(page.getByRole('button', { name: 'membrane-1, unreachable' })).toBeVisible()
  await page.getByRole('button', { name: 'Clear' }).click()
})

test('a station gets a thicker cable, and a lost supply is seen on the drawing and in the Ledger', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/networks?at=network:n-intake&view=supplies')
  await page.getByRole('button', { name: 'Supply intake-supply' }).click()
  await expect(
    page.getByText(/First to fail: membrane-1 \(head\), at 18\.5 V\./).first(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Use 2.5 mm²' }).click()
  await expect(
    page.getByText(/First to fail: membrane-1 \(head\), at 20\.7 V\./).first(),
  ).toBeVisible()
  await undo(page)
  const current = page.getByLabel('Current of Screen-1, head')
  await current.fill('2000')
  await current.press('Enter')
  await expect(page.getByText(/gives 5 A, and 5\.75 A hang on it/).first()).toBeVisible()
  await undo(page)

  await page.getByRole('button', { name: 'What if it is lost?' }).click()
  const what = page.getByRole('region', { name: 'What if' })
  await expect(what).toContainText('4 stations unreachable')
  await page.getByText('Drawing', { exact: true }).click()
  await expect(page.getByRole('button', { name: 'intake-a, unreachable' })).toBeVisible()
  await page.getByRole('button', { name: 'Show lost signals' }).click()
  await expect(page.getByTestId('ledger-grid')).toContainText('unreachable')
  await what.getByRole('button', { name: 'Clear' }).click()
  await expect(page.getByTestId('ledger-grid')).not.toContainText('unreachable')
})

test('a station is put between the ends of another link', async ({ page }) => {
  await open(page, '/p/skarvholm/networks?at=network:n-hall')
  await page.getByRole('button', { name: /^Link train-2 port 1/ }).click()
  await choose(page.getByLabel('Put between its ends'), 'clean-1')
  await expect(page.getByRole('button', { name: /^Link clean-1 port \d – train-1/ })).toBeVisible()
  await undo(page)
  await expect(page.getByRole('button', { name: /^Link train-2 port 1 – train-1/ })).toBeVisible()
})

test('the Board says how cables run, and leads to them', async ({ page }) => {
  await open(page, '/p/skarvholm/board')
  await expect(page.getByRole('button', { name: 'Cables of Intake: ring' })).toBeVisible()
  await page.getByRole('button', { name: 'Cables of Dosing house: line' }).click()
  await expect(page.getByRole('heading', { name: /Dosing house/ }).first()).toBeVisible()
})

test('links are edited in the table, and pasted from a list that is partly wrong', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/networks?at=network:n-meters&view=links')
  const length = page.getByLabel('Length of meter-2 port 1 – meter-1 port 2')
  await length.fill('1300')
  await length.press('Enter')
  await expect(page.getByText(/The line of Well meters is 1600 m long/).first()).toBeVisible()
  await undo(page)
  await page.getByRole('button', { name: 'Paste links …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog
    .getByRole('textbox', { name: 'List of links' })
    .fill(
      'From\tPort\tTo\tPort 2\tMedium\tLength\nmeter-1\t1\tmeter-3\t2\t\t80 m\nmeter-9\t1\tmeter-3\t1\t\t5\nmeter-2\t1\tmeter-1\t2\t\t-4',
    )
  await expect(dialog).toContainText('Line 3: "meter-9" is no node of this network.')
  await expect(dialog).toContainText('Line 4: "-4" is no length in metres')
  await dialog.getByRole('button', { name: 'Put 1 link' }).click()
  await expect(page.getByLabel('Length of meter-1 port 1 – meter-3 port 2')).toHaveValue('80')
  await undo(page)
})

test('a ring is opened and closed, a port gets its partner, a terminator its place', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/networks?at=network:n-ozone')
  await page.getByRole('button', { name: 'Open the ring' }).click()
  await expect(page.getByRole('button', { name: 'Close the ring' })).toBeVisible()
  await page.getByRole('button', { name: /^ozone-ports/ }).click()
  await choose(page.getByLabel('Link Port 2 to'), 'K2 treatment port 2')
  await page.getByRole('button', { name: 'K2 treatment', exact: true }).click()
  await expect(page.getByText(/closes a loop that is not planned as a ring/).first()).toBeVisible()
  await undo(page)
  await undo(page)
  await expect(page.getByRole('button', { name: 'Open the ring' })).toBeVisible()

  await open(page, '/p/skarvholm/networks?at=network:n-wells')
  await page.getByRole('button', { name: 'Terminate both ends' }).first().click()
  await expect(page.getByText('Nothing is wrong on this network.')).toBeVisible()
  await undo(page)
})
