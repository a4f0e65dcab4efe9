import { expect, freshTest as test } from './fixtures'
import { addStation, cell, insertByKeyboard, newProject, saved } from './steps'

test('twelve windows of one browser share one stream, and each hears what the others do', async ({
  page,
  context,
}) => {
  const project = await newProject(page, 'Twelve')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  const streams: string[] = []
  context.on(
    'request',
    (request) => /\/api\/events/.test(request.url()) && streams.push(request.url()),
  )
  const others = []
  for (let i = 1; i < 12; i++) {
    const other = await context.newPage()
    await other.goto(`/p/${project}/board`)
    await expect(cell(other, 'qh401-1', 1)).toBeVisible()
    others.push(other)
  }
  await page.bringToFront()
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 di')
  await saved(page)
  for (const other of others) await expect(cell(other, 'qh401-1', 1)).toContainText('16 DI')
  expect(streams.length).toBeLessThanOrEqual(1)

  // The window that listened for all goes; another one takes over.
  await page.close()
  const [first, second] = others
  await first!.bringToFront()
  await cell(first!, 'qh401-1', 2).focus()
  await insertByKeyboard(first!, '8 di')
  await expect(cell(second!, 'qh401-1', 2)).toContainText('8 DI')
})

test('a reload while the server is away starts with what the browser has; work goes on and arrives', async ({
  page,
  context,
}) => {
  const project = await newProject(page, 'Offline')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  await page.goto(`/p/${project}/board`)
  await expect(cell(page, 'qh401-1', 1)).toBeVisible()
  await page.evaluate(() => navigator.serviceWorker.ready)
  await page.reload()
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 di')
  await saved(page)

  await context.setOffline(true)
  await page.reload()
  await expect(cell(page, 'qh401-1', 1)).toContainText('16 DI')
  await cell(page, 'qh401-1', 2).focus()
  await insertByKeyboard(page, '8 di')
  await expect(page.getByTestId('link')).toHaveText('Server away · 1 kept here')
  await page.reload()
  await expect(cell(page, 'qh401-1', 2)).toContainText('8 DI')
  await context.setOffline(false)
  await expect(page.getByTestId('link')).toHaveText(/^Saved · r\d+$/, { timeout: 30_000 })
  await page.reload()
  await expect(cell(page, 'qh401-1', 2)).toContainText('8 DI')
})

test('an undo on which somebody has built says who and what, and takes it along when that is wanted', async ({
  page,
  browser,
}) => {
  const project = await newProject(page, 'Built')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  const safety = await (
    await browser.newContext({ storageState: { cookies: [], origins: [] } })
  ).newPage()
  await safety.goto(`/p/${project}/board`)
  await safety.getByRole('button', { name: /Safety engineer/ }).click()
  await cell(safety, 'qh401-1', 1).focus()
  await insertByKeyboard(safety, '16 di')
  await saved(safety)
  await expect(cell(page, 'qh401-1', 1)).toContainText('16 DI')

  await page.getByRole('button', { name: 'Undo' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Stig Vang put module')
  await dialog.getByRole('button', { name: 'Cancel' }).click()
  await expect(dialog).toHaveCount(0)
  await expect(cell(page, 'qh401-1', 1)).toContainText('16 DI')
  await page.getByRole('button', { name: 'Undo' }).click()
  await dialog.getByRole('button', { name: 'Undo with what depends on it' }).click()
  await expect(cell(safety, 'qh401-1', 1)).toHaveCount(0)
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(cell(safety, 'qh401-1', 1)).toContainText('16 DI')
})

test('what the server fails over is set aside; the rest is saved, and it can be tried again', async ({
  page,
}) => {
  await newProject(page, 'Aside')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 di')
  await saved(page)
  let fails = true
  await page.route('**/commands', (route) =>
    fails
      ? ((fails = false),
        route.fulfill({
          status: 500,
          contentType: 'application/problem+json',
          body: '{"code":"internal","detail":"Something went wrong in the program; nothing was changed."}',
        }))
      : route.continue(),
  )
  await cell(page, 'qh401-1', 2).focus()
  await insertByKeyboard(page, '8 di')
  await expect(page.getByTestId('aside')).toHaveText('1 set aside')
  await cell(page, 'qh401-1', 1).focus()
  await page.keyboard.press('Delete')
  await saved(page)
  await expect(cell(page, 'qh401-1', 1)).not.toContainText('16 DI')

  await page.getByTestId('aside').click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Something went wrong in the program')
  await dialog.getByRole('button', { name: 'Try again' }).click()
  await expect(dialog).toContainText('Nothing is set aside.')
  await page.keyboard.press('Escape')
  await expect(cell(page, 'qh401-1', 2)).toContainText('8 DI')
  await saved(page)
  await page.reload()
  await expect(cell(page, 'qh401-1', 2)).toContainText('8 DI')
})
