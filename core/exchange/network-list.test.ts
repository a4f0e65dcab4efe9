import { Workbook } from 'exceljs'
import Papa from 'papaparse'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { wiredNetworks } from '../networks'
import { wholeDemo } from '../test/plans'
import { writeExport } from './exports'
import { readLinkTable } from './link-table'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const input = {
  derived,
  revision: 1,
  blockers: 0,
  files: [],
  loadFile: () => Promise.resolve(null),
}

describe('the cable list', () => {
  test('names every link once, and each network’s rows can be pasted back as they are', async () => {
    const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(
      await writeExport('cables', input),
    )
    const { data, errors } = Papa.parse<Record<string, string>>(text.slice(1), {
      header: true,
      skipEmptyLines: true,
    })
    expect(errors).toEqual([])
    const networks = wiredNetworks(derived)
    expect(data).toHaveLength(networks.flatMap(({ links }) => links).length)
    for (const { network, nodes, links } of networks) {
      const own = data.filter((row) => row['Network'] === network.name)
      const pasted = readLinkTable(Papa.unparse(own), nodes)
      expect(pasted.faults).toEqual([])
      expect(pasted.links.map(({ from, to }) => [from, to])).toEqual(
        links.map(({ from, to }) => [from, to]),
      )
    }
  })
})

test('the network sheet has cables, loads, stations and failures, read by another program', async () => {
  const book = new Workbook()
  await book.xlsx.load((await writeExport('networks', input)).buffer as never)
  const rowsOf = (name: string) => book.getWorksheet(name)!.getSheetValues().slice(1) as unknown[][]
  expect(rowsOf('Cables')[1]!.slice(1, 8)).toEqual([
    ...['W101', 'Intake', 'intake-a', 1],
    ...['K1 waterworks', 1, 'Copper'],
  ])
  const screen = rowsOf('Stations').find((row) => row[3] === 'Screen-1')!
  expect(screen.slice(4, 10)).toEqual([2, 88, 88, 32_000, 32_000, 96_000])
  expect(screen[11]).toBe('drops out')
  expect(rowsOf('Failures')[1]!.slice(1, 4)).toEqual(['Intake', 'intake-a', 44])
  expect(rowsOf('Load').length).toBe(rowsOf('Cables').length)
})
