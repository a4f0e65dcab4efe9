import { expect, freshTest as test } from './fixtures'
import { addStation, cell, insertByKeyboard, newProject, saved } from './steps'

test('two browsers on one slot: one gets through, the other is told', async ({ page, browser }) => {
  const project = await newProject(page, 'Two')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  const other = await (await browser.newContext()).newPage()
  await other.goto(`/p/${project}/board`)
  await expect(cell(other, 'qh401-1', 1)).toBeVisible()

  // The second one is held back on its way, so that both decide on the same picture.
  await other.route('**/commands', async (route) => {
    await page.waitForTimeout(1500)
    await route.continue()
  })
  await cell(other, 'qh401-1', 1).focus()
  await insertByKeyboard(other, '8 di')
  await expect(cell(other, 'qh401-1', 1)).toContainText('8 DI')
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 do')
  await saved(page)

  await expect(
    other.getByText('Slot 1 of qh401-1 already holds 16 digital outputs 24 V 0.5 A.'),
  ).toBeVisible()
  for (const each of [page, other]) await expect(cell(each, 'qh401-1', 1)).toContainText('16 DO')

  await other.unroute('**/commands')
  await cell(other, 'qh401-1', 2).focus()
  await insertByKeyboard(other, '8 di')
  await expect(cell(page, 'qh401-1', 2)).toContainText('8 DI')
})

test('while the server is away the work goes on, survives a reload and arrives by itself', async ({
  page,
}) => {
  await newProject(page, 'Away')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  await page.route('**/commands', (route) => route.abort())
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 di')
  await expect(cell(page, 'qh401-1', 1)).toContainText('16 DI')
  await expect(page.getByTestId('link')).toHaveText('Server away · 1 kept here')
  await page.reload()
  await expect(cell(page, 'qh401-1', 1)).toContainText('16 DI')
  await insertAt2(page)
  await expect(page.getByTestId('link')).toHaveText('Server away · 2 kept here')
  await page.unroute('**/commands')
  await saved(page)
  await page.reload()
  await expect(cell(page, 'qh401-1', 2)).toContainText('8 AI')
})

async function insertAt2(page: Parameters<typeof insertByKeyboard>[0]) {
  await cell(page, 'qh401-1', 2).focus()
  await insertByKeyboard(page, '8 analog in')
}

test('an edit shows within a frame, before the server answers', async ({ page }) => {
  await newProject(page, 'Frame')
  await addStation(page, 'V2.3 quillane')
  await page.keyboard.press('Escape')
  await saved(page)
  let answered = false
  await page.route('**/commands', async (route) => {
    await new Promise((done) => setTimeout(done, 2000))
    answered = true
    await route.continue()
  })
  await cell(page, 'qh401-1', 1).focus()
  await insertByKeyboard(page, '16 di')
  await expect(cell(page, 'qh401-1', 1)).toContainText('16 DI')
  expect(answered).toBe(false)
  await saved(page)
})

test('a drop that the description does not allow says why before the mouse is released', async ({
  page,
}) => {
  await newProject(page, 'Drop')
  await addStation(page, 'BW-HEAD')
  await page.keyboard.press('Escape')
  await expect(cell(page, 'bw-head-1', 1)).toContainText('2 DI')
  await cell(page, 'bw-head-1', 2).focus()
  await insertByKeyboard(page, 'valve')
  const from = (await cell(page, 'bw-head-1', 2).boundingBox())!
  const to = (await cell(page, 'bw-head-1', 1).boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 20)
  await page.mouse.down()
  await page.mouse.move(to.x + 40, to.y + 20, { steps: 8 })
  await page.mouse.move(to.x + 30, to.y + 20, { steps: 3 })
  await expect(page.getByRole('alert')).toContainText('the description allows slots 2..12')
  await page.mouse.up()
  await expect(cell(page, 'bw-head-1', 1)).toContainText('2 DI')
})

test('a module is moved by a finger that stays pressed', async ({ browser, baseURL }) => {
  const context = await browser.newContext({
    hasTouch: true,
    viewport: { width: 1024, height: 768 },
  })
  const page = await context.newPage()
  const cdp = await context.newCDPSession(page)
  await page.goto(baseURL!)
  await newProject(page, 'Touch')
  await addStation(page, 'BW-HEAD')
  await page.keyboard.press('Escape')
  await cell(page, 'bw-head-1', 2).focus()
  await insertByKeyboard(page, 'valve')
  await page.keyboard.press('Escape')
  await expect(cell(page, 'bw-head-1', 2)).toContainText('8 DO')
  const middle = async (slot: number) => {
    const { x, y, width, height } = (await cell(page, 'bw-head-1', slot).boundingBox())!
    return { x: x + width / 2, y: y + height / 2 }
  }
  const [from, to] = [await middle(2), await middle(3)]
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', at: { x: number; y: number }[]) =>
    cdp.send('Input.dispatchTouchEvent', { type, touchPoints: at })
  await touch('touchStart', [from])
  // What stays pressed is pulled; this is what is tried here.
  await page.waitForTimeout(700)
  for (let step = 1; step <= 8; step++)
    await touch('touchMove', [{ x: from.x + ((to.x - from.x) * step) / 8, y: from.y }])
  await touch('touchEnd', [])
  await expect(cell(page, 'bw-head-1', 3)).toContainText('8 DO')
  await saved(page)
})
