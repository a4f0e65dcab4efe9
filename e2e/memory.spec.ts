import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { addStation, cell, insertByKeyboard, newProject, saved, stage, choose } from './steps'

const rows = (page: Page) => page.getByRole('group', { name: /^Memory of/ })
const drawn = (page: Page, owner: string) => page.locator(`[data-block^="${owner}/"]`).first()
/** The byte in whose row something is drawn. */
const byteOf = async (page: Page, owner: string) =>
  Number(
    await drawn(page, owner).locator('xpath=ancestor::*[@data-byte]').getAttribute('data-byte'),
  )

/** A station with twice 16 inputs, seen in the memory; gives the modules' ids. */
async function plan(page: Page, name: string): Promise<string[]> {
  await newProject(page, name)
  await addStation(page, 'V2.3')
  await cell(page, 'qh401-1', 1).focus()
  for (const text of ['16 di', '16 di']) await insertByKeyboard(page, text)
  await saved(page)
  await stage(page, 'Memory')
  await expect(page.getByRole('heading', { name: 'Memory' })).toBeVisible()
  const keys = () =>
    page
      .locator('[data-block]')
      .evaluateAll((cells) => [
        ...new Set(cells.map((one) => one.getAttribute('data-block')!.split('/')[0]!)),
      ])
  // Rows are drawn some a frame.
  await expect.poll(async () => (await keys()).length).toBe(2)
  return keys()
}

test('blocks are moved by keys and pointer, hold their place, and come back', async ({ page }) => {
  const [first, second] = await plan(page, 'Memory')
  expect([await byteOf(page, first!), await byteOf(page, second!)]).toEqual([0, 2])

  await rows(page).focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Alt+ArrowDown')
  // Over the second block to the next place that takes it.
  await expect.poll(() => byteOf(page, first!)).toBe(4)
  await expect(
    page.getByRole('img', { name: 'fixed' }).or(page.locator('[aria-label="fixed"]')).first(),
  ).toBeVisible()

  await drawn(page, second!).hover()
  await page.mouse.down()
  const box = (await drawn(page, second!).boundingBox())!
  await page.mouse.move(box.x + 4, box.y + 4 + 44, { steps: 3 })
  await expect(page.getByText(/%IB2 → %IB4: taken by/)).toBeVisible()
  await page.mouse.up()
  await expect(page.getByText(/It was not moved: taken by/)).toBeVisible()
  expect(await byteOf(page, second!)).toBe(2)

  await drawn(page, second!).hover()
  await page.mouse.down()
  await page.mouse.move(box.x + 4, box.y + 4 + 8 * 22, { steps: 3 })
  await expect(page.getByText('%IB2 → %IB10')).toBeVisible()
  await page.mouse.up()
  await expect.poll(() => byteOf(page, second!)).toBe(10)

  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(() => byteOf(page, second!)).toBe(2)
})

test('repacking shows old and new before anything moves', async ({ page }) => {
  const [first, second] = await plan(page, 'Repack')
  await drawn(page, second!).click()
  await rows(page).press('Enter')
  await page.getByLabel('Inputs from', { exact: true }).fill('20')
  await page.getByLabel('Inputs from', { exact: true }).press('Enter')
  await expect.poll(() => byteOf(page, second!)).toBe(20)
  await page.getByRole('button', { name: 'Repack …' }).click()
  await expect(page.getByRole('dialog').getByText('Nothing would move.')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByLabel('Inputs from: hold it there').uncheck()
  await page.getByRole('button', { name: 'Repack …' }).click()
  const line = page.getByRole('region', { name: 'What moves' }).getByRole('row').nth(1)
  await expect(line).toContainText('%IB20')
  await expect(line).toContainText('%IB2')
  await page.getByRole('button', { name: 'Move the block' }).click()
  await expect.poll(() => byteOf(page, second!)).toBe(2)
  expect(await byteOf(page, first!)).toBe(0)
})

test('addresses are written in another notation for a moment, everywhere, and a place is gone to', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/memory')
  await expect(page.getByText('%IB0', { exact: true })).toBeVisible()
  await choose(page.getByLabel('Addresses are written'), 'Points counted through, octal, X226')
  await expect(page.getByText('X10', { exact: true })).toBeVisible()
  await stage(page, 'Ledger')
  await expect(
    page.getByTestId('ledger-grid').getByText('X0', { exact: true }).first(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Notation' }).click()
  await choose(page.getByLabel('A second column of addresses'), 'and Slot, subslot, byte and bit')
  await expect(
    page.getByTestId('ledger-grid').getByText('in 2/1 0.0', { exact: true }).first(),
  ).toBeVisible()
  await choose(page.getByLabel('A second column of addresses'), 'no second column')

  // The octal trap: terminal Y10 in hexadecimal of a block at Y200 is Y220.
  await stage(page, 'Memory')
  await page.getByRole('button', { name: 'K3 packaging' }).click()
  await page.getByLabel('Go to an address').fill('Y220')
  await page.getByLabel('Go to an address').press('Enter')
  await rows(page).press('Enter')
  await expect(page.getByRole('heading', { name: /16 outputs Y10 to Y1F/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /Y220.*Y10/ })).toContainText('DO')
  await page.getByRole('button', { name: 'Show on the Board' }).click()
  await expect(page).toHaveURL(/board\?at=module/)
})

test('switches are drawn, said, and read back', async ({ page }) => {
  await newProject(page, 'Switches')
  await addStation(page, 'V2.3')
  await cell(page, 'qh401-1', 0).click()
  await page.getByRole('button', { name: 'How the address is set' }).click()
  await choose(page.getByLabel('How the address is set', { exact: true }), 'DIP switches, binary')
  await choose(page.getByLabel('They set'), 'the last octet')
  await page.getByRole('button', { name: 'Done' }).click()
  const card = page.getByRole('region', { name: /^Switches of/ })
  await expect(card).toContainText('last octet 2: 2 ON; 1, 3, 4, 5, 6, 7, 8 OFF')
  await expect(card).toContainText('Takes effect after power-cycling.')
  await card.getByLabel('Read off the housing').fill('0 0 1 2')
  await expect(card).toContainText('"2" is no position of a DIP switch')
  await card.getByLabel('Read off the housing').fill('00110000')
  await card.getByRole('button', { name: 'Plan 12' }).click()
  await expect(page.getByLabel('IP address')).toHaveValue(/\.12$/)
  await expect(card).toContainText('last octet 12: 3, 4 ON')
  await page.getByRole('button', { name: 'Set otherwise' }).click()
  await choose(
    page.getByLabel('How the address is set', { exact: true }),
    'Rotary switches, decimal',
  )
  await page.getByLabel('Switches', { exact: true }).fill('1')
  await expect(page.getByText('cannot make the last octet 12').first()).toBeVisible()
})

test('many stations get new identities at once, after a look at old and new', async ({ page }) => {
  await newProject(page, 'Identities')
  await addStation(page, 'V2.3')
  await addStation(page, 'V2.3')
  await page.getByRole('button', { name: /^Network \d/ }).click()
  await page.getByLabel('new stations take their last octet from a pool').check()
  await page.getByLabel('Reserved').fill('29')
  await page.getByLabel('Reserved').press('Enter')
  await page.getByRole('button', { name: 'New identities for many' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Numbers from').fill('28')
  await dialog.getByLabel('Names, empty: they stay').fill('Intake-{n:03}')
  await expect(dialog.getByText(/upper-case letter "I"/).first()).toBeVisible()
  await dialog.getByLabel('Names, empty: they stay').fill('intake-{n:03}')
  await expect(dialog.getByRole('row').nth(2)).toContainText('intake-030')
  await expect(dialog.getByRole('row').nth(2)).toContainText('.30')
  await dialog.getByRole('button', { name: 'Change 2 stations' }).click()
  await expect(page.getByRole('gridcell', { name: /intake-030/ })).toBeVisible()
  await saved(page)
})

test('a name that is too long stays in its field with the reason; pasted lines become one; every script reads', async ({
  page,
}) => {
  await newProject(page, 'Names')
  await addStation(page, 'V2.3')
  await page.getByRole('button', { name: 'K1', exact: true }).click()
  const sheet = page.getByRole('complementary', { name: 'Sheet' })
  const name = sheet.getByLabel('Name', { exact: true })
  const long = 'Pump house '.repeat(30)
  await name.fill(long)
  await name.press('Enter')
  await expect(sheet.getByRole('alert')).toContainText('200')
  await expect(name).toHaveValue(long)
  await expect(name).toHaveAttribute('aria-invalid', 'true')
  // Whoever goes elsewhere is told that it did not become the name.
  await cell(page, 'qh401-1', 0).click()
  await expect(page.getByText('more than 200 characters')).toBeVisible()
  await page.getByRole('button', { name: 'K1', exact: true }).click()
  await expect(name).toHaveValue('K1')

  await name.fill('')
  await page.evaluate(() => navigator.clipboard.writeText('Pump house\nnorth\n'))
  await name.press('Control+v')
  await expect(name).toHaveValue('Pump house north')
  await expect(sheet.getByText('Several lines were pasted')).toBeVisible()
  await name.fill('محطة المضخات')
  await name.press('Enter')
  await expect(sheet.getByRole('heading', { name: 'محطة المضخات' })).toBeVisible()
  expect(await name.evaluate((field) => getComputedStyle(field).direction)).toBe('rtl')
  await saved(page)
})

test('areas and reserves of a controller steer where data go', async ({ page }) => {
  await newProject(page, 'Areas')
  await addStation(page, 'V2.3')
  await page.getByRole('button', { name: 'K1', exact: true }).click()
  await page.getByRole('button', { name: '+ Area' }).click()
  const firstByte = page.getByLabel('Area 1: first input byte')
  await firstByte.fill('100')
  await firstByte.press('Enter')
  await firstByte.fill('many')
  await firstByte.press('Enter')
  await expect(page.getByText('"many" is no byte')).toBeVisible()
  await expect(firstByte).toHaveValue('many')
  await firstByte.press('Escape')
  await expect(firstByte).toHaveValue('100')
  await expect(page.getByText('"many" is no byte')).toHaveCount(0)
  // An answer of the server that comes while somebody types leaves alone what is typed.
  await page.route('**/commands', async (route) => {
    await new Promise((go) => setTimeout(go, 1500))
    await route.continue()
  })
  await choose(page.getByLabel('Area 1: network'), 'Network 1')
  await page.getByLabel('Area 1: first output byte').pressSequentially('64')
  await saved(page)
  await expect(page.getByLabel('Area 1: first output byte')).toHaveValue('64')
  await page.getByLabel('Area 1: first output byte').press('Escape')
  await expect(page.getByLabel('Area 1: first output byte')).toHaveValue('')
  await page.unroute('**/commands')
  await page.getByLabel('Close the sheet').click()
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '8 analog in')
  await stage(page, 'Memory')
  await page.getByLabel('Go to an address').fill('100')
  await page.getByLabel('Go to an address').press('Enter')
  await expect(page.locator('[data-byte="100"] [data-block]').first()).toBeVisible()
})
