import {
  acknowledge,
  acyclicFunctions,
  acyclicPoint,
  decodeBus,
  encodeBus,
  encodeBusMaintenance,
  encodeDiagnosis,
  functions,
  servicePoints,
  type BusTelegram,
} from '@kataxis/core/wire/profibus'
import { faultyChannels, isTooSlow, type Device } from '../device'
import { present, type StandIn } from '../net'

/** What a slave keeps of its master. */
interface Session {
  master: number
  parametersTaken: boolean
  configurationTaken: boolean
  parameterFault: boolean
  configurationFault: boolean
  watchdogMs: number
}

const nobody: Session = {
  master: 255,
  parametersTaken: false,
  configurationTaken: false,
  parameterFault: false,
  configurationFault: false,
  watchdogMs: 0,
}
const sessionOf = (device: Device) => (device.session ??= { ...nobody }) as Session

/** PROFIBUS DP slaves. Two at one address answer at once: nobody understands either. */
export const profibus: StandIn = (net, octets) => {
  const telegram = decodeBus(octets)
  if (!telegram || telegram === 'acknowledge') return []
  const meant = present(net).filter(({ number }) => number === telegram.to)
  return meant.length === 1 ? answerTelegram(meant[0]!, telegram) : []
}

function answerTelegram(device: Device, telegram: BusTelegram): Uint8Array[] {
  const { to, from, points } = telegram
  const answer = (code: number, data: Uint8Array) =>
    encodeBus({
      to: from,
      from: to,
      function: code,
      points: points && { to: points.from, from: points.to },
      data,
    })
  if (telegram.function === functions.status) return [answer(functions.ok, new Uint8Array())]
  if (points === null) return exchange(device, telegram, answer)
  switch (points.to) {
    case servicePoints.diagnosis:
      return [answer(functions.data, diagnosisOf(device))]
    case servicePoints.getConfiguration:
      return [answer(functions.data, configurationOf(device))]
    case servicePoints.setParameters:
      setParameters(device, telegram)
      return [acknowledge]
    case servicePoints.checkConfiguration: {
      const session = sessionOf(device)
      session.configurationTaken = equal(telegram.data, configurationOf(device))
      session.configurationFault = !session.configurationTaken
      return [acknowledge]
    }
    case acyclicPoint:
      return [answer(functions.data, acyclic(device, telegram.data))]
    case servicePoints.setAddress:
      setAddress(device, telegram.data)
      return [acknowledge]
    default:
      return [answer(functions.notActive, new Uint8Array())]
  }
}

/** A call is taken as it comes, a read gives the record that there is. */
function acyclic({ is, serial, firmware }: Device, request: Uint8Array): Uint8Array {
  if (request[0] !== acyclicFunctions.read) return request.slice(0, 4)
  return encodeBusMaintenance({
    orderNumber: is.view.device?.orderNumber ?? is.identity.typeName,
    serial: serial.toString(16).toUpperCase(),
    software: firmware,
  })
}

const equal = (a: Uint8Array, b: Uint8Array) =>
  a.length === b.length && a.every((octet, i) => octet === b[i])

function configurationOf({ is }: Device): Uint8Array {
  const text = is.modules.map(({ ident }) => ident).join('')
  return Uint8Array.from(text.match(/../g) ?? [], (pair) => parseInt(pair, 16))
}

const identOf = ({ is }: Device) => parseInt(is.identity.type, 16)
const headerOctets = 7

/** Ident number and number of user parameters have to be right; a watchdog that is switched on has
 *  no factor 0. */
function setParameters(device: Device, { from, data }: BusTelegram): void {
  const session = sessionOf(device)
  const [status = 0, first = 0, second = 0] = data
  const ident = (data[4] ?? 0) * 256 + (data[5] ?? 0)
  const user = device.is.records
    .filter(({ record }) => record.index === null)
    .reduce((sum, { bytes }) => sum + bytes.length, 0)
  const isWatched = (status & 0x08) !== 0
  const isRight =
    data.length === headerOctets + user &&
    ident === identOf(device) &&
    !(isWatched && first * second === 0)
  session.parametersTaken = isRight
  session.parameterFault = !isRight
  session.watchdogMs = isWatched ? first * second * 10 : 0
  session.master = isRight ? from : nobody.master
}

/** Only while nobody drives it, and where its description says so. */
function setAddress(device: Device, data: Uint8Array): void {
  const { device: described } = device.is.view
  const takes = described && 'profibus' in described && described.profibus.takesAddressOverBus
  const ident = (data[1] ?? 0) * 256 + (data[2] ?? 0)
  if (!takes || ident !== identOf(device) || sessionOf(device).parametersTaken) return
  device.number = data[0]!
}

function diagnosisOf(device: Device): Uint8Array {
  const session = sessionOf(device)
  const isReady = session.parametersTaken && session.configurationTaken && !device.isStopped
  const channels = faultyChannels(device).map(({ module, number, error }) => ({
    slot: Math.max(1, module.slot),
    channel: number & 0x3f,
    error,
  }))
  return encodeDiagnosis({
    stationMissing: false,
    notReady: !isReady,
    configurationFault: session.configurationFault,
    parameterFault: session.parameterFault,
    needsParameters: !session.parametersTaken,
    watchdogOn: session.watchdogMs > 0,
    master: session.master,
    identNumber: identOf(device),
    slots: [...new Set(channels.map(({ slot }) => slot))],
    channels,
  })
}

function exchange(
  device: Device,
  { data }: BusTelegram,
  answer: (code: number, data: Uint8Array) => Uint8Array,
): Uint8Array[] {
  const session = sessionOf(device)
  const isReady = session.parametersTaken && session.configurationTaken && !device.isStopped
  if (isTooSlow(device, session.watchdogMs > 0 ? session.watchdogMs * 1000 : null)) {
    device.session = null
    return []
  }
  if (!isReady || data.length !== device.outputs.length)
    return [answer(functions.notActive, new Uint8Array())]
  device.outputs = data.slice()
  const hasNews = device.faults.length > 0
  return device.inputs.length === 0
    ? [acknowledge]
    : [answer(hasNews ? functions.diagnosisWaits : functions.data, device.inputs)]
}
