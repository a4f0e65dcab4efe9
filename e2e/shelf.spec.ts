import type { Page } from '@playwright/test'
import { expect, open, test } from './fixtures'
import { strToU8, zipSync } from 'fflate'
import { choose, chooseFiles, newDescription, newProject, stage, violations } from './steps'

const mark = () =>
  Math.random()
    .toString(36)
    .replace(/[^a-z]/g, '')
const gsd = (model: string, more = '') => `#Profibus_DP
Vendor_Name = "Tarn & Vey"
Model_Name = "${model}"
Ident_Number = 0x0F88
Modular_Station = 1
Max_Module = 4
ExtUserPrmData = 1 "Filter"
Unsigned8 1 0-3
EndExtUserPrmData
Module = "8 inputs of ${model}" 0x10
1
Ext_User_Prm_Data_Ref(0) = 1
EndModule
${more}`
/** Nothing that came in before is listed. */
async function clearArrivals(page: Page): Promise<void> {
  await expect(page.getByRole('heading', { name: 'Shelf', exact: true })).toBeVisible()
  const clear = page.getByRole('button', { name: 'Clear', exact: true })
  if (await clear.isVisible()) await clear.click()
}
const bringIn = (page: Page, files: { name: string; mimeType: string; buffer: Buffer }[]) =>
  chooseFiles(page, 'Add description files', files)
const plain = (name: string, text: string) => ({
  name,
  mimeType: 'text/plain',
  buffer: Buffer.from(text),
})
const status = (page: Page) =>
  page.getByRole('region', { name: 'Files brought in' }).getByRole('status')

test('many files and a ZIP: what is new, known and refused, with the line that is wrong', async ({
  page,
}) => {
  const model = `Many ${mark()}`
  await newProject(page, model)
  await stage(page, 'Shelf')
  await clearArrivals(page)
  const many = Array.from({ length: 20 }, (_, i) => plain(`f${i}.gsd`, gsd(`${model} no ${i}`)))
  const zip = {
    name: 'all.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from(
      zipSync({
        'x/one.gsd': strToU8(gsd(`${model} zip`)),
        'x/two.gsd': strToU8(gsd(`${model} no 3`)),
        'logo.png': strToU8('x'),
      }),
    ),
  }
  await bringIn(page, [
    ...many,
    zip,
    plain('cut.gsd', gsd(model).split('\n').slice(0, 11).join('\n')),
  ])
  await expect(status(page)).toHaveText('21 new · 1 known already · 1 refused')
  await expect(
    page.getByText(/cut\.gsd, line 11: The file is cut off: "module" of line 10/),
  ).toBeVisible()
  await expect(page.getByRole('list', { name: 'Source text around line 11' })).toContainText(
    '8 inputs of',
  )

  await page.getByLabel('Search the Shelf').pressSequentially(`${model} no 13`)
  await expect(
    page.getByRole('region', { name: 'Found on the Shelf' }).getByRole('row'),
  ).toHaveCount(3)
  await page.getByRole('link', { name: `8 inputs of ${model} no 13` }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`Tarn & Vey ${model} no 13`)
  await expect(page.getByRole('cell', { name: '0 to 3', exact: true })).toBeVisible()
})

test('files that still wait are left out when somebody stops', async ({ page }) => {
  const model = `Stop ${mark()}`
  await newProject(page, model)
  await stage(page, 'Shelf')
  await clearArrivals(page)
  // Held back, so that there is something to stop.
  await page.route('**/api/files?name=*', async (route) => {
    await new Promise((done) => setTimeout(done, 600))
    await route.continue().catch(() => undefined)
  })
  await bringIn(
    page,
    Array.from({ length: 12 }, (_, i) => plain(`s${i}.gsd`, gsd(`${model} no ${i}`))),
  )
  await page.getByRole('button', { name: 'Stop here' }).click()
  await expect(status(page)).toHaveText(/^\d+ new · 0 known already · 0 refused · \d+ left out$/)
  await expect(page.getByRole('button', { name: 'Clear' })).toBeVisible()
})

test('two versions are compared; what is used stays', async ({ page }) => {
  const model = `Versions ${mark()}`
  await newProject(page, model)
  await stage(page, 'Shelf')
  await bringIn(page, [
    plain('old.gsd', gsd(model)),
    plain(
      'new.gsd',
      gsd(model, 'Module = "4 outputs" 0x20\n2\nEndModule\n').replace(
        'Unsigned8 1 0-3',
        'Unsigned8 2 0-7',
      ),
    ),
  ])
  await expect(status(page)).toContainText('2 new')
  await page
    .getByRole('link', { name: new RegExp(`${model}.*2 modules`) })
    .first()
    .click()
  await choose(page.getByLabel('Older version'), 'old.gsd')
  const versions = page.getByRole('region', { name: 'Versions' })
  await expect(versions.getByRole('status')).toHaveText('1 added, 0 removed, 1 changed')
  await expect(versions).toContainText('No station stands on the older one.')
  await expect(versions).toContainText(
    /parameter Filter of 8 inputs of .* default: 1 → 2; allowed: 0\.\.3 → 0\.\.7/,
  )
  await page.getByRole('button', { name: 'Throw away' }).click()
  await expect(page).toHaveURL(/\/shelf$/)

  await open(page, '/p/skarvholm/shelf')
  await page.getByRole('link', { name: /QH400/ }).filter({ hasText: 'used by' }).first().click()
  await expect(page.getByText(/Used by/)).toContainText('Skarvholm Waterworks')
  await expect(page.getByRole('button', { name: 'Throw away' })).toBeDisabled()
})

test('problems stand beside the source text, texts come in other languages', async ({ page }) => {
  await open(page, '/p/skarvholm/shelf')
  await page.getByRole('link', { name: /DoseGuard/ }).click()
  await expect(
    page.getByText('"M_GONE" is named here but does not stand in the file.'),
  ).toBeVisible()
  await expect(page.getByRole('list', { name: 'Source text around line 17' })).toContainText(
    'ModuleItemTarget="M_GONE"',
  )
  await choose(page.getByLabel('Language of the texts'), 'de')
  await expect(page.getByRole('cell', { name: /8 fehlersichere Eingänge/ }).first()).toBeVisible()
})

test('a device sheet is written with its layout before the eyes', async ({ page }) => {
  const name = `Meter ${mark()}`
  await newProject(page, name)
  await stage(page, 'Shelf')
  await page.getByRole('link', { name: 'Write a device sheet' }).click()
  await page.getByLabel('Maker', { exact: true }).fill('Ostrel Drives')
  await page.getByLabel('Device', { exact: true }).fill(name)
  await page
    .getByRole('group', { name: 'To the controller', exact: true })
    .getByRole('button', { name: '+ value' })
    .click()
  await choose(page.getByLabel('To the controller, line 1: type'), 'uint16')
  await page.getByLabel('To the controller, line 1: what it means').fill('Flow')
  await expect(page.getByRole('complementary', { name: 'What it will offer' })).toContainText(
    'Flow · uint16',
  )
  await page.getByText('Parameters of the head').click()
  await page.getByRole('button', { name: '+ record of parameters' }).click()
  await page.getByRole('button', { name: '+ parameter' }).click()
  await page.getByLabel('record 1, line 1: key').fill('unit')
  await page.getByLabel('record 1, line 1: 0=off, 1=on').fill('0=l/s, 1=m3/h')
  await page.getByRole('button', { name: '+ register' }).click()
  await page.getByLabel('Registers, line 1: what it means').fill('Total')
  await page.getByRole('button', { name: 'Save on the Shelf' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`Ostrel Drives ${name}`)
  await expect(page.getByRole('button', { name: '2 bytes in' })).toBeVisible()
  await expect(page.getByText('Registers')).toBeVisible()
})

test('pages of the Shelf have no serious accessibility violation', async ({ page }) => {
  for (const link of [/BW-EN Head/, /FillDrive/, /LevelEye/, /Ringmeter/]) {
    await open(page, '/p/skarvholm/shelf')
    await page.getByRole('link', { name: link }).first().click()
    await page.locator('[aria-expanded]').first().click()
    expect(await violations(page)).toEqual([])
  }
  await open(page, '/p/skarvholm/shelf/sheet')
  expect(await violations(page)).toEqual([])
})

test('while two hundred files come in the page answers', async ({ page }) => {
  const model = `Fluid ${mark()}`
  await newProject(page, model)
  await stage(page, 'Shelf')
  await clearArrivals(page)
  // The last file waits until the search has been used: what is typed arrives while the rest still
  // comes in.
  let searched = (): void => undefined
  const used = new Promise<void>((done) => (searched = done))
  await page.route('**/api/files?name=last.gsd*', async (route) => {
    await used
    await route.continue()
  })
  await bringIn(page, [
    ...Array.from({ length: 198 }, (_, i) => plain(`t${i}.gsd`, gsd(`${model} no ${i}`))),
    newDescription(mark()),
    plain('last.gsd', gsd(`${model} last`)),
  ])
  await expect(page.getByRole('region', { name: 'Files brought in' })).toContainText(
    'is on the Shelf now.',
  )
  await page.getByLabel('Search the Shelf').pressSequentially(model)
  await expect(page.getByRole('region', { name: 'Found on the Shelf' })).toContainText(
    `${model} no`,
  )
  searched()
  await expect(status(page)).toHaveText('200 new · 0 known already · 0 refused', {
    timeout: 60_000,
  })
})
