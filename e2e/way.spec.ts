import { readFile } from 'node:fs/promises'
import type { Page } from '@playwright/test'
import { expect, test } from './fixtures'
import ExcelJS from 'exceljs'
import Papa from 'papaparse'
import {
  addStation,
  beginRehearsal,
  cell,
  chooseFiles,
  fromMenu,
  insertByKeyboard,
  newDescription,
  newProject,
  saved,
  stage,
} from './steps'

const gridCell = (page: Page, row: number, column: number) =>
  page
    .getByTestId('ledger-grid')
    .locator(`revogr-data[type="rgRow"] [data-rgrow="${row}"][data-rgcol="${column}"]`)
    .last()
/** Columns of the grid behind the pinned station. */
const columns = { tag: 4, comment: 5, terminal: 6 }

async function download(page: Page, title: string): Promise<{ name: string; bytes: Buffer }> {
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: `Download ${title}`, exact: true }).click(),
  ])
  return { name: file.suggestedFilename(), bytes: await readFile(await file.path()) }
}

test('the whole way: file, station, names, check, rehearsal, handover', async ({ page }) => {
  await newProject(page, 'Way')

  await test.step('a file comes onto the Shelf and shows what it offers', async () => {
    await stage(page, 'Shelf')
    await chooseFiles(page, 'Add description files', [
      newDescription('20260401'),
      { name: 'broken.xml', mimeType: 'text/xml', buffer: Buffer.from('<a>\n<b></a>') },
    ])
    await expect(page.getByText('is on the Shelf now.')).toBeVisible()
    await expect(
      page.getByText(/broken\.xml, line [12]: Line 1 shows no description format/),
    ).toBeVisible()
    await page.getByLabel('Search the Shelf').fill('qm-1116')
    await page.getByRole('link', { name: '16 digital inputs 24 V' }).first().click()
    await expect(page.getByRole('heading', { level: 1 })).toContainText('QH400')
    await expect(page.getByRole('cell', { name: /QM-1116/ })).toBeVisible()
    await expect(page.getByRole('cell', { name: 'Channel 15', exact: true })).toBeVisible()
  })

  await test.step('a station is built by keyboard alone', async () => {
    await stage(page, 'Board')
    await addStation(page, 'V2.3')
    await expect(
      page.getByText(/has no module; a modular station needs at least one/).first(),
    ).toBeVisible()
    await cell(page, 'qh401-1', 1).focus()
    for (const text of ['16 di', '8 do', '8 analog in']) await insertByKeyboard(page, text)
    await expect(cell(page, 'qh401-1', 3)).toContainText('8 AI')
    await expect(cell(page, 'qh401-1', 4)).toBeFocused()
    await saved(page)
  })

  await test.step('modules are moved, removed and brought back', async () => {
    await page.keyboard.press('ArrowLeft')
    await page.keyboard.press('Alt+ArrowLeft')
    await expect(cell(page, 'qh401-1', 2)).toContainText('8 AI')
    await page.keyboard.press('Delete')
    await expect(cell(page, 'qh401-1', 2)).toHaveAccessibleName(/free/)
    await page.keyboard.press('Control+z')
    await expect(cell(page, 'qh401-1', 2)).toContainText('8 AI')
    await page.keyboard.press('Control+z')
    await expect(cell(page, 'qh401-1', 2)).toContainText('8 DO')
    await page.keyboard.press('Control+y')
    await expect(cell(page, 'qh401-1', 2)).toContainText('8 AI')
  })

  await test.step('dragging puts a module elsewhere', async () => {
    await cell(page, 'qh401-1', 2).dragTo(cell(page, 'qh401-1', 1))
    await expect(cell(page, 'qh401-1', 1)).toContainText('8 AI')
    await expect(cell(page, 'qh401-1', 2)).toContainText('16 DI')
  })

  await test.step('the sheet shows data items and addresses, which did not move', async () => {
    await cell(page, 'qh401-1', 1).click()
    const sheet = page.getByRole('complementary', { name: 'Sheet' })
    await expect(sheet.getByRole('heading', { name: '8 analog inputs 0/4 to 20 mA' })).toBeVisible()
    await expect(sheet.getByRole('cell', { name: '%IW2', exact: true })).toBeVisible()
    await expect(sheet.getByText('%IB2 … %IB17, 16 bytes')).toBeVisible()
  })

  await test.step('names are pasted from a spreadsheet, filled and given by pattern', async () => {
    await stage(page, 'Ledger')
    await gridCell(page, 0, columns.tag).click()
    await page.evaluate(() =>
      navigator.clipboard.writeText('FT_101\tFlow 1\nFT_102\tFlow 2\nFT_103\tFlow 3'),
    )
    await page.keyboard.press('Control+v')
    await expect(gridCell(page, 2, columns.comment)).toHaveText('Flow 3')
    await gridCell(page, 2, columns.tag).click()
    const handle = page.getByTestId('ledger-grid').locator('.autofill-handle').first()
    const third = (await gridCell(page, 2, columns.tag).boundingBox())!
    // It follows the cursor a frame later.
    await expect.poll(async () => (await handle.boundingBox())?.y).toBeGreaterThan(third.y)
    const from = (await handle.boundingBox())!
    const to = (await gridCell(page, 5, columns.tag).boundingBox())!
    await page.mouse.move(from.x + 4, from.y + 4)
    await page.mouse.down()
    for (let step = 1; step <= 6; step++)
      await page.mouse.move(from.x + 4, from.y + 4 + ((to.y + 10 - from.y) * step) / 6)
    await page.mouse.up()
    await expect(gridCell(page, 5, columns.tag)).toHaveText('FT_106')

    await page.getByLabel('free only').check()
    await fromMenu(page, 'Edit', 'Names by pattern …')
    await page.getByLabel('Pattern').fill('{kind}{slot:02}-{channel:02}')
    await expect(page.getByText('"-" at position 5 is not a letter').first()).toBeVisible()
    await expect(page.getByRole('button', { name: /Give \d+ names/ })).toBeDisabled()
    await page.getByLabel('Pattern').fill('N_{n:03}')
    await page.getByLabel('begins with').fill('100')
    await page.getByLabel('and goes on by').fill('10')
    await expect(page.getByRole('cell', { name: 'N_110' })).toBeVisible()
    await page.getByLabel('Pattern').fill('{kind}{slot:02}_{channel:02}')
    await page.getByRole('button', { name: 'Give 26 names' }).click()
    await page.getByLabel('free only').uncheck()
    await expect(gridCell(page, 8, columns.tag)).toHaveText('DI02_00')
    await saved(page)
  })

  await test.step('an illegal tag is found, jumped to and mended', async () => {
    await gridCell(page, 0, columns.tag).click()
    await page.keyboard.press('F2')
    const editor = page.getByTestId('ledger-grid').locator('revogr-edit input')
    await expect(editor).toHaveValue('FT_101')
    await editor.fill('FT 101')
    await editor.press('Enter')
    const tally = page.getByRole('contentinfo')
    await expect(tally.getByText(/1 blocker$/)).toBeVisible()
    await stage(page, 'Board')
    await page.keyboard.press('F8')
    await page.keyboard.press('Shift+F8')
    await expect(page).toHaveURL(/ledger\?at=signal/)
    await tally.getByRole('button', { name: 'Call it FT_101' }).click()
    await expect(tally.getByText('0 blockers')).toBeVisible()
    await expect(gridCell(page, 0, columns.tag)).toHaveText('FT_101')
  })

  await test.step('the rehearsal finds the differences, and the name is given', async () => {
    await stage(page, 'Board')
    await addStation(page, 'V2.1')
    await page.keyboard.press('Escape')
    await cell(page, 'qh401-2', 1).focus()
    await insertByKeyboard(page, '4 relay')
    await saved(page)
    await stage(page, 'Rehearsal')
    await beginRehearsal(page, [
      { kind: 'factoryNew', station: 'qh401-2' },
      { kind: 'swapped', station: 'qh401-1', slots: [1, 2] },
    ])
    await page.getByRole('button', { name: 'Scan', exact: true }).click()
    await expect(page.getByText(/No device is called qh401-2/)).toBeVisible()
    await expect(
      page
        .getByRole('list', { name: 'Slots of qh401-1' })
        .getByRole('listitem')
        .filter({ hasText: 'swapped' }),
    ).toHaveCount(2)
    const second = page.getByRole('region', { name: 'Station qh401-2' })
    await second.getByRole('button', { name: 'Blink LED', exact: true }).click()
    await expect(second.getByRole('button', { name: 'Blinking' })).toBeVisible()
    await second.getByRole('button', { name: 'Assign qh401-2' }).click()
    await expect(second.getByText('✓ as planned')).toBeVisible()
    await expect(page.getByText('1 of 2 stations as planned or running')).toBeVisible()
  })

  await test.step('the I/O list leaves as CSV and XLSX, cell by cell as shown', async () => {
    await stage(page, 'Handover')
    const csv = await download(page, 'I/O list, CSV')
    const rows = Papa.parse<string[]>(
      csv.bytes
        .toString('utf8')
        .replace(/^\ufeff/, '')
        .trimEnd(),
    ).data
    expect(csv.name).toMatch(/^way-r\d+\.csv$/)
    expect(rows).toHaveLength(1 + 32 + 4)
    expect(rows[1]!.slice(0, 14)).toEqual([
      'Network 1',
      'qh401-1',
      '1',
      '',
      '8 analog inputs 0/4 to 20 mA',
      '',
      'Channel 0',
      '',
      'AI',
      'Integer16',
      '%IW2',
      '',
      'FT_101',
      'Flow 1',
    ])
    await page.getByRole('button', { name: 'Preview I/O list, PDF' }).click()
    const shown = page.getByRole('img', { name: 'Page 1 of 1' })
    for (const cell of ['FT_101', '%IW2', 'Flow 1', 'qh401-1'])
      await expect(shown.getByText(cell, { exact: true }).first()).toBeVisible()
    await page.keyboard.press('Escape')

    const xlsx = await download(page, 'I/O list, XLSX')
    const workbook = new ExcelJS.Workbook()
    await workbook.xlsx.load(xlsx.bytes as never)
    const sheet = workbook.getWorksheet('IO list')!
    expect(
      rows.map((row, y) => row.map((_, x) => sheet.getRow(y + 1).getCell(x + 1).text)),
    ).toEqual(rows)
  })

  await test.step('the project leaves as an archive and comes back the same', async () => {
    const archive = await download(page, 'Project archive')
    const before = await download(page, 'Project file')
    await chooseFiles(page, 'Project file or archive', {
      name: 'way.zip',
      mimeType: 'application/zip',
      buffer: archive.bytes,
    })
    await expect(page).toHaveURL(/\/board/)
    await expect(page.getByRole('row').filter({ hasText: 'qh401-1' })).toBeVisible()
    await stage(page, 'Handover')
    const after = await download(page, 'Project file')
    const plan = (bytes: Buffer) => ({ ...(JSON.parse(bytes.toString()) as object), project: null })
    expect(plan(after.bytes)).toEqual(plan(before.bytes))
  })
})
