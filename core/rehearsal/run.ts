import { check } from '../checks/check'
import type { Finding } from '../checks/finding'
import type { Derived } from '../derive/model'
import type { FoundDevice, Line, Started } from '../protocols/master'
import { kindNamed } from '../protocols/registry'
import { roleNameOf } from '../protocols/settings'
import { compareModules, differentFailSafe, type SlotComparison } from './compare'
import { wordFailSafe, wordSlots } from './compare-words'
import type { Field } from './field'
import { finding, type RehearsalFinding } from './finding'
import { matchNetwork, wireAddressOf, type NetworkMatch, type StationMatch } from './match'
import { plannedNetworks, switchesAt, type PlannedNetwork, type PlannedStation } from './planned'
import { checkSignals, type SignalResult } from './signal-check'
import { wordFault } from './start-words'

export const rehearsalSteps = ['scan', 'match', 'assign', 'compare', 'start', 'check'] as const
export type RehearsalStep = (typeof rehearsalSteps)[number]

/** The site as whoever commissions it has it: wires to speak over, and the field behind. */
export interface Site {
  line(networkId: string): Line
  readonly field: Field
}

export type StationState = 'as planned' | 'differs' | 'missing' | 'running' | 'fault'

/** What is known so far. Every step gives a new one. */
export interface RunState {
  readonly networks: readonly PlannedNetwork[]
  /** Devices by network, as the last scan found them. */
  readonly found: Readonly<Record<string, readonly FoundDevice[]>>
  readonly started: Readonly<Record<string, Started>>
  readonly signals: readonly SignalResult[]
  readonly findings: Readonly<Partial<Record<RehearsalStep, readonly RehearsalFinding[]>>>
  /** Blockers of the plan by station. */
  readonly blocked: Readonly<Record<string, readonly RehearsalFinding[]>>
}

/** `findings`: those of the plan, where somebody has them already. */
export function beginRun(
  derived: Derived,
  findings: readonly Finding[] = check(derived).all,
): RunState {
  return {
    networks: plannedNetworks(derived),
    found: {},
    started: {},
    signals: [],
    findings: {},
    blocked: blockersOf(derived, findings),
  }
}

/** Blockers that a station has of its own: it does not become what the plan says before they are
 *  mended. */
function blockersOf(
  derived: Derived,
  findings: readonly Finding[],
): Record<string, RehearsalFinding[]> {
  const blocked: Record<string, RehearsalFinding[]> = {}
  for (const { severity, at, message, code, fixes } of findings) {
    const id = at.kind === 'station' ? at.id : 'stationId' in at ? at.stationId : undefined
    const view = id === undefined ? undefined : derived.stations.get(id)
    if (severity !== 'blocker' || !view) continue
    const [fix] = fixes()
    ;(blocked[view.id] ??= []).push(
      finding(
        'plan.blocker',
        'blocker',
        view.station.name,
        `The plan of ${view.station.name} has a blocker (${code}): ${message}`,
        fix ? `Mend the plan: ${fix.label}.` : 'Mend the plan first.',
      ),
    )
  }
  return blocked
}

const everyNetwork = () => true
type Which = (networkId: string) => boolean

/** Asks everybody on the wires who they are. Nothing is written. */
export function scan(state: RunState, site: Site, which: Which = everyNetwork): RunState {
  const found = { ...state.found }
  const findings: RehearsalFinding[] = []
  for (const { id, name, kind, stations } of state.networks) {
    if (!which(id)) continue
    const devices = masterOf({ kind }).scan(site.line(id), stations)
    found[id] = devices
    findings.push(
      finding(
        'scan.found',
        'note',
        null,
        `${name}: ${devices.length} ${devices.length === 1 ? 'device answers' : 'devices answer'}, ${stations.length} planned.`,
        devices.length < stations.length ? 'Match tells which are missing.' : 'Go on with Match.',
      ),
    )
  }
  return { ...state, found, findings: { ...state.findings, scan: findings } }
}

/** Found against planned, network by network; of networks that were scanned. */
export function matches({ networks, found }: RunState): NetworkMatch[] {
  return networks.flatMap((network) => {
    const devices = found[network.id]
    return devices ? [matchNetwork(network, devices)] : []
  })
}

export function match(state: RunState): RunState {
  const findings = matches(state).flatMap(({ stations, extra }) => [
    ...stations.flatMap((one) => [...one.findings, ...(state.blocked[one.station.id] ?? [])]),
    ...extra.map((one) => one.finding),
  ])
  return { ...state, findings: { ...state.findings, match: findings } }
}

/** Gives names and addresses where it is clear which device is which, then looks again. */
export function assign(state: RunState, site: Site, which: Which = everyNetwork): RunState {
  const findings: RehearsalFinding[] = []
  let hasChanged = false
  for (const { network, stations } of matches(state)) {
    if (!which(network.id)) continue
    for (const one of stations) {
      const device = deviceToAssign(one)
      if (!device) continue
      if (isSetAtDevice(one.station)) {
        findings.push(setAtDevice(one))
        continue
      }
      const why = assignOne(state, site, one.station, device)
      if (why === null) hasChanged = true
      else
        findings.push(
          finding(
            'assign.refused',
            'blocker',
            one.station.name,
            `${one.station.name} did not get its name and address: ${why}`,
            'Set them at the device, then scan again.',
          ),
        )
    }
  }
  const next = hasChanged ? { ...state, found: scan(state, site, which).found } : state
  findings.push(...stillAmbiguous(next, which))
  return { ...next, findings: { ...state.findings, assign: findings } }
}

function stillAmbiguous(state: RunState, which: Which): RehearsalFinding[] {
  return matches(state).flatMap(({ network, stations }) =>
    stations.flatMap(({ station, state: how, candidates }) =>
      how === 'ambiguous' && which(network.id)
        ? [
            finding(
              'assign.ambiguous',
              'blocker',
              station.name,
              `${candidates.length} devices may be ${station.name}; none was assigned.`,
              'Blink them one after the other and assign the right one.',
            ),
          ]
        : [],
    ),
  )
}

/** What may be given a name without asking: one that is found with another address, or the only
 *  one that it may be. */
function deviceToAssign({ state, device, candidates, findings, station }: StationMatch) {
  const { assign: assigns } = masterOf(station)
  if (!assigns) return null
  const isOff = findings.some(({ code }) => code === 'match.address' || code === 'match.subnet')
  if (state === 'found') return isOff ? device : null
  return state === 'candidates' ? candidates[0]! : null
}

function isSetAtDevice(planned: PlannedStation): boolean {
  return switchesAt(planned) !== null && roleNameOf(planned.view.station) === ''
}

function setAtDevice({ station, findings }: StationMatch): RehearsalFinding {
  return finding(
    'assign.switches',
    'blocker',
    station.name,
    `${station.name} takes its address at its switches; nothing is written over the wire.`,
    findings[0]?.remedy ?? 'Set the switches as the card shows, then power-cycle the device.',
  )
}

/** One device becomes a station; null: done, else why not. Refused while another has the name. */
export function assignOne(
  { found }: Pick<RunState, 'found'>,
  site: Site,
  station: PlannedStation,
  device: FoundDevice,
): string | null {
  const { assign: assigns, identifiedBy } = masterOf(station)
  if (!assigns) return 'devices of this network take them at their switches only.'
  const word = identifiedBy === 'name' ? station.wireName : wireAddressOf(station)
  const holder = found[station.networkId]?.find(
    ({ key, name, address }) =>
      key !== device.key && (identifiedBy === 'name' ? name : address) === word,
  )
  if (holder) return `${holder.mac ?? holder.key} has ${word} already; reset that device first.`
  return assigns(site.line(station.networkId), device, station)
}

/** Planned and real modules of every station whose device is known. */
export function comparisons(state: RunState): ReadonlyMap<string, readonly SlotComparison[]> {
  const compared = new Map<string, readonly SlotComparison[]>()
  for (const { stations } of matches(state))
    for (const { station, device } of stations)
      if (device && device.type === station.identity.type)
        compared.set(station.id, compareModules(station, device))
  return compared
}

export function compare(state: RunState): RunState {
  const compared = comparisons(state)
  const findings = matches(state).flatMap(({ stations }) =>
    stations.flatMap(({ station, device }) => [
      ...wordSlots(station, compared.get(station.id) ?? []),
      ...(device ? wordFailSafe(station, device) : []),
    ]),
  )
  return { ...state, findings: { ...state.findings, compare: findings } }
}

/** Sends parameters and connects, for stations whose device is known. */
export function start(state: RunState, site: Site, which: Which = everyNetwork): RunState {
  const started = { ...state.started }
  const findings: RehearsalFinding[] = []
  for (const { network, stations } of matches(state)) {
    if (!which(network.id)) continue
    const pairs = pairsOf(stations)
    const results = masterOf(network).start(site.line(network.id), pairs)
    for (const { station } of stations) {
      const result = results.get(station.id)
      if (!result) {
        delete started[station.id]
        continue
      }
      started[station.id] = result
      for (const fault of result.faults) findings.push(wordFault(station, fault))
    }
  }
  return { ...state, started, findings: { ...state.findings, start: findings } }
}

/** Stations with their devices. */
export function pairsOf(stations: readonly StationMatch[]) {
  return stations.flatMap(({ station, device }, index) =>
    device ? [{ station, device, index }] : [],
  )
}

export function checkAll(state: RunState, site: Site): RunState {
  // All that are there, since where data travel follows from all of them.
  const pairs = matches(state).map(({ network, stations }) => ({
    network,
    pairs: pairsOf(stations),
  }))
  const signals = checkSignals(state.networks, pairs, site, state.started)
  const findings = signals.flatMap(({ tag, station, slot, verdict, why }) =>
    verdict === 'failed'
      ? [
          finding(
            'check.failed',
            'blocker',
            station,
            `${tag}: ${why}.`,
            'Check the wiring and the scaling of this signal.',
            { slot, tag },
          ),
        ]
      : [],
  )
  return { ...state, signals, findings: { ...state.findings, check: findings } }
}

/** How every station stands after the steps taken. */
export function stationStates(state: RunState): ReadonlyMap<string, StationState> {
  const compared = comparisons(state)
  const states = new Map<string, StationState>()
  for (const { stations } of matches(state))
    for (const one of stations) {
      const { id } = one.station
      const started = state.started[id]
      states.set(
        id,
        one.state === 'missing'
          ? 'missing'
          : started && one.state === 'found'
            ? started.isRunning && !state.blocked[id]
              ? 'running'
              : 'fault'
            : isAsPlanned(one, compared.get(id) ?? [], state)
              ? 'as planned'
              : 'differs',
      )
    }
  return states
}

function isAsPlanned(
  { state: how, findings, station, device }: StationMatch,
  slots: readonly SlotComparison[],
  { blocked }: RunState,
): boolean {
  return (
    how === 'found' &&
    findings.length === 0 &&
    !blocked[station.id] &&
    device !== null &&
    differentFailSafe(station.failSafe, device).length === 0 &&
    slots.every(({ state, submodules }) => state === 'same' && submodules.length === 0)
  )
}

/** Without the connections of some stations: their devices were touched, and have lost them. */
export function disconnected(state: RunState, stationIds: readonly string[]): RunState {
  const started = Object.entries(state.started).filter(([id]) => !stationIds.includes(id))
  return { ...state, started: Object.fromEntries(started) }
}

export function masterOf({ kind }: Pick<PlannedNetwork, 'kind'>) {
  return kindNamed(kind).master!
}
