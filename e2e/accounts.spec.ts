import { expect, freshTest as test } from './fixtures'
import { saved, violations, choose, expectChosen } from './steps'

test.use({ storageState: { cookies: [], origins: [] } })

test('who is not signed in sees the demo’s people; a viewer looks and changes nothing', async ({
  page,
}) => {
  await page.goto('/p/skarvholm/board?at=station:intake-a')
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.getByLabel('Name').fill('viewer')
  await page.getByLabel('Password').fill('wrong')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toHaveText('Name or password is wrong.')
  await page.getByRole('button', { name: /^Viewer/ }).click()

  // The address led here, and leads on.
  const comment = page.getByLabel('Comment')
  await expect(comment).toBeVisible()
  await expect(comment).toBeDisabled()
  await expect(
    page
      .getByText('Your role is Viewer; who changes plans is Planner, Safety engineer or Owner.')
      .first(),
  ).toBeVisible()
  await page.getByRole('button', { name: /Signed in as Vida Ekman/ }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
})

test('an owner makes an account; a session that ends keeps what was not sent', async ({ page }) => {
  await page.goto('/accounts')
  await page.getByRole('button', { name: /^Owner/ }).click()
  await expect(page.getByRole('heading', { name: 'Accounts', exact: true })).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('nils')
  await page.getByLabel('Full name').fill('Nils Hov')
  await page.locator('.draft').getByLabel('Password').fill('long enough')
  await page.getByRole('button', { name: 'Add' }).click()
  await expect(page.getByRole('cell', { name: 'Nils Hov' })).toBeVisible()
  await choose(page.getByLabel('Role of nils'), 'Commissioner')
  await expectChosen(page.getByLabel('Role of nils'), 'Commissioner')

  await page.goto('/p/skarvholm/board?at=station:membrane-1')
  await expect(page.getByLabel('Comment')).toBeVisible()
  await page.getByLabel('Comment').fill('written while the session ended')
  await page.context().clearCookies()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: /^Owner/ }).click()
  await expect(page.getByLabel('Comment')).toHaveValue('written while the session ended')
  await saved(page)
  await page.getByRole('button', { name: 'Undo' }).click()
  await saved(page)

  await page.getByRole('button', { name: /^Signed in as/ }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await page.getByLabel('Name', { exact: true }).fill('nils')
  await page.getByLabel('Password').fill('long enough')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('button', { name: 'Signed in as Nils Hov, Commissioner' }).click()
  await page.getByRole('button', { name: 'Change password' }).click()
  await page.getByLabel('Present password').fill('guessed')
  await page.getByLabel('New password').fill('longer than before')
  await page.getByRole('button', { name: 'Change password' }).click()
  await expect(
    page.getByRole('status').filter({ hasText: 'The present password is wrong.' }),
  ).toBeVisible()
  await page.getByLabel('Present password').fill('long enough')
  await page.getByRole('button', { name: 'Change password' }).click()
  await expect(page.getByText('The new password holds.')).toBeVisible()
})
