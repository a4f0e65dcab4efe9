import type { PlannedStation } from './planned'
import type { RealModule } from '../protocols/profinet/real-identification'

/** A device as the wire shows it. */
export interface FoundDevice {
  readonly mac: string
  /** Empty in factory state. */
  readonly name: string
  readonly ip: string
  readonly vendorId: number
  readonly deviceId: number
  readonly typeOfStation: string
  readonly modules: readonly RealModule[]
}

export type SlotState = 'same' | 'swapped' | 'wrong' | 'missing' | 'surplus'

export interface SlotComparison {
  readonly slot: number
  readonly state: SlotState
  readonly planned: string | null
  readonly found: string | null
}

export interface MatchFinding {
  readonly code: string
  readonly severity: 'blocker' | 'warning'
  readonly message: string
  readonly remedy: string
}

export interface StationMatch {
  readonly station: PlannedStation
  readonly state: 'matched' | 'candidates' | 'ambiguous' | 'missing'
  readonly device: FoundDevice | null
  /** Nameless devices of the right type, best first. */
  readonly candidates: readonly FoundDevice[]
  readonly slots: readonly SlotComparison[]
  readonly findings: readonly MatchFinding[]
}

export interface MatchResult {
  readonly stations: readonly StationMatch[]
  /** Found, but nothing in the plan asks for it. */
  readonly extra: readonly { readonly device: FoundDevice; readonly finding: MatchFinding }[]
  readonly matched: number
}

/** Found against planned: by name first; nameless devices by type and by how many slots agree. */
export function matchDevices(
  planned: readonly PlannedStation[],
  found: readonly FoundDevice[],
): MatchResult {
  const stations = planned.map((station) => matchStation(station, found))
  const wanted = new Set(planned.map(({ wireName }) => wireName))
  const possible = new Set(stations.flatMap(({ candidates }) => candidates.map(({ mac }) => mac)))
  const extra = found
    .filter(({ name, mac }) => (name === '' ? !possible.has(mac) : !wanted.has(name)))
    .map((device) => ({ device, finding: wordExtra(device) }))
  return {
    stations,
    extra,
    matched: stations.filter(({ state, findings }) => state === 'matched' && findings.length === 0)
      .length,
  }
}

function matchStation(station: PlannedStation, found: readonly FoundDevice[]): StationMatch {
  const holders = found.filter(({ name }) => name !== '' && name === station.wireName)
  if (holders.length > 1) {
    return {
      station,
      state: 'ambiguous',
      device: null,
      candidates: [],
      slots: [],
      findings: [wordTwice(station, holders)],
    }
  }
  const [device] = holders
  if (device) {
    const slots = isSameType(station, device) ? compareModules(station, device) : []
    return {
      station,
      state: 'matched',
      device,
      candidates: [],
      slots,
      findings: [...wordIdentity(station, device), ...wordSlots(station, slots)],
    }
  }
  const candidates = found
    .filter((candidate) => candidate.name === '' && isSameType(station, candidate))
    .sort((a, b) => agreement(station, b) - agreement(station, a))
  const finding = candidates.length > 0 ? wordNameless(station, candidates) : wordMissing(station)
  return {
    station,
    state: candidates.length > 0 ? 'candidates' : 'missing',
    device: null,
    candidates,
    slots: [],
    findings: [finding],
  }
}

function isSameType(station: PlannedStation, device: FoundDevice): boolean {
  return station.vendorId === device.vendorId && station.deviceId === device.deviceId
}

function agreement(station: PlannedStation, device: FoundDevice): number {
  return compareModules(station, device).reduce(
    (score, { state }) => score + (state === 'same' ? 1 : -1),
    0,
  )
}

/** Planned and real modules slot by slot, in slot order; two modules that took each other's place
 *  are told as swapped. */
export function compareModules(station: PlannedStation, device: FoundDevice): SlotComparison[] {
  const planned = new Map(station.modules.map((module) => [module.slot, module.ident]))
  const real = new Map(device.modules.map((module) => [module.slot, module.ident]))
  const nameOf = (ident: number | undefined) =>
    ident === undefined
      ? null
      : (station.moduleNames[ident] ?? `unknown module 0x${ident.toString(16)}`)
  const stateOf = (slot: number): SlotState => {
    const want = planned.get(slot)
    const have = real.get(slot)
    if (want === have) return 'same'
    if (want === undefined) return 'surplus'
    if (have === undefined) return 'missing'
    const partner = [...planned].some(
      ([other, ident]) => other !== slot && ident === have && real.get(other) === want,
    )
    return partner ? 'swapped' : 'wrong'
  }
  return [...new Set([...planned.keys(), ...real.keys()])]
    .sort((a, b) => a - b)
    .map((slot) => ({
      slot,
      state: stateOf(slot),
      planned: nameOf(planned.get(slot)),
      found: nameOf(real.get(slot)),
    }))
}

function wordIdentity(station: PlannedStation, device: FoundDevice): MatchFinding[] {
  const findings: MatchFinding[] = []
  if (!isSameType(station, device)) {
    findings.push({
      code: 'match.type',
      severity: 'blocker',
      message: `The device that is called ${station.name} is a ${device.typeOfStation} (vendor 0x${device.vendorId.toString(16)}, device 0x${device.deviceId.toString(16)}); planned is a ${station.type}.`,
      remedy: 'Put the planned device there, or change the head of the station on the Board.',
    })
  }
  if (device.ip !== station.ip) {
    findings.push({
      code: 'match.ip',
      severity: 'warning',
      message: `${station.name} has the address ${device.ip}; planned is ${station.ip}.`,
      remedy: 'Give it the planned address; the controller would do so at its start.',
    })
  }
  return findings
}

const slotWords: Record<
  Exclude<SlotState, 'same' | 'swapped'>,
  (station: string, slot: SlotComparison) => { message: string; remedy: string }
> = {
  wrong: (station, { slot, planned, found }) => ({
    message: `Slot ${slot} of ${station} holds ${found}; planned is ${planned}.`,
    remedy: `Plug ${planned} into slot ${slot}, or replace the module on the Board.`,
  }),
  missing: (station, { slot, planned }) => ({
    message: `Slot ${slot} of ${station} is empty; planned is ${planned}.`,
    remedy: `Plug ${planned} into slot ${slot}.`,
  }),
  surplus: (station, { slot, found }) => ({
    message: `Slot ${slot} of ${station} holds ${found}; the plan has nothing there.`,
    remedy: `Pull it, or insert ${found} on the Board.`,
  }),
}

function wordSlots({ name }: PlannedStation, slots: readonly SlotComparison[]): MatchFinding[] {
  const findings: MatchFinding[] = []
  const told = new Set<number>()
  for (const slot of slots) {
    if (slot.state === 'same' || told.has(slot.slot)) continue
    if (slot.state !== 'swapped') {
      findings.push({
        code: `match.${slot.state}`,
        severity: 'blocker',
        ...slotWords[slot.state](name, slot),
      })
      continue
    }
    const partner = slots.find(
      (other) =>
        other.slot !== slot.slot &&
        other.state === 'swapped' &&
        other.planned === slot.found &&
        other.found === slot.planned,
    )
    if (!partner) {
      findings.push({ code: 'match.wrong', severity: 'blocker', ...slotWords.wrong(name, slot) })
      continue
    }
    told.add(partner.slot)
    findings.push({
      code: 'match.swapped',
      severity: 'blocker',
      message: `Slots ${slot.slot} and ${partner.slot} of ${name} are swapped: ${slot.found} stands in ${slot.slot}, ${partner.found} in ${partner.slot}.`,
      remedy: 'Exchange the two modules, or change the order on the Board.',
    })
  }
  return findings
}

function wordNameless(station: PlannedStation, candidates: readonly FoundDevice[]): MatchFinding {
  const many = candidates.length > 1
  return {
    code: 'match.nameless',
    severity: 'blocker',
    message: `No device is called ${station.name}; ${many ? `${candidates.length} devices` : `the ${candidates[0]!.typeOfStation} at ${candidates[0]!.mac}`} of that type ${many ? 'have' : 'has'} no name yet.`,
    remedy: many
      ? 'Make them blink one after the other, then give the name to the right one.'
      : 'Make it blink to be sure, then give it the name.',
  }
}

function wordMissing(station: PlannedStation): MatchFinding {
  return {
    code: 'match.missing',
    severity: 'blocker',
    message: `${station.name} (${station.type}) does not answer.`,
    remedy: 'Check its supply and its cable, then scan again.',
  }
}

function wordTwice(station: PlannedStation, holders: readonly FoundDevice[]): MatchFinding {
  return {
    code: 'match.twice',
    severity: 'blocker',
    message: `${holders.length} devices are called ${station.name}: ${holders.map(({ mac }) => mac).join(' and ')}.`,
    remedy: 'Set all but one back to factory state, then scan again.',
  }
}

function wordExtra({ name, mac, typeOfStation }: FoundDevice): MatchFinding {
  return {
    code: 'match.extra',
    severity: 'warning',
    message: `${name === '' ? `A nameless ${typeOfStation}` : `${name} (${typeOfStation})`} at ${mac} is on the wire but not in the plan.`,
    remedy: 'Add it on the Board, or take it off the wire.',
  }
}
