import { readFile } from 'node:fs/promises'
import { expect, test } from './fixtures'
import { newProject, stage, violations } from './steps'

test('a job is seen while it runs, its file is downloaded, and it is thrown away', async ({
  page,
}) => {
  test.setTimeout(180_000)
  const id = await newProject(page, 'Jobs')
  // As the page begins one for a plan of more than twenty thousand channels.
  const status = await page.evaluate(async (project) => {
    const { csrf } = (await (await fetch('/api/session')).json()) as { csrf: string }
    const begun = await fetch(`/api/projects/${project}/export-jobs`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Kataxis-Token': csrf },
      body: JSON.stringify({ format: 'csv' }),
    })
    return begun.status
  }, id)
  expect(status).toBe(200)

  await expect(
    page.getByText('I/O list, CSV · Jobs is ready; download it under Jobs.'),
    // It waits while others are written: one at a time.
  ).toBeVisible({ timeout: 120_000 })
  await page.getByRole('button', { name: /^Jobs/ }).click()
  // By its name: jobs of other projects may have come in between.
  const job = page
    .getByRole('list', { name: 'Jobs' })
    .getByRole('listitem')
    .filter({ hasText: 'I/O list, CSV · Jobs' })
  await expect(job).toHaveCount(1)
  expect(await violations(page)).toEqual([])
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    job.getByRole('link', { name: 'Download' }).click(),
  ])
  expect(file.suggestedFilename()).toBe('jobs-r0.csv')
  expect((await readFile(await file.path())).toString()).toContain('Network,Station,Slot')
  await job.getByRole('button', { name: 'Delete I/O list, CSV · Jobs' }).click()
  await expect(job).toHaveCount(0)
  await page.keyboard.press('Escape')
  await stage(page, 'Handover')
  await expect(page.getByRole('heading', { name: 'Handover' })).toBeVisible()
})
