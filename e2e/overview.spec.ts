import { expect, test } from './fixtures'
import { addStation, insertByKeyboard, newProject, saved, stage, violations } from './steps'

test('the overview says how to begin, then how far it is and what comes next', async ({ page }) => {
  await newProject(page, 'Overview')
  await stage(page, 'Overview')
  const begin = page.getByRole('region', { name: 'Begin' })
  await begin.getByRole('link', { name: 'Import a signal list' }).click()
  await expect(page).toHaveURL(/\/list$/)
  await stage(page, 'Overview')
  await begin.getByRole('link', { name: 'Add description files' }).click()
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible()

  await stage(page, 'Board')
  await addStation(page, 'V2.3')
  await insertByKeyboard(page, '16 DI')
  await saved(page)
  await stage(page, 'Overview')
  await expect(begin).toHaveCount(0)
  const step = (words: string) =>
    page.getByRole('region', { name: 'Steps' }).getByRole('listitem').filter({ hasText: words })
  await expect(step('Place stations and modules')).toContainText('done')
  await expect(step('Name the signals')).toContainText('not begun')
  await expect(page.getByRole('img', { name: 'Channels with a tag: DI 0 of 16' })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Latest changes' })).toContainText(
    'Inserted a module in slot 1',
  )
  expect(await violations(page)).toEqual([])

  const undone = page.getByRole('link', { name: /^Open: / }).filter({ hasText: 'Continue' })
  await expect(undone).toHaveCount(1)
})
