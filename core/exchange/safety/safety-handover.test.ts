import { describe, expect, test } from 'vitest'
import { derive } from '../../derive'
import { fromHex } from '../../vocabulary/hex'
import { wholeDemo } from '../../test/plans'
import { writeExport } from '../exports'
import { safetyItems } from './items'
import { fParameterTable, safetyReleaseTable } from './tables'

const { plan, catalog } = wholeDemo()
const demo = derive(plan, catalog)
const { modules, devices } = safetyItems(demo)

describe('the hand-over of what is fail-safe', () => {
  // PROFIsafe F block (from memory): addresses in octets 2 to 5, watchdog in 6 and 7, F_Par_CRC last.
  test('addresses, times and check sums are those of the octets that the device gets', () => {
    expect(modules.length).toBeGreaterThan(0)
    for (const one of modules) {
      const block = new DataView(fromHex(one.octets).buffer)
      expect([
        block.getUint16(2),
        block.getUint16(4),
        block.getUint16(6),
        block.getUint16(block.byteLength - 2),
      ]).toEqual([one.sourceAddress, one.destinationAddress, one.watchdogMs, one.parameterCrc])
    }
  })
  test('every F parameter is named with its value', () => {
    const named = fParameterTable(demo).rows.filter(
      ([station, slot]) => station === 'dosing-2' && slot === 1,
    )
    expect(named.map(([, , , name]) => name)).toEqual(
      expect.arrayContaining(['F_SIL', 'F_Source_Add', 'F_Dest_Add', 'F_WD_Time', 'F_Par_CRC']),
    )
  })
  test('a check sum that was entered for something else is named as stale', () => {
    expect(modules.map(({ iParameterCrc }) => iParameterCrc?.state)).toContain('stale')
  })
  test('CIP safety devices come with network number, signature and its own date', () => {
    for (const one of devices) expect(one.safetyNetworkNumber + one.signature).not.toBe('')
  })
  test('a release that is no longer what was released says so', () => {
    const release = { signature: 'another', by: 'AK', at: '2026-03-20T09:12:00.000Z' }
    const released = derive(
      { ...plan, project: { ...plan.project, safetyRelease: release } },
      catalog,
    )
    expect(safetyReleaseTable(released, 'now').rows[0]!.at(-1)).toBe('STALE')
    expect(safetyReleaseTable(released, 'another').rows[0]!.at(-1)).toBe('released')
    expect(safetyReleaseTable(demo, 'now').rows[0]!.at(-1)).toBe('not released')
  })
  test('as data it says the same', async () => {
    const bytes = await writeExport('safety-data', {
      ...{ derived: demo, revision: 4, blockers: 1, files: [] },
      loadFile: () => Promise.resolve(null),
    })
    expect(JSON.parse(new TextDecoder().decode(bytes))).toMatchObject({
      ...{ plan: plan.project.name, revision: 4, draft: true, release: null, modules, devices },
    })
  })
})
