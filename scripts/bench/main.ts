import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir, totalmem } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { fileURLToPath } from 'node:url'
import {
  applyCommand,
  check,
  createChecker,
  derive,
  readDeviceFile,
  singleFailures,
  supplyFailures,
  suppliesOf,
  tokenizeXml,
  wiredNetworks,
  type Derived,
  type SingleCommand,
  type Plan,
} from '@kataxis/core'
import { measureCommandLatency, measureTwoInstances } from './command-latency'
import { measureDocument } from './documents'
import { measureExport } from './exports'
import { measureShelfSearch } from './shelf-search'
import { compare, compareMany, type Ratio } from './measure'
import { measurePage, pageLimits, type PageMeasure } from './page'
import { freshCopy, largePlan, syntheticGsdml, type LargePlan } from '../../demo/large-plan'
import { fedPlan } from './fed-plan'
import { syntheticEds, syntheticEsi, syntheticGsd, syntheticIodd } from './synthetic-files'

const root = fileURLToPath(new URL('../..', import.meta.url))
const ratios: Record<string, number> = {}
const figures: Record<string, { value: number; unit: string }> = {}
const say = (sentence: string) => process.stderr.write(`${sentence}\n`)

function record(name: string, { ratio, oursMs, referenceMs }: Ratio): void {
  ratios[name] = Number(ratio.toPrecision(3))
  figures[`${name}.ours`] = { value: Number(oursMs.toPrecision(4)), unit: 'ms' }
  figures[`${name}.reference`] = { value: Number(referenceMs.toPrecision(4)), unit: 'ms' }
  say(`${name}: ${ratios[name]} (${oursMs.toFixed(2)} ms against ${referenceMs.toFixed(2)} ms)`)
}

/** The least that anybody could do with the text: the tokenizer with empty handlers. */
function barePass(text: string, withText = false): void {
  const nothing = () => undefined
  tokenizeXml(text, withText, () => ({
    open: nothing,
    close: nothing,
    text: nothing,
    doctype: nothing,
    error: nothing,
  }))
}

/** The least for a line format: its fields, found by one regular expression. */
function splitPass(text: string): number {
  let fields = 0
  for (const _ of text.matchAll(/"[^"\r\n]*"|[^\s=,;]+|\r?\n/g)) fields++
  return fields
}

/** A plan derived anew so often that each run of a measure has one that nothing is known of. */
const derivedCopies = (large: LargePlan): Derived[] =>
  Array.from({ length: 11 }, () => derive(freshCopy(large), large.catalog))

/** All that follows from links and supplies. */
const workOutNetworks = (derived: Derived) => [wiredNetworks(derived), suppliesOf(derived)]

const xmlBytes = 30_000_000
const plainBytes = 10_000_000

function readWhole(bytes: Uint8Array, name: string): void {
  const { file, problems } = readDeviceFile(bytes, name)
  if (!file || problems.length > 0)
    throw new Error(`${name} was not read well: ${problems[0]?.message}`)
}

/** Short work is done several times a measurement, ours and the reference's alike, so that
 *  compiling does not weigh more than reading. */
function times(count: number, work: () => unknown): () => void {
  return () => {
    for (let i = 0; i < count; i++) work()
  }
}

function readXml(ratio: string, text: string, name: string, withText: boolean): void {
  const bytes = new TextEncoder().encode(text)
  const rounds = Math.ceil(xmlBytes / text.length)
  record(
    ratio,
    compare(
      times(rounds, () => readWhole(bytes, name)),
      times(rounds, () => barePass(text, withText)),
    ),
  )
}

function readPlain(ratio: string, text: string, name: string): void {
  const bytes = new TextEncoder().encode(text)
  record(
    ratio,
    compare(
      times(3, () => readWhole(bytes, name)),
      times(3, () => splitPass(text)),
    ),
  )
}

/** In a process of its own that finds the file on disk, so that nothing else counts. */
function readMemory(ratio: string, text: string, name: string): void {
  const folder = mkdtempSync(join(tmpdir(), 'kataxis-bench-'))
  writeFileSync(join(folder, name), text)
  const run = spawnSync(
    process.execPath,
    [
      ...process.execArgv.filter((option) => option.startsWith('--max-semi-space-size')),
      '--import',
      'tsx',
      'scripts/bench/memory.ts',
      join(folder, name),
    ],
    { cwd: root, encoding: 'utf8' },
  )
  rmSync(folder, { recursive: true })
  const { extraBytes, fileBytes } = JSON.parse(run.stdout) as {
    extraBytes: number
    fileBytes: number
  }
  ratios[ratio] = Number((extraBytes / fileBytes).toPrecision(3))
  figures[`${ratio}.peak`] = { value: Math.round(extraBytes / 1e6), unit: 'MB' }
  say(
    `${ratio}: ${ratios[ratio]} (${Math.round(extraBytes / 1e6)} MB for a file of ${Math.round(fileBytes / 1e6)} MB)`,
  )
}

/** In a process of its own, so that no measurement finds code that another one has compiled for its
 *  own data. */
function measureApart(name: string): void {
  const run = spawnSync(process.execPath, [...process.execArgv, process.argv[1]!, name], {
    cwd: root,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  if (run.status !== 0) throw new Error(`${name} could not be measured.`)
  const measured = JSON.parse(run.stdout) as { ratios: typeof ratios; figures: typeof figures }
  Object.assign(ratios, measured.ratios)
  Object.assign(figures, measured.figures)
}

const stationCount = 500

const measurements: Record<string, () => void | Promise<void>> = {
  'shelf.search': async () => {
    const measured = await measureShelfSearch()
    record('shelf.search', measured)
    figures['shelf.search.key'] = { value: Number(measured.searchMs.toPrecision(3)), unit: 'ms' }
  },
  'read.gsdml.time': () =>
    readXml('read.gsdml.time', syntheticGsdml(xmlBytes), 'GSDML-V2.35-S-SY-20260101.xml', false),
  'read.esi.time': () => readXml('read.esi.time', syntheticEsi(xmlBytes), 'sy.xml', true),
  'read.iodd.time': () => readXml('read.iodd.time', syntheticIodd(3_000_000), 'sy-iodd.xml', false),
  'read.gsd.time': () => readPlain('read.gsd.time', syntheticGsd(plainBytes), 'sy.gsd'),
  'read.eds.time': () => readPlain('read.eds.time', syntheticEds(plainBytes), 'sy.eds'),
  'read.gsdml.memory': () =>
    readMemory('read.gsdml.memory', syntheticGsdml(xmlBytes), 'GSDML-V2.35-S-SY-20260101.xml'),
  'read.esi.memory': () => readMemory('read.esi.memory', syntheticEsi(xmlBytes), 'sy.xml'),
  'derive.full': () => {
    const large = largePlan(stationCount)
    const copies = Array.from({ length: 11 }, () => freshCopy(large))
    record(
      'derive.full',
      compare(
        () => derive(copies.pop()!, large.catalog),
        () => JSON.parse(large.json),
      ),
    )
    const [channels, megabytes] = [stationCount * 256, large.json.length / 1e6]
    figures['derive.plan'] = { value: channels, unit: 'channels' }
    figures['derive.json'] = { value: Number(megabytes.toFixed(1)), unit: 'MB' }
  },
  'derive.edit': () => {
    const large = largePlan(stationCount)
    const rounds = 50
    let { plan } = large
    derive(plan, large.catalog)
    let slot = 0
    const edits = Array.from({ length: rounds * 11 }, () => {
      const applied = applyCommand(plan, large.catalog, {
        type: 'insertModule',
        id: `extra${slot}`,
        stationId: `s${slot % stationCount}`,
        slot: 17 + Math.floor(slot++ / stationCount),
        module: 'M1',
        shift: false,
      })
      if (applied.ok) plan = applied.plan
      return plan
    })
    let next = 0
    const copies = Array.from({ length: 11 }, () => freshCopy(large))
    record(
      'derive.edit',
      compareMany(
        () => derive(edits[next++]!, large.catalog),
        rounds,
        () => derive(copies.pop()!, large.catalog),
      ),
    )
  },
  'checks.full': () => {
    const large = largePlan(stationCount)
    const derived = derive(large.plan, large.catalog)
    record(
      'checks.full',
      compare(
        () => check(derived),
        () => JSON.parse(large.json),
      ),
    )
    const applied = applyCommand(large.plan, large.catalog, {
      type: 'updateStation',
      id: 's7',
      set: { name: 'other' },
    })
    if (!applied.ok) throw new Error('refused')
    const two = [derived, derive(applied.plan, large.catalog)]
    const checker = createChecker()
    checker(derived)
    record(
      'checks.edit',
      compareMany(
        (round) => checker(two[round % 2]!),
        20,
        () => check(derived),
      ),
    )
  },
  'networks.full': () => {
    const large = fedPlan(stationCount)
    const copies = derivedCopies(large)
    record(
      'networks.full',
      compare(
        () => workOutNetworks(copies.pop()!),
        () => JSON.parse(large.json),
      ),
    )
  },
  'networks.edit': () => {
    const large = fedPlan(stationCount)
    const copies = derivedCopies(large)
    const end = { node: 's60', port: 1 }
    const link = large.plan.stations['s60']!.station.links['1']!
    let { plan } = large
    workOutNetworks(derive(plan, large.catalog))
    record(
      'networks.edit',
      compareMany(
        (round) => {
          const command: SingleCommand =
            round % 2 === 0
              ? { type: 'unlinkPorts', ends: [end] }
              : { type: 'linkPorts', links: [{ from: end, to: link.to }] }
          const applied = applyCommand(plan, large.catalog, command)
          if (!applied.ok) throw new Error('refused')
          plan = applied.plan
          workOutNetworks(derive(plan, large.catalog))
        },
        20,
        () => workOutNetworks(copies.pop()!),
      ),
    )
  },
  'networks.cuts': () => {
    const large = fedPlan(stationCount)
    const copies = derivedCopies(large)
    const derived = derive(large.plan, large.catalog)
    record(
      'networks.cuts',
      compare(
        () => [wiredNetworks(derived).map(singleFailures), supplyFailures(derived)],
        () => workOutNetworks(copies.pop()!),
      ),
    )
  },
  'image.allocate': () => {
    const large = largePlan(stationCount)
    // The real command on a plan of which nothing is known yet, with every address somewhere else,
    // so that each is found and written anew.
    const shifted = () => {
      const plan = freshCopy(large)
      for (const { modules } of Object.values(plan.stations))
        for (const { addresses } of Object.values(modules))
          for (const entry of Object.values(addresses))
            for (const way of ['in', 'out'] as const) if (entry[way] !== undefined) entry[way] += 16
      return plan
    }
    const copies = Array.from({ length: 11 }, shifted)
    const repack = (plan: Plan) => {
      const applied = applyCommand(plan, large.catalog, {
        type: 'repack',
        controllerId: Object.keys(plan.controllers)[0]!,
      })
      if (!applied.ok || applied.changes.length < stationCount)
        throw new Error('nothing was repacked')
    }
    record(
      'image.allocate',
      compare(
        () => repack(copies.pop()!),
        () => JSON.parse(large.json),
      ),
    )
    let slot = 0
    const copy = freshCopy(large)
    derive(copy, large.catalog)
    const insert = () => {
      const applied = applyCommand(copy, large.catalog, {
        type: 'insertModule',
        id: `extra${slot}`,
        stationId: `s${slot++ % stationCount}`,
        slot: 17,
        module: 'M1',
        shift: false,
      })
      if (!applied.ok) throw new Error('refused')
    }
    const whole = Array.from({ length: 11 }, shifted)
    record(
      'image.edit',
      compareMany(insert, 50, () => repack(whole.pop()!)),
    )
  },
  'command.p95': async () => record('command.p95', await measureCommandLatency()),
  'command.two': async () => {
    const { ratio, one, two, p95 } = await measureTwoInstances()
    ratios['command.two'] = Number(ratio.toPrecision(3))
    figures['command.two.one'] = { value: Math.round(one), unit: 'commands/s' }
    figures['command.two.two'] = { value: Math.round(two), unit: 'commands/s' }
    figures['command.two.p95'] = {
      value: Number(p95.toPrecision(3)),
      unit: 'times that of one instance',
    }
    say(
      `command.two: ${ratios['command.two']} (${Math.round(two)} against ${Math.round(one)} commands a second; p95 ${p95.toFixed(2)} times)`,
    )
  },
  'export.csv': async () => record('export.csv', await measureExport('csv')),
  'export.declarations': async () =>
    record('export.declarations', await measureExport('declarations')),
  'export.plcopen': async () => record('export.plcopen', await measureExport('plcopen')),
  'export.caex': async () => record('export.caex', await measureExport('caex')),
  /** No ratio: how long 50,000 rows take as PDF, and how much memory. */
  'export.pdf': async () => {
    const { seconds, megabytes } = await measureDocument()
    figures['export.pdf.time'] = { value: Number(seconds.toPrecision(3)), unit: 's' }
    figures['export.pdf.memory'] = { value: Math.round(megabytes), unit: 'MB' }
  },
  'export.xlsx': async () => record('export.xlsx', await measureExport('xlsx', 3)),
  'cli.start': () => {
    const call = (...args: string[]) => spawnSync(process.execPath, args, { cwd: root })
    const size = call('cli/kataxis.mjs', 'schema').stdout.length
    const bare = ['-e', `process.stdout.write('x'.repeat(${size}))`]
    record(
      'cli.start',
      compare(
        () => call('cli/kataxis.mjs', 'schema'),
        () => call(...bare),
      ),
    )
  },
  'page.script': () => {
    const manifest = JSON.parse(
      readFileSync(join(root, 'web/dist/.vite/manifest.json'), 'utf8'),
    ) as Record<string, { file: string; isEntry?: boolean; imports?: string[] }>
    const files = new Set<string>()
    const visit = (key: string) => {
      const chunk = manifest[key]!
      if (files.has(chunk.file)) return
      files.add(chunk.file)
      chunk.imports?.forEach(visit)
    }
    for (const [key, { isEntry }] of Object.entries(manifest)) if (isEntry) visit(key)
    const bytes = [...files].reduce(
      (sum, file) => sum + gzipSync(readFileSync(join(root, 'web/dist', file))).length,
      0,
    )
    ratios['page.script'] = Number((bytes / 450_000).toPrecision(3))
    figures['page.script.gzip'] = { value: Math.round(bytes / 1000), unit: 'kB' }
    say(`page.script: ${ratios['page.script']} (${Math.round(bytes / 1000)} kB gzipped)`)
  },
  'page.large': async () => {
    for (const [name, value] of Object.entries(await measurePage())) {
      const { most, unit, what } = pageLimits[name as PageMeasure]
      figures[`${name}.ours`] = { value: Math.round(value), unit }
      if (most !== null) ratios[name] = Number((value / most).toPrecision(3))
      const limit = most === null ? '' : `, ${ratios[name]} of at most ${most} ${unit}`
      say(`${name}: ${what}: ${Math.round(value)} ${unit}${limit}`)
    }
  },
}

/** The figures of a page come from one measurement. */
const measurementOf = (name: string) => (Object.hasOwn(pageLimits, name) ? 'page.large' : name)
const wanted = process.argv.slice(2).map(measurementOf)
for (const name of wanted)
  if (!Object.hasOwn(measurements, name))
    say(`There is no measurement "${name}"; there are ${Object.keys(measurements).join(', ')}.`)
const selected = Object.keys(measurements).filter(
  (name) => wanted.length === 0 || wanted.includes(name),
)
if (selected.length === 1) await measurements[selected[0]!]!()
else for (const name of selected) measureApart(name)
const machine = {
  node: process.version,
  cpu: cpus()[0]?.model ?? '',
  cores: cpus().length,
  memoryGb: Math.round(totalmem() / 2 ** 30),
}
process.stdout.write(`${JSON.stringify({ contract: 1, machine, ratios, figures }, null, 2)}\n`)
