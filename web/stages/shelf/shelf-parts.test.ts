import { createPinia, setActivePinia } from 'pinia'
import { readFileSync, readdirSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { describe, expect, test, vi } from 'vitest'
import { readDeviceFile } from '@kataxis/core'
import { api, type ShelfHit } from '../../api/client'
import { factsOf } from './device-facts'
import { useSheetDraft } from './useSheetDraft'
import { useShelfSearch } from './useShelfSearch'

const folder = fileURLToPath(new URL('../../../demo/shelf/', import.meta.url))
const read = (name: string) =>
  readDeviceFile(new Uint8Array(readFileSync(folder + name)), name).file!

describe('facts of a head', () => {
  test.each([
    [
      'BRCK0F31.gsd',
      {
        Network: 'PROFIBUS DP',
        Ident: '0x0f31',
        'Shortest interval': '0.1 ms',
        Slots: '16',
        'Both ways': '200 bytes',
      },
    ],
    [
      'OSTR0F21.gsd',
      { Rates: '9.6, 19.2, 93.75, 187.5, 500, 1.5 Mbit/s', Diagnosis: 'up to 8 bytes' },
    ],
    ['Brackwater-BWEN.eds', { Network: 'EtherNet/IP', Revision: '2.11', Connections: 'up to 6' }],
    [
      'Quillane-QE200-terminals.xml',
      { Network: 'EtherCAT', 'Backplane, supplies': '2000 mA', Ports: 'YYK' },
    ],
    [
      'TarnVey-LevelEye-20260301-IODD1.1.xml',
      { Network: 'IO-Link', Rate: 'COM2', 'Shortest cycle': '3 ms' },
    ],
    [
      'ostrel-wellmeter.sheet.json',
      { Network: 'Modbus', Address: 'two rotary switches, 1 to 99', Registers: '8' },
    ],
  ])('%s', (name, expected) =>
    expect(Object.fromEntries(factsOf(read(name).devices[0]!))).toMatchObject(expected),
  )

  test('are words for every file of the demo', () => {
    for (const name of readdirSync(folder)) {
      for (const device of read(name).devices)
        for (const [label, value] of factsOf(device))
          expect(`${label} ${value}`).not.toMatch(/undefined|null|NaN|\[object/)
    }
  })
})

describe('a device sheet while it is written', () => {
  test('says what is missing, then what it will offer', () => {
    const { draft, faults, preview, addModule } = useSheetDraft()
    expect(faults.value.map((fault) => fault.split(':')[0])).toEqual(['maker', 'name'])
    expect(preview.value).toBeNull()
    draft.value.maker = 'Tarn & Vey'
    draft.value.name = 'Node'
    draft.value.slots.count = 2
    addModule()
    draft.value.modules[0]!.inputs = [{ name: 'Level', type: 'int16', count: 2 }]
    expect(faults.value).toEqual([])
    expect(preview.value!.modules).toMatchObject([{ key: 'module-1', inputBytes: 4 }])
    expect(preview.value!.devices[0]!.slots.map(({ allowed }) => allowed)).toEqual([
      ['module-1'],
      ['module-1'],
    ])
  })

  test.each([
    'brackwater-ringnode.sheet.json',
    'tarnvey-bridge.sheet.json',
    'ostrel-wellmeter.sheet.json',
    'tarnvey-node31.sheet.json',
    'quillane-qx64.sheet.json',
    'brackwater-tankgauge.sheet.json',
  ])('%s comes back as it was, with what the form does not show', async (name) => {
    const { load, toFile } = useSheetDraft()
    load(readFileSync(folder + name, 'utf8'))
    const again = readDeviceFile(
      new Uint8Array(await toFile().arrayBuffer()),
      'again.sheet.json',
    ).file
    // What is saved is a sheet of the second version.
    expect(again).toEqual({ ...read(name), formatVersion: '2' })
  })
})

test('an answer that comes late for an older text is dropped', async () => {
  const answers: ((names: string) => void)[] = []
  vi.spyOn(api, 'searchShelf').mockImplementation(
    () =>
      new Promise((resolve) =>
        answers.push((name) => resolve({ hits: [{ name } as ShelfHit], isComplete: true })),
      ),
  )
  setActivePinia(createPinia())
  const { text, hits, search } = useShelfSearch()
  text.value = 'a'
  const first = search()
  text.value = 'ab'
  const second = search()
  answers[1]!('new')
  answers[0]!('old')
  await Promise.all([first, second])
  expect(hits.value.map(({ name }) => name)).toEqual(['new'])
})
