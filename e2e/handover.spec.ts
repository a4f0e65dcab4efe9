import { readFile } from 'node:fs/promises'
import { strFromU8, unzipSync } from 'fflate'
import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { chooseFiles, violations } from './steps'

/** The hand-over of the demo, and what comes back. */
async function download(
  page: Page,
  name: string | RegExp,
): Promise<{ name: string; bytes: Buffer }> {
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name, exact: true }).click(),
  ])
  return { name: file.suggestedFilename(), bytes: await readFile(await file.path()) }
}

test('says why it is a draft, and leads to it', async ({ page }) => {
  await open(page, '/p/skarvholm/handover')
  await expect(page.getByText('every file says so until they are mended')).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.getByRole('button', { name: 'Screen-1', exact: true }).click()
  await expect(page).toHaveURL(/board|ledger/)
})

test('documents are looked at page by page, and downloaded as PDF', async ({ page }) => {
  await open(page, '/p/skarvholm/handover')
  await page.getByRole('button', { name: 'Preview Switch cards, PDF' }).click()
  const dialog = page.getByRole('dialog', { name: 'Preview: Switch cards' })
  await expect(dialog.getByText('192.168.40.11')).toBeVisible()
  await expect(dialog.getByText('DRAFT', { exact: true })).toBeVisible()
  expect(await violations(page)).toEqual([])
  const file = await download(page, 'Download PDF')
  expect(file.name).toMatch(/^skarvholm-waterworks-r\d+-draft\.switches\.pdf$/)
  expect(file.bytes.subarray(0, 8).toString()).toBe('%PDF-1.7')
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
})

test('what is chosen goes into the file', async ({ page }) => {
  await open(page, '/p/skarvholm/handover')
  await page.getByRole('combobox', { name: 'CSV separator' }).click()
  await page.getByText('semicolon', { exact: true }).click()
  const { bytes } = await download(page, 'Download I/O list, CSV')
  expect(bytes.toString()).toContain('Network;Station;Slot')
})

test('a package is released under a name, and lies there to be downloaded again', async ({
  page,
}) => {
  test.setTimeout(180_000)
  await open(page, '/p/skarvholm/handover')
  await page.getByRole('textbox', { name: 'Name of the release' }).fill('FAT 1')
  await page.getByRole('button', { name: /^Release draft/ }).click()
  const past = page.getByRole('list', { name: 'Releases' }).getByRole('listitem')
  await expect(past.filter({ hasText: 'FAT 1' })).toBeVisible({ timeout: 90_000 })
  await expect(page.getByText(/Since FAT 1 \(r\d+\): Nothing differs\./)).toBeVisible()
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    past.filter({ hasText: 'FAT 1' }).getByRole('link', { name: 'Download' }).click(),
  ])
  const files = unzipSync(await readFile(await file.path()))
  const contents = strFromU8(files['CONTENTS.txt']!)
  expect(contents).toContain('Release FAT 1, signed by')
  for (const name of Object.keys(files))
    if (name !== 'CONTENTS.txt') expect(contents).toContain(name)
  // Its name is a version's too, and is given once.
  await page.getByRole('textbox', { name: 'Name of the release' }).fill('FAT 1')
  await page.getByRole('button', { name: /^Release draft/ }).click()
  await expect(page.getByRole('alert')).toContainText('There already is a version "FAT 1".')
})

test('variables edited by somebody else come back as differences', async ({ page }) => {
  await open(page, '/p/skarvholm/handover')
  const { bytes } = await download(page, 'Download Variables, PLCopen XML')
  const edited = bytes.toString().replaceAll('Intake pump 1: running', 'Pump one runs')
  await page.getByRole('button', { name: 'Compare a file with the plan …' }).click()
  await chooseFiles(page, 'List file', {
    ...{ name: 'edited.xml', mimeType: 'application/xml' },
    buffer: Buffer.from(edited),
  })
  await expect(page.getByRole('button', { name: 'Changed 1', exact: true })).toBeVisible()
  await expect(page.locator('b', { hasText: 'Pump one runs' })).toBeVisible()
  await chooseFiles(page, 'List file', {
    ...{ name: 'bomb.xml', mimeType: 'application/xml' },
    buffer: Buffer.from('<!DOCTYPE p [<!ENTITY a "b">]><project>&a;</project>'),
  })
  await expect(page.getByRole('alert')).toContainText('DOCTYPE')
})
