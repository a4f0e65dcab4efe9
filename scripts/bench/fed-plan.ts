import { readFileSync } from 'node:fs'
import { planFromRows, readDeviceFile, rowsOfPlan, tables, type StationRow } from '@kataxis/core'
import { largePlan, type LargePlan } from '../../demo/large-plan'

const sheet = new URL('../../demo/shelf/tarnvey-supply5.sheet.json', import.meta.url)
/** Stations that hang on one supply. */
const onOne = 12

/** The large plan with supplies, and every station on one. */
export function fedPlan(stationCount: number): LargePlan {
  const large = largePlan(stationCount)
  const { file } = readDeviceFile(readFileSync(sheet), 'supply.sheet.json')
  const rows = rowsOfPlan(large.plan)
  const supplies = Array.from({ length: Math.ceil(stationCount / onOne) }, (_, i) =>
    tables.stations.parse({
      id: `g${i}`,
      networkId: 'supplies',
      position: i,
      name: `supply-${i}`,
      deviceNumber: i + 1,
      settings: { kind: 'passive', outputVolts: null },
      file: 'supply',
      device: 'TV-PS5',
      comment: '',
      addresses: {},
    }),
  )
  const stations = rows.stations.map((row, i): StationRow => ({
    ...row,
    feed: {
      from: `g${Math.floor(i / onOne)}`,
      lengthM: 10 + (i % 40),
      mm2: 2.5,
      flexible: true,
      currentMa: 350,
      inrushMa: 600,
    },
  }))
  const plan = planFromRows(large.plan.project, {
    ...rows,
    networks: [
      ...rows.networks,
      tables.networks.parse({
        id: 'supplies',
        controllerId: 'k1',
        name: 'Supplies',
        position: 100,
        settings: { kind: 'passive' },
      }),
    ],
    stations: [...stations, ...supplies],
  })
  return {
    plan,
    catalog: new Map([...large.catalog, ['supply', file!]]),
    json: JSON.stringify(rowsOfPlan(plan)),
  }
}
