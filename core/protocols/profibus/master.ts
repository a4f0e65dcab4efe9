import { toHex } from '../../vocabulary/hex'
import {
  failed,
  faultOf,
  startedWith,
  type FoundDevice,
  type Line,
  type Master,
  type Pair,
  type StartFault,
  type Started,
  type WantedStation,
} from '../master'
import type { RealModule } from '../wire'
import { channelErrors } from '../channel-errors'
import { checkConfiguration, setPrmTelegram, userParameters, usualPrmSettings } from './set-prm'
import {
  acyclicPoint,
  decodeBus,
  decodeBusMaintenance,
  decodeDiagnosis,
  encodeBus,
  factoryAddress,
  functions,
  maintenanceCall,
  maintenanceRead,
  masterPoint,
  servicePoints,
  type BusTelegram,
} from './telegrams'

const lastAddress = 126
export const ownAddress = ({ settings }: Pick<WantedStation, 'settings'>) =>
  (settings as { masterAddress?: number }).masterAddress ?? 2

export const profibusMaster: Master = {
  identifiedBy: 'address',

  scan(line, at) {
    const from = at[0] ? ownAddress(at[0]) : 2
    return Array.from({ length: lastAddress + 1 }, (_, address) => address)
      .filter((address) => address !== from && isThere(line, from, address))
      .map((address) => found(line, from, address, at))
  },

  assign(line, device, wanted) {
    const { settings, number, identity } = wanted
    const described = wanted.view.device
    const isTaking = described && 'profibus' in described && described.profibus.takesAddressOverBus
    if (device.address !== String(factoryAddress))
      return `It has the address ${device.address} already; a bus address is written only to ${factoryAddress}.`
    if (!isTaking) return 'It takes no address over the bus; set it at the device.'
    const from = ownAddress({ settings })
    const ident = parseInt(identity.type, 16)
    send(line, from, factoryAddress, servicePoints.setAddress, [
      number,
      ident >> 8,
      ident & 0xff,
      0,
    ])
    return isThere(line, from, number) ? null : `It does not answer at ${number} afterwards.`
  },

  start: (line, pairs) => new Map(pairs.map((pair) => [pair.station.id, startSlave(line, pair)])),

  exchange: (line, pairs, outputs) =>
    new Map(
      pairs.flatMap(({ station }) => {
        const { view, number } = station
        const data = outputs.get(station.id) ?? new Uint8Array(view.outputBytes)
        const answer = exchanged(line, ownAddress(station), number, data)
        return answer?.length === view.inputBytes ? [[station.id, answer] as const] : []
      }),
    ),
}

function askBus(line: Line, telegram: BusTelegram): BusTelegram | 'acknowledge' | null {
  for (const octets of line.send(encodeBus(telegram))) {
    const answer = decodeBus(octets)
    if (answer === 'acknowledge' || (answer && answer.from === telegram.to)) return answer
  }
  return null
}

function isThere(line: Line, from: number, to: number): boolean {
  const data = new Uint8Array()
  return askBus(line, { to, from, function: functions.status, points: null, data }) !== null
}

/** A service of a slave, and the data of its answer; null where it does not answer. */
function send(
  line: Line,
  from: number,
  to: number,
  service: number,
  data: Iterable<number> = [],
): Uint8Array | null {
  const answer = askBus(line, {
    to,
    from,
    function: functions.request,
    points: { to: service, from: masterPoint },
    data: Uint8Array.from(data),
  })
  return answer === null ? null : answer === 'acknowledge' ? new Uint8Array() : answer.data
}

function exchanged(line: Line, from: number, to: number, data: Uint8Array): Uint8Array | null {
  const answer = askBus(line, { to, from, function: functions.request, points: null, data })
  if (answer === null) return null
  if (answer === 'acknowledge') return new Uint8Array()
  return answer.function === functions.notActive ? null : answer.data
}

function found(
  line: Line,
  from: number,
  address: number,
  at: readonly WantedStation[],
): FoundDevice {
  const diagnosis = decodeDiagnosis(
    send(line, from, address, servicePoints.diagnosis) ?? new Uint8Array(),
  )
  const configuration =
    send(line, from, address, servicePoints.getConfiguration) ?? new Uint8Array()
  const maintenance = maintenanceOf(line, from, address)
  const type = (diagnosis?.identNumber ?? 0).toString(16).padStart(4, '0')
  const planned = at.find(({ number, identity }) => number === address && identity.type === type)
  return {
    key: String(address),
    mac: null,
    name: null,
    address: String(address),
    type,
    typeName: '',
    firmware: maintenance?.software ?? null,
    serial: maintenance?.serial ?? null,
    modules: modulesOf(configuration, planned ?? at.find(({ identity }) => identity.type === type)),
    neighbours: [],
  }
}

/** Order, serial and software, where the device has acyclic services. */
function maintenanceOf(line: Line, from: number, to: number) {
  if (!send(line, from, to, acyclicPoint, maintenanceCall)) return null
  const record = send(line, from, to, acyclicPoint, maintenanceRead)
  return record && decodeBusMaintenance(record)
}

/** Modules by their identifiers, which travel one after the other without slots: cut where those
 *  of the plan end, and where no planned one fits, identifier by identifier. */
function modulesOf(configuration: Uint8Array, planned: WantedStation | undefined): RealModule[] {
  const known = [...new Set(planned?.modules.map(({ ident }) => ident) ?? [])]
    .filter((ident) => ident !== '')
    .sort((a, b) => b.length - a.length)
  const text = toHex(configuration, configuration.length, '')
  const head = planned?.modules.find(({ slot }) => slot === 0)
  const modules: RealModule[] = []
  let slot = head && head.ident !== '' ? 0 : 1
  for (let at = 0; at < text.length;) {
    const ident = known.find((one) => text.startsWith(one, at)) ?? identifierAt(text, at)
    modules.push({ slot: slot++, ident, submodules: [] })
    at += ident.length
  }
  return modules
}

/** One identifier: a byte, or in the special format with its length octets (IEC 61158-6-3). */
function identifierAt(text: string, at: number): string {
  const first = parseInt(text.slice(at, at + 2), 16)
  if ((first & 0x30) !== 0) return text.slice(at, at + 2)
  const lengths = (first & 0xc0) === 0xc0 ? 2 : (first & 0xc0) === 0 ? 0 : 1
  return text.slice(at, at + 2 * (1 + lengths + (first & 0x0f)))
}

/** Diagnosis, parameters, configuration, diagnosis, data: the way into data exchange. */
function startSlave(line: Line, { station }: Pair): Started {
  const { number: to, identity, view, records, settings } = station
  const from = ownAddress({ settings })
  if (!send(line, from, to, servicePoints.diagnosis))
    return failed('start.silent', `nobody answers at the bus address ${to}`)
  const user = Uint8Array.from(userParameters(records).flatMap(({ bytes }) => [...bytes]))
  const watchdogMs =
    (view.station.settings as { watchdogMs?: number }).watchdogMs ?? usualPrmSettings.watchdogMs
  send(
    line,
    from,
    to,
    servicePoints.setParameters,
    setPrmTelegram(parseInt(identity.type, 16), user, { ...usualPrmSettings, watchdogMs }),
  )
  const identifiers = checkConfiguration(station.view)
  send(line, from, to, servicePoints.checkConfiguration, identifiers)
  const octets = send(line, from, to, servicePoints.diagnosis)
  const diagnosis = octets && decodeDiagnosis(octets)
  if (!diagnosis) return failed('start.silent', 'it does not answer with its diagnosis')
  const faults: StartFault[] = []
  if (diagnosis.parameterFault)
    faults.push(faultOf('start.parameter', 'it does not take its parameters (Prm_Fault)'))
  if (diagnosis.configurationFault)
    faults.push(
      faultOf('start.configuration', 'its modules are not those it is told of (Cfg_Fault)'),
    )
  if (diagnosis.notReady && faults.length === 0)
    faults.push(faultOf('start.stopped', 'it is not ready for data (Station_Not_Ready)'))
  for (const { slot, channel, error } of diagnosis.channels)
    faults.push({
      ...faultOf('start.diagnosis', channelErrors[error] ?? `error ${error}`),
      slot,
      channel,
      error,
    })
  const said = new Set(diagnosis.channels.map(({ slot }) => slot))
  for (const slot of diagnosis.slots)
    if (!said.has(slot))
      faults.push({ ...faultOf('start.diagnosis', 'it has something to say'), slot })
  const data = exchanged(line, from, to, new Uint8Array(view.outputBytes))
  if (!data && faults.length === 0)
    faults.push(faultOf('start.noData', 'it does not exchange data'))
  return startedWith(faults)
}
