import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Catalog } from '../catalog'
import type { DeviceFile } from '../catalog/model'
import { readDeviceFile } from '../device-files'
import { newPlan, runCommandScript } from '../exchange'
import { wordRefusal, type Command, type Plan, type SingleCommand } from '../plan'
import { gsdml } from './gsdml'
import { applyCommand } from '../changing'

const demoFolder = fileURLToPath(new URL('../../demo/', import.meta.url))
export const demoFiles = [
  'GSDML-V2.35-Quillane-QH400-20260312.xml',
  'GSDML-V2.35-Brackwater-BWField-20251104.xml',
] as const

export function readText(text: string, name = 'GSDML-V2.35-TarnVey-TV-20260101.xml') {
  return readDeviceFile(new TextEncoder().encode(text), name)
}

export function demoBytes(name: string): Uint8Array {
  return readFileSync(demoFolder + name)
}

/** The small test head, on the shelf under the hash `tv`. */
export const smallFile: DeviceFile = readText(gsdml()).file!
export const smallCatalog: Catalog = new Map([['tv', smallFile]])

/** The intake of the demo: one controller, one PROFINET network, four stations. */
export function demoPlan(): { plan: Plan; catalog: Catalog } {
  return demoUpTo('"id":"k2"')
}

/** The whole waterworks. */
export function wholeDemo(): { plan: Plan; catalog: Catalog } {
  return demoUpTo(null)
}

function demoUpTo(end: string | null): { plan: Plan; catalog: Catalog } {
  const files = [
    ...demoFiles,
    ...readdirSync(`${demoFolder}shelf`).map((name) => `shelf/${name}`),
  ].flatMap((path) => {
    const name = path.replace('shelf/', '')
    const bytes = demoBytes(path)
    const { file } = readDeviceFile(bytes, name)
    return file ? [{ name, sha256: createHash('sha256').update(bytes).digest('hex'), file }] : []
  })
  const catalog = new Map(files.map(({ sha256, file }) => [sha256, file]))
  const script = readFileSync(`${demoFolder}skarvholm.ndjson`, 'utf8')
  const result = runCommandScript(
    newPlan('demo', 'Demo'),
    catalog,
    files,
    script.slice(0, end === null ? undefined : script.lastIndexOf('\n', script.indexOf(end))),
  )
  if ('fault' in result) throw new Error(`line ${result.line}: ${result.fault}`)
  return { plan: result.plan, catalog }
}

/** Files of other networks, by their name. */
export const shelfCatalog: Catalog = new Map(
  [
    'OSTR0F21.gsd',
    'BRCK0F31.gsd',
    'Quillane-QE200-terminals.xml',
    'Brackwater-BWEN.eds',
    'ostrel-wellmeter.sheet.json',
    'brackwater-ringnode.sheet.json',
    'quillane-qc200.sheet.json',
    'quillane-qx64.sheet.json',
    'tarnvey-node31.sheet.json',
    'tarnvey-supply5.sheet.json',
    'ostrel-terminator.sheet.json',
    'brackwater-tankgauge.sheet.json',
    'Ostrel-OzonePump.eds',
    'Ostrel-FillDrive.xml',
    'GSDML-V2.4-TarnVey-DoseGuard-20260210.xml',
    'TarnVey-LevelEye-20260301-IODD1.1.xml',
    'brackwater-switch8.sheet.json',
    'brackwater-converter.sheet.json',
    'ostrel-repeater.sheet.json',
  ].map((name) => [name, readDeviceFile(demoBytes(`shelf/${name}`), name).file!]),
)

/** Does commands that must not be refused. */
export function doAll(plan: Plan, catalog: Catalog, ...commands: Command[]): Plan {
  return commands.reduce((current, command) => {
    const applied = applyCommand(current, catalog, command)
    if (!applied.ok) throw new Error(`${command.type}: ${wordRefusal(applied.refusal)}`)
    return applied.plan
  }, plan)
}

export const begin: SingleCommand[] = [
  { type: 'addController', id: 'k1', name: 'K1', inputBytes: 64, outputBytes: 64, aligned: true },
  {
    type: 'addNetwork',
    id: 'n1',
    controllerId: 'k1',
    name: 'N1',
    kind: 'profinet',
    settings: { controllerIp: '10.0.0.1' },
  },
  { type: 'addStation', id: 's1', networkId: 'n1', file: 'tv', device: 'DAP', comment: '' },
]

export const insert = (
  id: string,
  slot: number,
  module: string,
  stationId = 's1',
  shift = false,
): SingleCommand => ({ type: 'insertModule', id, stationId, slot, module, shift })

export function smallPlan(...more: Command[]): Plan {
  return doAll(newPlan('p', 'P'), smallCatalog, ...begin, ...more)
}

export const place = (moduleId: string, offsetBits: number, direction: 'in' | 'out' = 'in') => ({
  moduleId,
  subslot: 1,
  direction,
  offsetBits,
})
