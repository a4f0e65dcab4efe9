import { readSheet } from 'read-excel-file/node'
import ExcelJS from 'exceljs'
import Papa from 'papaparse'
import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive } from '../derive'
import { demoPlan, doAll, insert, place, smallCatalog, smallPlan, wholeDemo } from '../test/plans'
import { readArchive, writeArchive } from './archive'
import { exportFileName, writeExport } from './exports'
import { ioColumns, ioList } from './io-list'
import { readProjectFile, writeProjectFile } from './project-file'

const { plan, catalog } = demoPlan()
const derived = derive(plan, catalog)
const files = [...new Set(Object.values(plan.stations).map(({ station }) => station.file))]
  .sort()
  .map((sha256, i) => ({ sha256, name: `file-${i}.xml` }))
const input = {
  derived,
  revision: 7,
  blockers: check(derived).blockers,
  files,
  loadFile: () => Promise.resolve(new Uint8Array([1, 2, 3])),
}
const cells = ioList(derived).map((row) => ioColumns.map(({ key }) => String(row[key] ?? '')))

describe('the I/O list', () => {
  test('has a row for every channel, and the signal without one at the end', () => {
    expect(cells).toHaveLength(151)
    expect(cells[0]!.slice(0, 14)).toEqual([
      'Intake',
      'intake-a',
      '2',
      '',
      '16 digital inputs 24 V',
      '',
      'Channel 0',
      'A1-X2:1',
      'DI',
      'Bit',
      '%IX0.0',
      '',
      'INT_P101_Run',
      'Intake pump 1: running',
    ])
    expect(cells.at(-1)!.slice(0, 14)).toEqual([
      '',
      '',
      '',
      '',
      '',
      '',
      '',
      '',
      '',
      '',
      '',
      '',
      'INT_AT_105',
      'Intake turbidity, added by the process engineer',
    ])
  })

  // RFC 4180, read back by an independent reader.
  test('as CSV is the same cell by cell', async () => {
    const text = new TextDecoder().decode(await writeExport('csv', input))
    const parsed = Papa.parse<string[]>(text.trimEnd())
    expect(parsed.errors).toEqual([])
    expect(parsed.data).toEqual([ioColumns.map(({ heading }) => heading), ...cells])
  })

  // ECMA-376, opened by another reader than the one that wrote it (read-excel-file).
  test('as XLSX is the same for an independent reader', async () => {
    const bytes = await writeExport('xlsx', input)
    const rows = await readSheet(Buffer.from(bytes), 'IO list')
    expect(rows.map((row) => ioColumns.map((_, x) => String(row[x] ?? '')))).toEqual([
      ioColumns.map(({ heading }) => heading),
      ...cells,
    ])
  })

  // ECMA-376, read back by the registry's reader; the browser test opens the download too.
  test('as XLSX is the same cell by cell, and the same to the byte each time', async () => {
    const bytes = await writeExport('xlsx', input)
    const workbook = new ExcelJS.Workbook()
    await workbook.xlsx.load(bytes.slice().buffer)
    const sheet = workbook.getWorksheet('IO list')!
    const rows = Array.from({ length: sheet.rowCount }, (_, y) =>
      ioColumns.map((_column, x) => sheet.getRow(y + 1).getCell(x + 1).text),
    )
    expect(rows).toEqual([ioColumns.map(({ heading }) => heading), ...cells])
    expect(workbook.getWorksheet('Plan')!.getRow(3).getCell(2).text).toBe('DRAFT: 1 blockers open')
    expect(await writeExport('xlsx', input)).toEqual(bytes)
  })

  test('parameters, records and what is fail-safe as XLSX', async () => {
    const whole = wholeDemo()
    const bytes = await writeExport('parameters', {
      ...input,
      derived: derive(whole.plan, whole.catalog),
    })
    const workbook = new ExcelJS.Workbook()
    await workbook.xlsx.load(bytes.slice().buffer)
    const rowsOf = (name: string) => {
      const sheet = workbook.getWorksheet(name)!
      return Array.from({ length: sheet.rowCount }, (_, y) =>
        Array.from(
          { length: sheet.columnCount },
          (_, x) => sheet.getRow(y + 1).getCell(x + 1).text,
        ),
      )
    }
    expect(rowsOf('Parameters')).toContainEqual([
      'dosing-1',
      '4',
      '8 analog inputs 0/4 to 20 mA',
      '8 analog inputs 0/4 to 20 mA',
      '1.1',
      'Channel 0 › Smoothing',
      '3',
      'strong',
      'weak',
      'changed',
      '3.0',
      '2',
    ])
    expect(rowsOf('Records')).toContainEqual([
      'dosing-2',
      '2',
      '4 fail-safe outputs',
      '4 fail-safe outputs',
      '16',
      '10',
      '09 40 00 01 00 0c 00 96 c5 a3',
    ])
    expect(rowsOf('Fail-safe')[1]).toEqual([
      'dosing-2',
      '1',
      '8 fail-safe inputs',
      '%IB232',
      '%QB86',
      '1',
      '11',
      '150',
      '0x15db',
      '0x89abcdef',
      'AK',
      '2026-03-20T09:12:00.000Z',
      'STALE',
    ])
    expect(workbook.getWorksheet('Plan')!.getRow(4).getCell(2).text).toMatch(
      /^signature [0-9a-f]{64}$/,
    )
  })

  test('a cell that a spreadsheet would run is made harmless', async () => {
    const evil = doAll(smallPlan(insert('a', 1, 'DI')), smallCatalog, {
      type: 'editSignals',
      edits: [{ id: 'x', place: place('a', 0), tag: 'X', comment: '=HYPERLINK("x")' }],
    })
    const text = new TextDecoder().decode(
      await writeExport('csv', { ...input, derived: derive(evil, smallCatalog) }),
    )
    expect(text).toContain(`"'=HYPERLINK(""x"")"`)
  })

  test('says that it is a draft while blockers are open', () => {
    expect(exportFileName('csv', input)).toBe('demo-r7-draft.csv')
    expect(exportFileName('csv', { ...input, blockers: 0 })).toBe('demo-r7.csv')
    expect(exportFileName('kataxis', input)).toBe('demo-r7.kataxis.json')
  })
})

describe('the project file', () => {
  const text = writeProjectFile(plan, 7, files)
  const wrong = (change: (json: Record<string, unknown>) => void) => {
    const json = JSON.parse(text) as Record<string, unknown>
    change(json)
    return readProjectFile(JSON.stringify(json))
  }

  test('comes back without loss, and the same to the byte', () => {
    const read = readProjectFile(text)
    if ('fault' in read) throw new Error(read.fault)
    expect(read).toMatchObject({ revision: 7, files })
    expect(read.plan).toEqual(plan)
    expect(writeProjectFile(read.plan, 7, files)).toBe(text)
  })

  test('does not depend on the order in which a database hands out keys', () => {
    const reversed = (value: unknown): unknown =>
      Array.isArray(value)
        ? value.map(reversed)
        : typeof value === 'object' && value
          ? Object.fromEntries(
              Object.entries(value)
                .reverse()
                .map(([key, inner]) => [key, reversed(inner)]),
            )
          : value
    expect(writeProjectFile(reversed(plan) as typeof plan, 7, files)).toBe(text)
  })

  test.each([
    ['no JSON', () => readProjectFile('{'), 'not JSON'],
    ['something else', () => readProjectFile('[]'), '"kataxis" version'],
    [
      'another version',
      () => wrong((json) => Object.assign(json, { kataxis: 2 })),
      'kataxis: the project file has version 2',
    ],
    [
      'a wrong type',
      () =>
        wrong((json) => Object.assign((json['stations'] as object[])[1]!, { deviceNumber: 'x' })),
      'stations[1].deviceNumber',
    ],
    ['a missing table', () => wrong((json) => delete json['modules']), 'modules'],
    [
      'a key nobody knows',
      () => wrong((json) => Object.assign((json['networks'] as object[])[0]!, { colour: 1 })),
      'networks[0]',
    ],
    [
      'a row that hangs in the air',
      () =>
        wrong((json) => Object.assign((json['modules'] as object[])[2]!, { stationId: 'gone' })),
      'modules[2].stationId: Module ',
    ],
    [
      'an id twice',
      () =>
        wrong((json) =>
          (json['controllers'] as object[]).push((json['controllers'] as object[])[0]!),
        ),
      'controllers[1].id',
    ],
    [
      'a slot twice',
      () =>
        wrong((json) =>
          Object.assign((json['modules'] as object[])[1]!, {
            slot: (json['modules'] as { slot: number }[])[0]!.slot,
          }),
        ),
      'modules[1].slot',
    ],
  ])('with %s is refused with the path', (_, read, part) =>
    expect((read() as { fault: string }).fault).toContain(part),
  )
})

describe('the archive', () => {
  const archive = writeArchive('{}', [
    { sha256: 'a'.repeat(64), name: 'q ü.xml', bytes: new Uint8Array([1, 2]) },
  ])
  test('comes back', () =>
    expect(readArchive(archive)).toEqual({
      projectText: '{}',
      files: [{ name: 'q__.xml', bytes: new Uint8Array([1, 2]) }],
    }))
  test.each([
    ['cut off', archive.slice(0, 40)],
    ['rubbish', new Uint8Array([0x50, 0x4b, 1, 2, 3])],
  ])('%s is told', (_, bytes) => expect(readArchive(bytes)).toHaveProperty('fault'))
})
