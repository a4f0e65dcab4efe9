import { readFileSync, writeFileSync } from 'node:fs'
import {
  capturedFrames,
  derive,
  differenceFault,
  differencesSchema,
  FrameLog,
  kindNamed,
  rehearsalSteps,
  rehearse as steps,
  wireAddressOf,
  wordIssue,
  writePcap,
  type Derived,
  type RehearsalStep,
  type RunState,
  type Site,
  type SiteDifference,
} from '@kataxis/core'
import { buildWorld, type World } from '@kataxis/standins'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan, readBytes, type LoadedFile } from '../files'
import { print } from '../print'

interface Options {
  readonly files: string[]
  readonly differences?: string
  readonly until: string
  readonly capture?: string
  readonly serve?: boolean
  readonly ports?: string
}

/** Runs the steps against the simulated plant and prints what each found; with `--serve` it goes on
 *  to answer over real sockets until it is told to stop. */
export async function rehearse(path: string, options: Options): Promise<number> {
  const until = rehearsalSteps.find((step) => step === options.until)
  if (!until)
    throw new CannotDo(
      `--until: "${options.until}" is no step; there are ${rehearsalSteps.join(', ')}.`,
    )
  if (options.serve && !options.ports)
    throw new CannotDo('--serve needs --ports FILE, where the ports are written.')
  const { plan, files } = loadPlan(path, options.files)
  const derived = derive(plan, catalogOf(files, plan))
  const fileCalled = (word: string) =>
    files.find(({ name, sha256 }) => name === word || sha256 === word)?.sha256 ?? null
  const differences = readDifferences(options.differences, derived, files, fileCalled)
  const world = buildWorld(derived, differences, fileCalled)
  const log = new FrameLog()
  const state = runUntil(derived, world, log, until)
  if (options.serve) {
    const { serve } = await import('@kataxis/standins/sockets')
    const served = await serve(world, log)
    writeFileSync(options.ports!, `${JSON.stringify(served.ports, null, 2)}\n`)
    await untilTold()
    await served.close()
  }
  if (options.capture) writeFileSync(options.capture, captureOf(derived, log))
  print(report(derived, state, until, log))
  return state.networks.length > 0 && hasBlocker(state) ? 1 : 0
}

function readDifferences(
  path: string | undefined,
  derived: Derived,
  files: readonly LoadedFile[],
  fileCalled: (word: string) => string | null,
): readonly SiteDifference[] {
  if (path === undefined) return []
  let json: unknown
  try {
    json = JSON.parse(readFileSync(path, 'utf8') || new TextDecoder().decode(readBytes(path)))
  } catch (error) {
    throw new CannotDo(`${path}: ${(error as Error).message}`)
  }
  const read = differencesSchema.safeParse(json)
  if (!read.success) throw new CannotDo(`${path}: ${wordIssue(read.error.issues[0]!)}`)
  const wrongDevice = read.data.find(
    (one) =>
      one.kind === 'wrongType' &&
      !files
        .find(({ name, sha256 }) => name === one.device.file || sha256 === one.device.file)
        ?.file.devices.some(({ key }) => key === one.device.device),
  )
  const fault =
    differenceFault(derived, read.data, fileCalled) ??
    (wrongDevice?.kind === 'wrongType'
      ? `${wrongDevice.device.file} has no device "${wrongDevice.device.device}".`
      : null)
  if (fault) throw new CannotDo(`${path}: ${fault}`)
  return read.data
}

function runUntil(derived: Derived, world: World, log: FrameLog, until: RehearsalStep): RunState {
  const lines = new Map<string, ReturnType<World['line']>>()
  const site: Site = {
    field: world.field,
    line: (id) => {
      let line = lines.get(id)
      if (!line) lines.set(id, (line = world.line(id, log)))
      return line
    },
  }
  const each: Record<RehearsalStep, (state: RunState) => RunState> = {
    scan: (state) => steps.scan(state, site),
    match: steps.match,
    assign: (state) => steps.assign(state, site),
    compare: steps.compare,
    start: (state) => steps.start(state, site),
    check: (state) => steps.checkAll(state, site),
  }
  let state = steps.beginRun(derived)
  for (const step of rehearsalSteps) {
    state = each[step](state)
    if (step === until) break
  }
  return state
}

function report(derived: Derived, state: RunState, until: RehearsalStep, log: FrameLog) {
  const done = rehearsalSteps.slice(0, rehearsalSteps.indexOf(until) + 1)
  const states = steps.stationStates(state)
  const planned = new Map(
    state.networks.flatMap(({ stations }) => stations.map((one) => [one.id, one] as const)),
  )
  const matched = new Map(
    steps
      .matches(state)
      .flatMap(({ stations }) =>
        stations.map(({ station, device }) => [station.id, device] as const),
      ),
  )
  return {
    contract: 1,
    steps: done.map((step) => ({ step, findings: state.findings[step] ?? [] })),
    stations: [...derived.stations.values()].flatMap(({ id, station, device }) => {
      const { kind } = station.settings
      if (!kindNamed(kind).master) return []
      const address = device && state.started[id] ? wireAddressOf(planned.get(id)!) : null
      return [
        {
          name: station.name,
          state: states.get(id) ?? ('missing' as const),
          mac: matched.get(id)?.mac ?? null,
          address: matched.get(id)?.address ?? address,
        },
      ]
    }),
    signals: state.signals.map(({ station: _station, slot: _slot, ...signal }) => signal),
    frames: log.count,
  }
}

/** When the first frame of a capture was, so that the same run gives the same file. */
const captureStart = Date.UTC(2026, 0, 1)

function captureOf({ plan }: Derived, log: FrameLog): Uint8Array {
  return writePcap(
    capturedFrames(log.latest, (id) => plan.networks[id]!.settings.kind, captureStart),
  )
}

const hasBlocker = ({ findings }: RunState) =>
  Object.values(findings).some((all) => all?.some(({ severity }) => severity === 'blocker'))

function untilTold(): Promise<void> {
  return new Promise((done) => {
    for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => done())
  })
}
