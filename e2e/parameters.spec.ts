import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { saved, signedIn, violations, choose, expectChosen, fromMenu } from './steps'

const field = (page: Page, group: string, name: string) =>
  page.getByRole('region', { name: group, exact: true }).getByLabel(name, { exact: true })
const octet = (page: Page, record: RegExp, at: number) =>
  page
    .getByRole('region', { name: record })
    .getByRole('button', { name: new RegExp(`^Octet ${at}:`) })
const openParameters = (page: Page, at: string) => open(page, `/p/skarvholm/parameters?at=${at}`)

test('a parameter is set in the module’s sheet, lands in its octet, is taken back and put back', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/board?at=module:dosing-1.4')
  await page
    .getByRole('region', { name: 'Parameters' })
    .getByRole('button', { name: /Set parameters/ })
    .click()
  await expect(page.getByRole('heading', { name: /8 analog inputs/ })).toBeVisible()

  await expect(octet(page, /Record 1/, 18)).toHaveAccessibleName('Octet 18: 01')
  await choose(field(page, 'Channel 2', 'Signal range'), '0 to 10 V')
  await expect(octet(page, /Record 1/, 18)).toHaveAccessibleName('Octet 18: 03')
  await saved(page)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(octet(page, /Record 1/, 18)).toHaveAccessibleName('Octet 18: 01')

  // What the description does not allow is refused with what it does, and the plan stays.
  await field(page, 'Channel 2', 'Upper limit').fill('40000')
  await field(page, 'Channel 2', 'Upper limit').press('Enter')
  await expect(page.getByText('Upper limit is 40000; -32000..32511 is allowed.')).toBeVisible()
  await expect(field(page, 'Channel 2', 'Upper limit')).toHaveValue('40000')
  await field(page, 'Channel 2', 'Upper limit').press('Escape')
  await expect(field(page, 'Channel 2', 'Upper limit')).toHaveValue('32000')

  // From a bit to its parameter.
  await octet(page, /Record 1/, 3).click()
  await page.getByTitle('Diagnosis wire break').click()
  await expect(page.locator('.row.lit')).toContainText('Diagnosis wire break')

  await page.getByLabel('Search the parameters').fill('channel 1 wire')
  await expect(page.locator('.row')).toHaveCount(1)
  await choose(field(page, 'Channel 1', 'Diagnosis wire break'), 'on')
  await expect(page.getByText('only changed (3)')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('only changed (4)')).toBeVisible()
  expect(await violations(page)).toEqual([])
})

test('one table sets all modules of a type; a set of values is kept and put on another', async ({
  page,
}) => {
  await openParameters(page, 'module:membrane-1.1')
  await choose(field(page, 'Channel 3', 'Smoothing'), 'strong')
  await page.getByRole('button', { name: 'Save values as a set …' }).click()
  await page.getByLabel('Name of the set').fill('slow')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await page.getByRole('button', { name: 'Module after' }).click()
  await expect(page.getByRole('heading', { level: 3, name: 'membrane-1 · slot 2' })).toBeVisible()
  await choose(page.getByLabel('Apply a set of values'), 'slow')
  await expectChosen(field(page, 'Channel 3', 'Smoothing'), 'strong')

  await page.getByRole('button', { name: 'All of this type' }).click()
  await expect(page.getByText('11 modules of this type')).toBeVisible()
  await choose(page.getByLabel('Parameter to set for all'), 'Channel 0 · Diagnosis limits')
  await choose(page.getByLabel('Value for all'), 'on')
  await page.getByRole('button', { name: 'Set 11' }).click()
  await saved(page)
  await page.getByRole('button', { name: 'This one alone' }).click()
  await expectChosen(field(page, 'Channel 0', 'Diagnosis limits'), 'on')
})

test('the Ledger shows ranges in everybody’s words and sets them', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger')
  await page.getByLabel('Filter the rows').fill('dosing-1 AI')
  const range = page.locator('revogr-data .rgCell[data-rgcol="7"]').first()
  await expect(range).toHaveText('4…20 mA')
  await range.click()
  await page.keyboard.type('0-20 mA')
  await page.keyboard.press('Enter')
  await expect(range).toHaveText('0…20 mA')
  await saved(page)
  await page.locator('.tools').click({ position: { x: 4, y: 4 } })
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(range).toHaveText('4…20 mA')
})

test('a fail-safe module: its stale check sum is renewed by the safety engineer, not by a planner', async ({
  browser,
}) => {
  const planner = await (await signedIn(browser, 'planner')).newPage()
  await openParameters(planner, 'module:dosing-2.1')
  await expect(planner.getByText('stale: own parameters changed since')).toBeVisible()
  await expect(
    planner
      .getByText('Your role is Planner; who changes what is fail-safe is Safety engineer or Owner.')
      .first(),
  ).toBeVisible()
  await expect(planner.getByLabel('F_WD_Time')).toBeDisabled()
  await expect(planner.getByLabel('F_WD_Time')).toHaveValue('150')

  const engineer = await (await signedIn(browser, 'safety')).newPage()
  await openParameters(engineer, 'module:dosing-2.1')
  const safe = engineer.getByRole('region', { name: 'Fail-safe' })
  await safe.getByRole('button', { name: 'Release this signature' }).click()
  await expect(safe.getByText(/As released by Stig Vang/)).toBeVisible()
  await safe.getByLabel('Check sum over own parameters').fill('0x1234abcd')
  await safe.getByRole('button', { name: 'Renew' }).click()
  await expect(safe.getByText(/0x1234abcd by Stig Vang/)).toBeVisible()
  await expect(safe.getByText(/Changed since it was released/)).toBeVisible()
  await saved(engineer)
  // The planner sees it arrive.
  await expect(planner.getByText('0x1234abcd')).toBeVisible()
  // Names for all free channels leave out those that reach the safety program.
  await planner.goto('/p/skarvholm/ledger')
  await fromMenu(planner, 'Edit', 'Names by pattern …')
  await expect(planner.getByRole('note')).toContainText([
    /\d+ fail-safe channels are left out\. Your role is Planner/,
    /^\d+ channels? that (is|are) switched off/,
  ])
  await engineer.goto('/p/skarvholm/ledger')
  await fromMenu(engineer, 'Edit', 'Names by pattern …')
  await expect(engineer.getByRole('button', { name: /Give \d+ names/ })).toBeEnabled()
  await expect(engineer.getByRole('note')).toHaveText(/switched off/)
  await Promise.all([planner.context().close(), engineer.context().close()])
})

test('other networks: the start-up list takes lines, the telegram holds everybody’s octets', async ({
  page,
}) => {
  await openParameters(page, 'station:fill-ai-1')
  const list = page.getByRole('region', { name: 'Start-up list' })
  await list.getByLabel('Index', { exact: true }).fill('0x8010')
  await list.getByLabel('Octets').fill('10 27')
  await list.getByLabel('What for').fill('slower filter')
  await list.getByRole('button', { name: 'Add' }).click()
  await expect(list.getByRole('row', { name: /PS 0x8010:0 10 27 slower filter/ })).toBeVisible()
  await list.getByRole('button', { name: 'Remove 0x8010' }).click()
  await expect(list.getByRole('row', { name: /0x8010/ })).toHaveCount(0)

  await openParameters(page, 'station:well-head')
  await expect(
    page.getByRole('region', { name: 'Set_Prm telegram' }).getByRole('row').nth(1),
  ).toContainText(/^088 /)
})

test('a sheet adds terminals and currents to a described family, until the project does without it', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/shelf')
  await page.getByRole('link', { name: /what its file does not say/ }).click()
  const adds = page.getByRole('region', { name: 'What it adds' })
  await expect(adds.getByRole('row', { name: /QM-3108 takes 140 mA, 18 terminals/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Throw away' })).toBeDisabled()
  const here = page.url()
  await open(page, '/p/skarvholm/board?at=module:intake-a.5')
  await expect(
    page
      .getByRole('region', { name: 'Terminals' })
      .getByRole('row', { name: /^1 \+ Channel 0 INT_LT_101/ }),
  ).toBeVisible()
  await open(page, here)
  await adds.getByRole('button', { name: 'This project does without' }).click()
  await saved(page)
  await open(page, '/p/skarvholm/board?at=module:intake-a.5')
  await expect(page.getByRole('heading', { name: '4 analog inputs' })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Terminals' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('region', { name: 'Terminals' })).toBeVisible()
})

test('what a device’s menus show depends on other values, and so do its process data', async ({
  page,
}) => {
  await openParameters(page, 'module:dosing-2.5')
  const parameters = page.getByLabel('Parameters', { exact: true })
  await expect(parameters.getByLabel('Switch-back point')).toHaveCount(0)
  await choose(parameters.getByLabel('Mode', { exact: true }).first(), 'window')
  await expect(parameters.getByLabel('Switch-back point')).toHaveCount(1)
  await parameters.getByLabel('Switch-back point').fill('300')
  await parameters.getByLabel('Switch-back point').press('Enter')
  await choose(parameters.getByLabel('Mode', { exact: true }).first(), 'one point')
  await expect(
    parameters.getByText(
      'The device does not use it as things are: Mode is “one point”; it would have to be “window”. It is kept.',
    ),
  ).toBeVisible()

  const ports = page.getByRole('region', { name: 'Ports' })
  await expect(ports.getByRole('cell', { name: 'Signal quality', exact: true })).toHaveCount(2)
  await choose(parameters.getByLabel('Process data', { exact: true }).first(), 'level alone')
  await expect(ports.getByRole('cell', { name: 'Signal quality', exact: true })).toHaveCount(1)
  await expect(
    page.getByText(
      'With this value the device sends other data: 3 signals have no channel any more',
    ),
  ).toBeVisible()

  await ports.getByLabel('Cycle time of port 2 in ms').fill('6,5')
  await ports.getByLabel('Cycle time of port 2 in ms').press('Enter')
  await expect(page.getByText('the next is 6.8 ms')).toBeVisible()
  await ports.getByLabel('Cycle time of port 2 in ms').fill('6.8')
  await ports.getByLabel('Cycle time of port 2 in ms').press('Enter')
  await expect(ports.getByText('0x41')).toBeVisible()
  await saved(page)
  for (let i = 0; i < 5; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await expect(parameters.getByLabel('Switch-back point')).toHaveCount(0)
  await expect(ports.getByRole('cell', { name: 'Signal quality', exact: true })).toHaveCount(2)
})
