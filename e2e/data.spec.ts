import { expect, open, test } from './fixtures'
import { choose, chooseFiles } from './steps'

/** Naming data, using ports, and telling devices below a gateway apart, on the demo; each test takes
 *  back what it did. */
const undo = async (page: import('@playwright/test').Page) => {
  await page.getByRole('button', { name: /^Undo/ }).click()
}

test('octets get names from a table of a data sheet, and those that do not fit are told', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/board?at=station:ozone-ports')
  await page.getByRole('button', { name: 'Name the data …' }).first().click()
  await expect(page.getByRole('heading', { name: /BW-LK4 port block/ })).toBeVisible()
  await page.getByRole('button', { name: 'Paste a table …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog
    .getByRole('textbox', { name: 'Table' })
    .fill('Offset\tBits\tName\tType\n2\t16\tTemperature\tINT\n3\t8\tOdd\tUSINT\n4\t8\tBad\tHUGE')
  await expect(dialog).toContainText('"HUGE" is no type')
  await dialog.getByRole('button', { name: 'Replace all fields by 2' }).click()
  // The octet within the signed word overlaps no more than a part of it may.
  await expect(page.getByText('2 fields', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Edit field 2, Odd' }).click()
  await page.getByLabel('Place of field 2').fill('66')
  await page.getByLabel('Bits of field 2').fill('32')
  await page.getByLabel('Bits of field 2').press('Enter')
  await expect(page.getByText(/ends at bit 560; there are 68 octets/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Apply 2 fields' })).toBeDisabled()
  await page.getByLabel('Bits of field 2').fill('8')
  await page.getByLabel('Bits of field 2').press('Enter')
  await page.getByRole('button', { name: 'Apply 2 fields' }).click()
  await page.getByRole('button', { name: 'Show on the Board' }).click()
  await expect(page.getByLabel('Tag of Temperature')).toBeVisible()
  await undo(page)
  await expect(page.getByLabel('Tag of Temperature')).toBeHidden()
})

test('a port gets its use with the octets that say so, and unused ones go off together', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/ports?at=station:ozone-ports')
  const row = (port: number) =>
    page
      .getByRole('row')
      .filter({ has: page.getByLabel(`Use of port ${port} of ozone-ports head`) })
  await choose(page.getByLabel('Use of port 3 of ozone-ports head'), 'digital input')
  await expect(row(3)).toContainText('record 120 = 02')
  await undo(page)
  await expect(row(3)).toContainText('record 120 = 01')
  await page.getByRole('button', { name: 'Switch 2 unused ports off' }).click()
  await expect(row(3)).toContainText('record 120 = 00')
  await expect(row(4)).toContainText('record 120 = 00')
  await expect(row(1)).toContainText('record 120 = 01')
  await undo(page)
  await expect(row(4)).toContainText('record 120 = 01')
})

test('a device below a gateway is bound to its place, and the list of the gateway is compared', async ({
  page,
}) => {
  await open(page, '/p/skarvholm/devices?at=station:air-gate')
  const row = (node: number) =>
    page.getByRole('row').filter({ has: page.getByLabel(`tag of node ${node}`, { exact: true }) })
  await expect(row(2)).toContainText('bound to another')
  await expect(row(3)).toContainText('missing')
  await row(4).getByRole('button', { name: 'Bind', exact: true }).click()
  await expect(row(4)).toContainText('bound')
  await expect(page.getByLabel('serial of node 4')).toHaveValue('AL2-20455')
  await undo(page)
  await expect(row(4)).toContainText('not bound')

  await page.getByRole('button', { name: 'Paste what it reports …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog
    .getByRole('textbox', { name: 'List' })
    .fill('Node\tTag\tAddress\tSerial\n3\tLT-803\t\tAL2-20431\nx\tA\tB\tC')
  await expect(dialog).toContainText('"x" is no number of a node')
  await dialog.getByRole('button', { name: 'Compare 1 device' }).click()
  await expect(row(3)).toContainText('bound')
  await expect(row(1)).toContainText('missing')
  await undo(page)
  await expect(row(1)).toContainText('bound')
})

test('names without addresses go in order from a chosen channel', async ({ page }) => {
  await open(page, '/p/skarvholm/list')
  await chooseFiles(page, 'List file', {
    name: 'names.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('Tag\nORD_1\nORD_2\nORD_3\n'),
  })
  await choose(page.getByLabel('They', { exact: true }), 'go in order from a channel')
  await choose(page.getByLabel('From station'), 'fill-di-1')
  await expect(page.getByText('fill-di-1 · slot 0').first()).toBeVisible()
  await page.getByRole('button', { name: 'Apply 3 to the plan' }).click()
  await expect(page.getByText('3 rows of names.txt are in the plan now')).toBeVisible()
  await undo(page)
})
