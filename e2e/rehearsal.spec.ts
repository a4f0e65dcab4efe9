import { readFile } from 'node:fs/promises'
import { expect, open, test } from './fixtures'
import { beginRehearsal, violations } from './steps'

test('a bad day on site: found, told apart, mended, scored', async ({ page }) => {
  await open(page, '/p/skarvholm/rehearsal')
  await beginRehearsal(page, [
    { kind: 'factoryNew', station: 'train-1' },
    { kind: 'factoryNew', station: 'train-2' },
    { kind: 'switches', station: 'well-1', value: 77 },
    { kind: 'missingModule', station: 'pack-rack', slot: 2 },
    { kind: 'stopped', station: 'fill-di-1' },
  ])
  await page.getByRole('button', { name: 'Scan', exact: true }).click()

  /** Networks are told with how many of their stations are well. */
  const choose = async (network: string) => {
    const field = page.getByRole('combobox', { name: 'Network' })
    await field.click()
    await field.fill(network)
    await page
      .locator('.n-base-select-option')
      .filter({ visible: true, hasText: new RegExp(`^${network}: \\d+ of \\d+`) })
      .click()
  }

  await test.step('on every network somebody answers', async () => {
    for (const network of ['Ozone skid', 'Tank gauges', 'Palletiser ring', 'Old well field'])
      await choose(network)
  })

  await test.step('switches are set on site and count after the power cycle', async () => {
    const well = page.getByRole('region', { name: 'Station well-1' })
    await expect(
      well.getByText('The switches of well-1 make 77; planned is bus address 11.'),
    ).toBeVisible()
    const onSite = async (what: string) => {
      await well.getByRole('button', { name: 'On site at well-1' }).click()
      await page.getByText(what, { exact: true }).click()
    }
    await onSite('Set switches as planned')
    await expect(well.getByText(/make 77/)).toBeVisible()
    await onSite('Power-cycle')
    await expect(well.getByText('✓ as planned')).toBeVisible()
  })

  await test.step('two that look alike are told apart by blinking', async () => {
    await choose('Membrane hall')
    const lane = page.getByRole('region', { name: 'Station train-1' })
    const [first] = await lane.getByRole('listitem').filter({ hasText: 'no name' }).all()
    await first!.getByRole('button', { name: 'Blink LED' }).click()
    await expect(first!.getByRole('button', { name: 'Blinking' })).toBeVisible()
    await first!.getByRole('button', { name: 'Assign train-1' }).click()
    await expect(lane.getByText('✓ as planned')).toBeVisible()
    await page.getByRole('button', { name: 'Assign what is clear' }).click()
    await expect(
      page.getByRole('region', { name: 'Station train-2' }).getByText('✓ as planned'),
    ).toBeVisible()
  })

  await test.step('a module that is missing is taken over into the plan, and undone', async () => {
    await choose('Packaging racks')
    const rack = page.getByRole('region', { name: 'Station pack-rack' })
    await expect(rack.getByText('2 · missing')).toBeVisible()
    await rack.getByRole('button', { name: 'Take over the whole station' }).click()
    const dialog = page.getByRole('dialog', { name: 'Take over from the wire: pack-rack' })
    await expect(dialog.getByText(/lose their channels and wait/)).toBeVisible()
    expect(await violations(page)).toEqual([])
    await dialog.getByRole('button', { name: 'Apply 1 change' }).click()
    await expect(rack.getByText('✓ as planned')).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(rack.getByText('2 · missing')).toBeVisible()
  })

  await test.step('started, the one in stop says so; its own page too', async () => {
    await page.getByRole('button', { name: 'Start all' }).click()
    await choose('Bottling cell')
    const lane = page.getByRole('region', { name: 'Station fill-di-1' })
    await expect(lane.getByText('▲ fault')).toBeVisible()
    await expect(lane.getByText(/does not reach the state OP/)).toBeVisible()
    await lane.getByRole('button', { name: 'Device page' }).click()
    const device = page.getByRole('dialog').filter({ hasText: 'Device page: fill-di-1' })
    await expect(device.getByText(/does not reach the state OP/)).toBeVisible()
    expect(await violations(page)).toEqual([])
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Check signals' }).click()
    await expect(page.getByText(/\d+ in all/)).toBeVisible()
  })

  await test.step('frames in words, octets on demand, all of them as a file', async () => {
    const log = page.getByRole('region', { name: 'Frames on the wire' })
    await expect(log.getByText(/process data|state|mailbox/).first()).toBeVisible()
    await log
      .getByRole('button', { name: /^Octets of the frame/ })
      .first()
      .click()
    await expect(log.locator('pre')).toContainText(/^([0-9a-f]{2} ?)+/)
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      log.getByRole('link', { name: 'Download capture file' }).click(),
    ])
    expect((await readFile(await file.path())).readUInt32LE(0)).toBe(0xa1b2c3d4)
  })

  await test.step('the score tells what it was', async () => {
    await page.getByRole('button', { name: 'End and show score' }).click()
    const score = page.getByRole('region', { name: 'Score' })
    await expect(score.getByText('Of 5 differences 5 found, 3 mended.')).toBeVisible()
    await expect(score.getByText('The switches of well-1 made 77')).toBeVisible()
    expect(await violations(page)).toEqual([])
    await page.getByRole('button', { name: 'New rehearsal' }).click()
    await page.getByText('No differences').click()
    await page.getByRole('button', { name: 'Begin and scan' }).click()
    await expect(page.getByText(/of 36 stations as planned or running/)).toBeVisible()
  })
})
