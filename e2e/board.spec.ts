import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import {
  addNetwork,
  addStation,
  beginWith,
  cell,
  choose,
  chooseFiles,
  insertByKeyboard,
  newDescription,
  newProject,
  saved,
  signedIn,
  stage,
  violations,
} from './steps'

const shelved = async (page: Page): Promise<void> => {
  await stage(page, 'Shelf')
  await chooseFiles(page, 'Add description files', [newDescription(String(Date.now()))])
  // A single file opens by itself.
  await expect(page.getByRole('heading', { level: 1 })).toContainText('QH400', { timeout: 30_000 })
  await stage(page, 'Board')
}
const lanes = (page: Page, network: string) =>
  page.getByRole('grid', { name: `Stations on ${network}` })

test('a station of twelve modules by keyboard alone, then a hundred copies of it, and one undo', async ({
  page,
}) => {
  await newProject(page, 'Many')
  await shelved(page)
  await addStation(page, 'V2.3')
  await cell(page, 'qh401-1', 1).focus()
  for (let i = 0; i < 6; i++)
    for (const text of ['16 di', '8 do']) await insertByKeyboard(page, text)
  await expect(cell(page, 'qh401-1', 12)).toContainText('8 DO')
  await expect(cell(page, 'qh401-1', 13)).toBeFocused()
  await page.keyboard.press('Escape')

  await page.keyboard.press('Home')
  await cell(page, 'qh401-1', 0).focus()
  await page.keyboard.press('Control+d')
  const dialog = page.getByRole('dialog', { name: 'Copies of qh401-1' })
  await dialog.getByLabel('How many').fill('0')
  await dialog.getByRole('button', { name: /^Make / }).click()
  await expect(dialog.getByText('It has to be 1 to 1000.')).toBeVisible()
  await dialog.getByLabel('How many').fill('100')
  await expect(dialog.getByRole('cell', { name: 'qh401-2', exact: true })).toBeVisible()
  await expect(dialog.getByText('and 94 more')).toBeVisible()
  await dialog.getByRole('button', { name: 'Make 100 copies' }).click()
  await expect(page.getByRole('link', { name: 'Board 101 stations' })).toBeVisible()
  await expect(cell(page, 'qh401-2', 0)).toBeFocused()
  await saved(page)
  // Only what can be seen is drawn.
  expect(await page.locator('[data-cell$=":0"]').count()).toBeLessThan(60)
  await page.reload()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('link', { name: 'Board 1 station' })).toBeVisible()
})

test('modules are selected, copied and pasted; what does not fit is listed', async ({ page }) => {
  await newProject(page, 'Paste')
  await shelved(page)
  await addStation(page, 'V2.3')
  await cell(page, 'qh401-1', 1).focus()
  for (const text of ['16 di', '8 do', '8 analog in']) await insertByKeyboard(page, text)
  await page.keyboard.press('Escape')
  await cell(page, 'qh401-1', 1).focus()
  await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.press('Shift+ArrowRight')
  await expect(page.getByRole('toolbar', { name: 'The selection' })).toContainText('3 modules')
  await page.keyboard.press('Control+c')
  await page.keyboard.press('Escape')
  await cell(page, 'qh401-1', 4).focus()
  await page.keyboard.press('Control+v')
  await expect(cell(page, 'qh401-1', 6)).toContainText('8 AI')
  await page.keyboard.press('Control+z')
  await expect(cell(page, 'qh401-1', 6)).toHaveCount(0)

  await cell(page, 'qh401-1', 2).click()
  await cell(page, 'qh401-1', 3).click({ modifiers: ['Control'] })
  await expect(page.getByRole('toolbar', { name: 'The selection' })).toContainText('2 modules')
  await page
    .getByRole('toolbar', { name: 'The selection' })
    .getByRole('button', { name: 'Remove' })
    .click()
  await expect(cell(page, 'qh401-1', 2)).toHaveAccessibleName(/free/)
  await cell(page, 'qh401-1', 1).click()
  await page.getByRole('button', { name: 'Another type …' }).click()
  await page
    .getByRole('button', { name: /8 digital outputs/i })
    .first()
    .click()
  await expect(page.getByRole('dialog').getByRole('status')).toContainText(
    '1 module stays in place',
  )
  await page.getByRole('button', { name: 'Replace the module' }).click()
  await expect(cell(page, 'qh401-1', 1)).toContainText('8 DO')

  // Cut here, pasted on another station; then that station goes together with a module of its own
  // that is selected too.
  await cell(page, 'qh401-1', 1).focus()
  await page.keyboard.press('Control+x')
  await expect(cell(page, 'qh401-1', 1)).toHaveAccessibleName(/free/)
  await addStation(page, 'V2.3')
  await cell(page, 'qh401-2', 1).focus()
  await page.keyboard.press('Control+v')
  await expect(cell(page, 'qh401-2', 1)).toContainText('8 DO')
  await cell(page, 'qh401-2', 1).click({ modifiers: ['Control'] })
  await cell(page, 'qh401-2', 0).click({ modifiers: ['Control'] })
  await page
    .getByRole('toolbar', { name: 'The selection' })
    .getByRole('button', { name: 'Remove' })
    .click()
  await expect(page.getByRole('link', { name: 'Board 1 station' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(cell(page, 'qh401-2', 1)).toContainText('8 DO')
})

test('networks of other kinds, and a device that has no file', async ({ page }) => {
  await newProject(page, 'Kinds')
  await beginWith(page)
  await addNetwork(page, 'K1', 'Modbus RTU')
  const band = page.getByRole('region', { name: 'Network Modbus RTU 2' })
  await band.getByRole('button', { name: '+ Station' }).click()
  await page.getByRole('button', { name: /No file for it/ }).click()
  await page.getByLabel('Maker').fill('Ostrel Drives')
  await page.getByLabel('Device', { exact: true }).fill(`Dryer ${Date.now()}`)
  await page.getByLabel('Header bytes in').fill('2')
  await page.getByLabel('Number of values in').fill('4')
  await expect(page.getByRole('dialog').getByRole('status')).toContainText('10 bytes in')
  await page.getByRole('button', { name: 'Add to the Shelf and the network' }).click()
  await expect(lanes(page, 'Modbus RTU 2')).toContainText('Dryer')
  await expect(page.getByLabel('Unit', { exact: true })).toHaveValue('1')
  await page.getByLabel('Unit', { exact: true }).fill('300')
  await page.keyboard.press('Enter')
  await expect(
    page.getByText('"300" is no unit; a whole number from 1 to 247 is needed.'),
  ).toBeVisible()
})

test('a rack with rules of order: quick insert and drag say what would be wrong, and the finding mends it', async ({
  page,
}) => {
  await newProject(page, 'Rack')
  await beginWith(page)
  await addNetwork(page, 'K1', 'Own slots')
  await page
    .getByRole('region', { name: 'Network Own slots 2' })
    .getByRole('button', { name: '+ Station' })
    .click()
  await page.getByRole('combobox', { name: 'Head module' }).fill('QC-201')
  await page.keyboard.press('Enter')
  await cell(page, 'qc-200-1', 1).focus()
  await page.keyboard.type('16 di')
  const offered = page.getByRole('listbox', { name: 'Modules this slot takes' })
  await expect(offered.getByRole('option')).toContainText([
    'Out of order here: 16 digital inputs needs a module of the kind "supply" before it',
  ])
  await page.keyboard.press('Enter')
  for (const text of ['end', 'supply']) await insertByKeyboard(page, text)
  await page.keyboard.press('Escape')
  await expect(cell(page, 'qc-200-1', 2)).toHaveAccessibleName(
    /End module has to stand behind Supply 24 V, 3 A/,
  )

  const target = cell(page, 'qc-200-1', 1)
  await cell(page, 'qc-200-1', 2).hover()
  await page.mouse.down()
  await target.hover()
  await target.hover()
  await expect(page.getByRole('alert')).toContainText(
    'End module has to stand behind 16 digital inputs',
  )
  await page.mouse.move(2, 2)
  await page.mouse.up()

  await cell(page, 'qc-200-1', 2).click()
  await page.getByRole('button', { name: 'Move it to slot 3' }).first().click()
  await expect(cell(page, 'qc-200-1', 3)).toContainText('QC-END')
  await cell(page, 'qc-200-1', 0).click()
  await page.getByLabel('Rail of this station, mm').fill('150')
  await page.keyboard.press('Enter')
  await expect(
    page.getByText('qc-200-1 is 162 mm wide; its rail has 150 mm.').first(),
  ).toBeVisible()
})

test('a device below a port: its process data become channels', async ({ page }) => {
  await newProject(page, 'Ports')
  await beginWith(page)
  await page
    .getByRole('region', { name: 'Network Network 1' })
    .getByRole('button', { name: '+ Station' })
    .click()
  await page.getByRole('combobox', { name: 'Head module' }).fill('TV-DG')
  await page.keyboard.press('Enter')
  await cell(page, 'doseguard-1', 5).click()
  const ports = page.getByRole('complementary', { name: 'Sheet' })
  await expect(ports.getByLabel('In subslot 2')).toHaveAttribute('aria-description', /8/)
  await ports.getByRole('button', { name: 'Put a device below subslot 2' }).click()
  await page.getByRole('combobox', { name: 'Head module' }).fill('leveleye')
  await page.keyboard.press('Enter')
  await expect(ports.getByRole('cell', { name: 'Level in mm' }).first()).toBeVisible()
  await expect(ports.getByRole('cell', { name: 'Output 1' })).toBeVisible()
  expect(await violations(page)).toEqual([])
  await choose(ports.getByLabel('In subslot 3'), 'empty')
  await expect(ports).toContainText('25 bytes in')
  await ports.getByRole('button', { name: 'Take the device off subslot 2' }).click()
  await expect(ports.getByRole('cell', { name: 'Level in mm' })).toHaveCount(0)
})

test('the three zooms show the same lanes, more or less of each', async ({ page }) => {
  await open(page, '/p/skarvholm/board')
  const height = async () => (await page.locator('[data-cell="intake-a:2"]').boundingBox())!.height
  await page.getByRole('button', { name: 'Plant', exact: true }).click()
  await expect.poll(height).toBeLessThan(18)
  await page.getByRole('button', { name: 'Module', exact: true }).click()
  await expect(page.locator('[data-cell="intake-a:2"]')).toContainText('INT_P101_Run')
  await expect(page.locator('[data-cell="intake-a:2"]')).toContainText('%IX0.0')
  expect(await violations(page)).toEqual([])
  await page.getByRole('button', { name: 'Lane', exact: true }).click()
  await expect.poll(height).toBe(40)
})

test('the history tells who did what, compares versions and goes back', async ({ page }) => {
  await newProject(page, 'Past')
  await shelved(page)
  await addStation(page, 'V2.3')
  await page.getByRole('link', { name: 'History' }).click()
  await page.getByLabel('Name of the version').fill('First issue')
  await page.getByRole('button', { name: 'Save as version' }).click()
  await stage(page, 'Board')
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 di')
  await page.keyboard.press('Escape')
  await saved(page)
  await page.getByRole('link', { name: 'History' }).click()
  const versions = page.getByRole('complementary', { name: 'Difference' })
  await versions.getByRole('button', { name: 'Compare with now' }).click()
  await expect(versions.getByRole('status')).toHaveText('1 added')
  await expect(versions).toContainText('qh401-1 · slot 1: 16 digital inputs 24 V added')
  await versions.getByRole('link', { name: 'Show it on the Board' }).click()
  await expect(cell(page, 'qh401-1', 1)).toHaveAccessibleName(/16 digital inputs 24 V added/)
  await expect(page.getByRole('status').filter({ hasText: 'against now' })).toContainText('1 added')
  expect(await violations(page)).toEqual([])
  await page.getByRole('button', { name: 'Stop showing it' }).click()
  await expect(cell(page, 'qh401-1', 1)).not.toHaveAccessibleName(/added/)
  await page.getByRole('link', { name: 'History' }).click()
  await versions.getByRole('button', { name: 'Compare with now' }).click()
  expect(await violations(page)).toEqual([])
  await versions.getByRole('button', { name: 'Back to it' }).click()
  await expect(page.getByRole('cell', { name: /Went back to r\d+ · First issue/ })).toBeVisible()
  await expect(versions.getByRole('status')).toHaveText('Nothing differs.')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(versions.getByRole('status')).toHaveText('1 added')
  const changes = page.getByRole('region', { name: 'Changes' })
  await changes.getByLabel('Filter the changes').fill('insert qh401-1')
  await expect(changes.getByRole('row')).toHaveCount(2)
  await expect(changes.getByRole('row').nth(1)).toContainText(
    'qh401-1 · slot 1: 16 digital inputs 24 V added',
  )
  await changes.getByRole('button', { name: /What r\d+ changed/ }).click()
  await expect(versions).toContainText('qh401-1 · slot 1: 16 digital inputs 24 V added')
  await changes.getByLabel('Filter the changes').fill('nobody')
  await expect(changes).toContainText('No change fits “nobody”')
})

test('two people see where the other one is', async ({ browser }) => {
  const [one, two] = await Promise.all(['planner', 'safety'].map((name) => signedIn(browser, name)))
  const [mine, yours] = [await one!.newPage(), await two!.newPage()]
  await mine.goto('/p/skarvholm/board?at=station:intake-b')
  await yours.goto('/p/skarvholm/board')
  await expect(yours.locator('[data-cell="intake-b:0"]')).toContainText('PN')
  // She may be here in a test beside this one too.
  await expect(yours.getByTitle('Pia Norr is here too').first()).toBeVisible()
  await yours.locator('[data-cell="dosing-1:4"]').click()
  await expect(mine.locator('[data-cell="dosing-1:4"]')).toContainText('SV')
  await Promise.all([one!.close(), two!.close()])
})

test('the keyboard goes where the next thing is done: first station, its first free slot, into the sheet and back', async ({
  page,
}) => {
  await newProject(page, 'Keys')
  await beginWith(page, 'EtherNet/IP')
  await expect(page.getByRole('region', { name: 'Network EtherNet/IP 1' })).toBeVisible()
  await expect(page.getByRole('button', { name: '+ Station' })).toBeFocused()
  await addNetwork(page, 'K1', 'PROFINET')
  await page
    .getByRole('region', { name: 'Network Network 2' })
    .getByRole('button', { name: '+ Station' })
    .click()
  await page.getByRole('combobox', { name: 'Head module' }).fill('QH-401')
  await page.keyboard.press('Enter')
  await expect(cell(page, 'qh401-1', 1)).toBeFocused()
  await page.keyboard.type('nothing like it')
  await expect(
    page.getByText(/Nothing that slot 1 takes contains “nothing like it”. Slot 1 takes /),
  ).toBeVisible()
  await page.keyboard.press('Escape')
  await insertByKeyboard(page, '16 di')
  await page.keyboard.press('Escape')
  await page.keyboard.press('ArrowLeft')
  await expect(cell(page, 'qh401-1', 1)).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Inputs from', { exact: true })).toBeFocused()
  await page.keyboard.press('Escape')
  await expect(cell(page, 'qh401-1', 1)).toBeFocused()
  await page.keyboard.press('Control+k')
  await page.keyboard.press('Escape')
  await expect(cell(page, 'qh401-1', 1)).toBeFocused()
})
