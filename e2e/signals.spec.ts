import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { choose, chooseFiles, fromMenu, saved, violations } from './steps'

const undo = (page: Page) => page.getByRole('button', { name: 'Undo' }).click()
const sheet = (page: Page) => page.getByRole('complementary', { name: 'Sheet' })
async function noViolations(page: Page): Promise<void> {
  expect(await violations(page)).toEqual([])
}

test('the range bench shows the chain, its wrong scaling, and what is right', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger?at=signal:s041')
  await fromMenu(page, 'Show in', 'Range bench')
  await expect(page.getByRole('heading', { name: /INT_LT_101/ })).toBeVisible()
  // A 0–20 mA channel with a 4–20 mA transmitter, scaled over all counts: 12 mA is 4 m and shows
  // 4.8.
  await page.getByLabel('Signal, mA').fill('12')
  await page.getByLabel('Signal, mA').press('Enter')
  await expect(page.getByLabel('Process, m')).toHaveValue('4')
  await expect(page.getByLabel('Counts, INT')).toHaveValue('18000')
  await expect(page.getByText('4.8', { exact: true })).toBeVisible()
  await page.getByLabel('Counts, INT').fill('6000')
  await page.getByLabel('Counts, INT').press('Enter')
  await expect(page.getByLabel('Signal, mA')).toHaveValue('4')
  await page.getByRole('slider').press('ArrowUp')
  await expect(page.getByLabel('Signal, mA')).toHaveValue('4.22')
  await expect(
    page.getByText('INT_LT_101 := (INT_TO_REAL(INT_LT_101_raw) - 6000.0) / 24000.0 * 8.0;'),
  ).toBeVisible()
  await noViolations(page)

  await page.getByRole('button', { name: 'Note as scaled in the program' }).click()
  await expect(page.getByText(/As it is scaled in the program, it shows/)).toHaveCount(0)
  await saved(page)
  await undo(page)
  await expect(
    page.getByText(/As it is scaled in the program, it shows 1.6 m too much at 0 m/),
  ).toBeVisible()

  // Another range of the channel, and a range that is none.
  await choose(page.getByLabel('Channel is set to'), '4…20 mA')
  await expect(page.getByLabel('Counts, INT')).toHaveValue('15000')
  await undo(page)
  await page.getByLabel('Measures').fill('deep')
  await page.getByLabel('Measures').press('Enter')
  await expect(page.getByText('"deep" is no measuring range; 0…6 bar is one.')).toBeVisible()
  await expect(page.getByLabel('Measures')).toHaveValue('deep')
  await page.getByLabel('Measures').press('Escape')
  await expect(page.getByLabel('Measures')).toHaveValue('0…8 m')
})

test('waiting signals find the next channel that fits, and keep everything when they are taken off', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/ledger?at=signal:s069')
  await page.getByRole('button', { name: /unassigned$/ }).click()
  const tray = sheet(page)
  await tray
    .getByLabel(/New signals/)
    .fill('TRAY_PT_1; Pressure behind the tray; AI; 4..20 mA; 0..10 bar\nTRAY P2')
  await expect(
    tray.getByText('Line 2, TRAY P2: " " at position 5 is not a letter, digit or underscore.'),
  ).toBeVisible()
  await tray
    .getByLabel(/New signals/)
    .fill('TRAY_PT_1; Pressure behind the tray; AI; 4..20 mA; 0..10 bar')
  await tray.getByRole('button', { name: 'Add 1 signal' }).click()
  await tray.getByRole('checkbox', { name: 'Choose TRAY_PT_1' }).check()
  await expect(tray.getByRole('cell', { name: 'intake-b · slot 3 · Channel 6' })).toBeVisible()
  await noViolations(page)
  await tray.getByRole('button', { name: /^Assign the chosen 1/ }).click()
  await expect(tray.getByText('TRAY_PT_1')).toHaveCount(0)
  await page.getByLabel('Filter the rows').fill('TRAY_PT_1')
  const grid = page.getByTestId('ledger-grid')
  await expect(grid.getByText('intake-b', { exact: true })).toHaveCount(1)
  await choose(page.getByLabel('Columns'), 'Scaling')
  await expect(grid.getByText('0…10 bar', { exact: true })).toBeVisible()

  await grid.getByText('TRAY_PT_1').click()
  await fromMenu(page, 'Edit', 'Take off the channel')
  await expect(tray.getByText('Pressure behind the tray · 4…20 mA')).toBeVisible()
  await expect(grid.getByText('no channel', { exact: true })).toBeVisible()
  await expect(grid.getByText('0…10 bar', { exact: true })).toBeVisible()
  for (let i = 0; i < 3; i++) await undo(page)
  await expect(grid.getByText('TRAY_PT_1')).toHaveCount(0)
})

test('a waiting signal is pulled onto a row; a row leads to the Board, its byte and its findings', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/ledger?at=signal:s069')
  const grid = page.getByTestId('ledger-grid')
  await page.getByLabel('Filter the rows').fill('intake-b AI 3 free')
  await page.getByRole('button', { name: /unassigned$/ }).click()
  await sheet(page)
    .getByRole('listitem')
    .getByText('INT_AT_105')
    .dragTo(grid.getByText('Channel 7', { exact: true }))
  await expect(sheet(page).getByText('INT_AT_105')).toHaveCount(0)
  await page.getByLabel('Filter the rows').fill('INT_AT_105')
  await expect(grid.getByText('Channel 7', { exact: true })).toBeVisible()
  await undo(page)
  await expect(grid.getByText('no channel', { exact: true })).toBeVisible()

  await page.getByLabel('Filter the rows').fill('INT_LT_101')
  await grid.getByText('INT_LT_101', { exact: true }).click()
  const goes = page.getByRole('group', { name: 'The row with the cursor' })
  await goes.getByRole('button', { name: 'Findings' }).click()
  await expect(
    sheet(page).getByText(/INT_LT_101 at intake-a · slot 5 is scaled wrong in the program/),
  ).toBeVisible()
  await noViolations(page)
  await fromMenu(page, 'Show in', 'Memory')
  await expect(page).toHaveURL(/memory\?at=signal:s041/)
  await page.goBack()
  await fromMenu(page, 'Show in', 'Board')
  await expect(page).toHaveURL(/board\?at=module:intake-a\.5/)
})

test('cells of several lines come from a spreadsheet and go back to one', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger')
  const grid = page.getByTestId('ledger-grid')
  await page.getByLabel('Filter the rows').fill('INT_P101_R DI')
  const comment = grid.getByText(/Intake pump 1: (running|ready)/)
  await expect(comment).toHaveCount(2)
  await comment.first().click()
  await page.evaluate(() =>
    navigator.clipboard.writeText('"Pump 1\nin the basin"\tX9:1\r\n=1+1\t\r\n'),
  )
  await page.keyboard.press('Control+v')
  await expect(grid.getByText('Pump 1 ↵ in the basin')).toBeVisible()
  await expect(grid.getByText('=1+1')).toBeVisible()
  await saved(page)

  // The grid package selects in its own time.
  await expect(async () => {
    await grid.getByText('Pump 1 ↵ in the basin').click()
    await page.keyboard.press('Shift+ArrowDown')
    const copied = async () => {
      await page.keyboard.press('Control+c')
      return page.evaluate(() => navigator.clipboard.readText())
    }
    await expect.poll(copied, { timeout: 2000 }).toBe('"Pump 1\nin the basin"\n"\'=1+1"\n')
  }).toPass()

  await grid.getByText('Pump 1 ↵ in the basin').click()
  await page.keyboard.press('F2')
  const editor = grid.getByRole('textbox')
  await expect(editor).toHaveValue('Pump 1\nin the basin')
  // These keys are the editor's; they do not empty the cell.
  await editor.press('End')
  await editor.press('Backspace')
  await editor.press('Delete')
  await expect(editor).toHaveValue('Pump 1\nin the basi')
  await page.keyboard.type('n')
  await editor.press('Alt+Enter')
  await page.keyboard.type('or not')
  await editor.press('Enter')
  await expect(grid.getByText('Pump 1 ↵ in the basin ↵ or not')).toBeVisible()
  for (let i = 0; i < 2; i++) await undo(page)
  await expect(grid.getByText(/Intake pump 1: (running|ready)/)).toHaveCount(2)
})

test('the circuit of a signal says who feeds whom', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger?at=signal:s044')
  await page.getByRole('button', { name: 'Circuit' }).click()
  const circuit = sheet(page)
  await expect(circuit.getByText('There are two supplies in the loop')).toBeVisible()
  await circuit.getByLabel('Fed by').fill('device')
  await circuit.getByLabel('Fed by').press('Enter')
  await expect(circuit.getByText('There are two supplies in the loop')).toHaveCount(0)
  await expect(
    circuit.getByRole('img', { name: /The transmitter has a supply of its own/ }),
  ).toBeVisible()
  await circuit.getByText('Intrinsic safety').click()
  for (const [name, value] of [
    ['U₀, V', '25'],
    ['Uᵢ, V', '24'],
  ] as const) {
    await circuit.getByLabel(name).fill(value)
    await circuit.getByLabel(name).press('Enter')
  }
  await expect(circuit.getByText('not met: U₀ 25 V ≤ Uᵢ 24 V')).toBeVisible()
  await noViolations(page)
  for (let i = 0; i < 3; i++) await undo(page)
})

test('a list is compared with the plan, and what is accepted is one change', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger')
  await fromMenu(page, 'Edit', 'Import a list …')
  const list =
    'Signals of the intake\n\nSignal;Description;Terminal;Measuring range\nINT_LT_101;Level of the basin;A1-X5:1;\nLIST_PT_1;New pressure;;0..10 bar\nLIST-2;Not legal;;\n'
  await chooseFiles(page, 'List file', {
    name: 'intake.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(list),
  })
  await expect(page.getByRole('button', { name: 'Changed 1', exact: true })).toBeVisible()
  await expect(page.getByText('LIST-2 is no tag: "-" at position 5')).toBeVisible()
  // Columns are recognised by their headings; what one is can be chosen by hand all the same.
  await choose(page.getByLabel('Measuring range'), 'Measures')
  await expect(page.getByText('0…10 bar', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Changed 1', exact: true }).click()
  await noViolations(page)
  await page.getByRole('button', { name: /^All \d/ }).click()
  await page.getByRole('checkbox', { name: 'Take INT_LT_101' }).uncheck()
  await page.getByRole('button', { name: 'Apply 1 to the plan' }).click()
  await expect(page.getByText('One row of intake.csv is in the plan now.')).toBeVisible()
  await saved(page)
  await open(page, '/p/skarvholm/ledger')
  await page.getByLabel('Filter the rows').fill('LIST_PT_1')
  await expect(page.getByTestId('ledger-grid').getByText('New pressure')).toBeVisible()
  await undo(page)
  await expect(page.getByTestId('ledger-grid').getByText('New pressure')).toHaveCount(0)

  await open(page, '/p/skarvholm/list')
  await chooseFiles(page, 'List file', {
    name: 'broken.xlsx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from('PK\u0003\u0004nothing'),
  })
  await expect(page.getByRole('alert')).toContainText('broken.xlsx is no workbook that can be read')
})

test('names are replaced with groups; what would collide is told before', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger')
  await page.getByLabel('Filter the rows').fill('GAL_PT')
  await fromMenu(page, 'Edit', 'Replace …')
  const dialog = sheet(page)
  await dialog.getByLabel('Find', { exact: true }).fill('GAL_PT_3(\\d)')
  await dialog.getByRole('checkbox', { name: /as a pattern/ }).check()
  await dialog.getByLabel('Replace with').fill('GAL_P_1')
  await expect(dialog.getByText('6 changes, 5 not as they should be')).toBeVisible()
  await dialog.getByLabel('Replace with').fill('GAL_P_$1')
  await expect(dialog.getByRole('heading', { name: '6 changes' })).toBeVisible()
  await dialog.getByRole('button', { name: 'Replace in 6 rows' }).click()
  await page.getByLabel('Filter the rows').fill('GAL_P_')
  await expect(page.getByTestId('ledger-grid').getByText('GAL_P_6')).toBeVisible()
  await undo(page)
  await expect(page.getByTestId('ledger-grid').getByText('GAL_P_6')).toHaveCount(0)
})

test('what is typed into a cell is taken over however one leaves it, and no other field empties a cell', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/ledger')
  const grid = page.getByTestId('ledger-grid')
  const tag = (text: string) => grid.getByText(text, { exact: true })
  await tag('INT_P101_Flt').click()
  await page.keyboard.type('KEPT_1')
  await tag('INT_P101_Loc').click()
  await expect(tag('KEPT_1')).toBeVisible()
  await page.keyboard.type('KEPT_2')
  await page.getByLabel('Filter the rows').focus()
  await page.keyboard.press('Delete')
  await expect(tag('KEPT_2')).toBeVisible()
  await tag('INT_P101_Rdy').click()
  await page.keyboard.type('KEPT_3')
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: 'Memory' })
    .click()
  await expect(page.getByRole('heading', { name: 'Memory' })).toBeVisible()
  await page.goBack()
  await expect(tag('KEPT_3')).toBeVisible()
  await tag('INT_P102_Run').click()
  await page.keyboard.type('THROWN')
  await page.keyboard.press('Escape')
  await page.getByLabel('Filter the rows').click()
  await expect(tag('INT_P102_Run')).toBeVisible()
  await saved(page)
  for (let i = 0; i < 3; i++) await undo(page)
  await expect(tag('INT_P101_Rdy')).toBeVisible()
})

/** The grid has the keyboard; a click is followed by its focus a moment later. */
const cursorIsIn = (page: Page) =>
  page.waitForFunction(
    () =>
      document.activeElement?.closest('[data-testid="ledger-grid"]') &&
      document.querySelector('revogr-focus') !== null,
  )

test('an entry that is typed quicker than its field is drawn is whole, and Enter ends it', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/ledger')
  const grid = page.getByTestId('ledger-grid')
  for (const cell of ['INT_P101_Flt', 'Intake pump 1: fault']) {
    await grid.getByText(cell, { exact: true }).click()
    await cursorIsIn(page)
    await page.evaluate(() => {
      const press = (key: string) =>
        document.activeElement!.dispatchEvent(
          new KeyboardEvent('keydown', { key, code: key, bubbles: true, cancelable: true }),
        )
      for (const key of ['a', 'b', 'c', 'Enter']) press(key)
    })
    await expect(grid.getByText('abc', { exact: true })).toBeVisible()
    await saved(page)
    await undo(page)
    await expect(grid.getByText(cell, { exact: true })).toBeVisible()
  }
})

test('an entry that is left before its field is drawn is whole', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger')
  const grid = page.getByTestId('ledger-grid')
  await grid.getByText('INT_P101_Flt', { exact: true }).click()
  await cursorIsIn(page)
  await page.evaluate(() => {
    for (const key of ['x', 'y', 'z'])
      document.activeElement!.dispatchEvent(
        new KeyboardEvent('keydown', { key, code: key, bubbles: true, cancelable: true }),
      )
    document.querySelector<HTMLInputElement>('[aria-label="Filter the rows"]')!.focus()
  })
  await expect(grid.getByText('xyz', { exact: true })).toBeVisible()
  await saved(page)
  await undo(page)
  await expect(grid.getByText('INT_P101_Flt', { exact: true })).toBeVisible()
})

test('rows keep their places while they are edited under a filter', async ({ page }) => {
  await open(page, '/p/skarvholm/ledger')
  const grid = page.getByTestId('ledger-grid')
  await page.getByLabel('Filter the rows').fill('tag:int_p103 intake-a slot 2')
  await expect(page.getByText(/^4 of \d+ rows/)).toBeVisible()
  await grid.getByText('INT_P103_Flt', { exact: true }).click()
  await page.keyboard.type('ELSEWHERE')
  await page.keyboard.press('Enter')
  await expect(grid.getByText('ELSEWHERE', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: /filter and sort again/ }).click()
  await expect(page.getByText(/^3 of \d+ rows/)).toBeVisible()
  await saved(page)
  await undo(page)
  await page.getByRole('button', { name: /filter and sort again/ }).click()
  await expect(page.getByText(/^4 of \d+ rows/)).toBeVisible()
})
