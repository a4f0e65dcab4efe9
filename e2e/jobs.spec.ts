import { readFile } from 'node:fs/promises'
import { expect, test } from './fixtures'
import { newProject, stage, violations } from './steps'

test('a job is seen while it runs, its file is downloaded, and it is thrown away', async ({
  page,
}) => {
  const id = await newProject(page, 'Jobs')
  await expect(page.getByRole('button', { name: /^Jobs/ })).toHaveCount(0)
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
  ).toBeVisible()
  await page.getByRole('button', { name: /^Jobs/ }).click()
  const job = page.getByRole('list', { name: 'Jobs' }).getByRole('listitem').first()
  await expect(job).toContainText('I/O list, CSV · Jobs')
  expect(await violations(page)).toEqual([])
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    job.getByRole('link', { name: 'Download' }).click(),
  ])
  expect(file.suggestedFilename()).toBe('jobs-r0.csv')
  expect((await readFile(await file.path())).toString()).toContain('Network,Station,Slot')
  const all = await page.getByRole('list', { name: 'Jobs' }).getByRole('listitem').count()
  await job.getByRole('button', { name: 'Delete I/O list, CSV · Jobs' }).click()
  await expect(page.getByRole('list', { name: 'Jobs' }).getByRole('listitem')).toHaveCount(all - 1)
  await page.keyboard.press('Escape')
  await stage(page, 'Handover')
  await expect(page.getByRole('heading', { name: 'Handover' })).toBeVisible()
})
