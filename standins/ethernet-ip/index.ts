import { connectionPoints, moduleList, parseOctets, reading, roleNameOf } from '@kataxis/core'
import {
  classes,
  connectedData,
  decodeEncapsulated,
  decodeForwardOpen,
  decodeRequest,
  encapsulationCommands,
  encapsulationPort,
  encodeAnswer,
  encodeEncapsulated,
  ethernetLink,
  forwardOpened,
  identityAttributes,
  implicitPort,
  listIdentityItem,
  objectOf,
  ownClasses,
  pathUnknown,
  readConnectedData,
  readElectronicKey,
  readUnconnected,
  serviceUnknown,
  services,
  tellsWhy,
  tooShort,
  unconnected,
  type CipIdentity,
  type CipRequest,
  type Encapsulated,
  type ForwardOpen,
} from '@kataxis/core/wire/ethernet-ip'
import {
  addressServicePorts,
  broadcastIp,
  decodeAddressMessage,
  encodeAddressMessage,
} from '@kataxis/core/wire/ip'
import { isTooSlow, type Device } from '../device'
import { present, type Net, type StandIn } from '../net'

/** What a device keeps of the connection it is in. */
interface Session {
  readonly open: ForwardOpen
  readonly outputId: number
}

/** EtherNet/IP devices: encapsulation, identity, explicit messages, one class 1 connection each,
 *  and the address service of those that have no address. */
export const ethernetIp: StandIn = (net, octets, to) => {
  if (!to) return []
  if (to.port === addressServicePorts.client) return askForAddresses(net, octets)
  const meant = present(net).filter(({ ip }) => (to.ip === broadcastIp ? ip !== '' : ip === to.ip))
  if (to.port === implicitPort)
    return meant.slice(0, 1).flatMap((device) => exchange(device, octets))
  if (to.port !== encapsulationPort) return []
  const asked = decodeEncapsulated(octets)
  return asked ? meant.flatMap((device) => answerEncapsulated(device, asked) ?? []) : []
}

const statuses = { unknownCommand: 1, wrongLength: 0x65, noSession: 0x64 } as const

/** The answer of one device; null where there is none. */
export function answerEncapsulated(device: Device, asked: Encapsulated): Uint8Array | null {
  const answer = (data: Uint8Array, more: Partial<Encapsulated> = {}) =>
    encodeEncapsulated({ ...asked, status: 0, data, ...more })
  switch (asked.command) {
    case encapsulationCommands.listIdentity:
      return answer(listIdentityItem(identityOf(device), device.ip))
    case encapsulationCommands.listServices:
      return answer(listServices)
    case encapsulationCommands.registerSession:
      return asked.data.length === 4
        ? answer(asked.data, { session: 0x4b00_0000 + (device.serial & 0xffff) })
        : answer(new Uint8Array(), { status: statuses.wrongLength })
    case encapsulationCommands.unregisterSession:
      return null
    case encapsulationCommands.sendRequest: {
      if (asked.session === 0) return answer(new Uint8Array(), { status: statuses.noSession })
      const message = readUnconnected(asked.data)
      const request = message && decodeRequest(message)
      return request
        ? answer(unconnected(answerRequest(device, request)))
        : answer(new Uint8Array(), { status: statuses.wrongLength })
    }
    default:
      return answer(new Uint8Array(), { status: statuses.unknownCommand })
  }
}

/** One service, Communications, which carries CIP over TCP and class 0 and 1 over UDP. */
const listServices = Uint8Array.from([
  ...[1, 0, 0x00, 0x01, 20, 0, 1, 0, 0x20, 0x01],
  ...Array.from('Communications\0\0', (one) => one.charCodeAt(0)),
])

function identityOf({ is, firmware, serial }: Device): CipIdentity {
  const [vendor = 0, productType = 0, productCode = 0] = is.identity.type
    .split(':')
    .map((word) => parseInt(word, 16))
  const [major = 1, minor = 1] = (firmware ?? '1.1').split('.').map(Number)
  const name = is.identity.typeName
  return { vendor, productType, productCode, major: major || 0, minor: minor || 0, serial, name }
}

const text = (value: string) => Uint8Array.from(value, (one) => one.charCodeAt(0) & 0x7f)

function answerRequest(device: Device, request: CipRequest): Uint8Array {
  const { service, path, data } = request
  const answer = (
    status: number,
    more: readonly number[] = [],
    content: Uint8Array = new Uint8Array(),
  ) => encodeAnswer({ service, status, more, data: content })
  const at = objectOf(path)
  if (!at) return answer(pathUnknown)
  if (at.classId === classes.identity && service === services.getAll)
    return answer(0, [], identityAttributes(identityOf(device)))
  if (at.classId === classes.connectionManager) {
    if (service === services.forwardOpen || service === services.largeForwardOpen)
      return opened(device, request, answer)
    if (service === services.forwardClose) {
      device.session = null
      return answer(0, [], data.slice(2, 10))
    }
    return answer(serviceUnknown)
  }
  if (service === services.getOne) {
    if (at.classId === ownClasses.modules) return answer(0, [], text(moduleList(device.is.modules)))
    if (at.classId === ethernetLink && at.attribute === 3)
      return answer(
        0,
        [],
        Uint8Array.from(device.mac.split(':'), (pair) => parseInt(pair, 16)),
      )
  }
  if (service === services.setOne) {
    if (at.classId === ownClasses.lamp) {
      device.blinks++
      return answer(0)
    }
    if (at.classId === classes.tcpIp && at.attribute === 5) {
      if (data.length < 8) return answer(tooShort)
      device.ip = dotted(data, 0)
      device.mask = dotted(data, 4)
      return answer(0)
    }
  }
  return answer(
    at.classId === classes.identity || at.classId === classes.tcpIp ? serviceUnknown : pathUnknown,
  )
}

const dotted = (data: Uint8Array, at: number) => [3, 2, 1, 0].map((i) => data[at + i]).join('.')

/** Electronic key, assemblies and sizes have to be the device's. */
function opened(
  device: Device,
  request: CipRequest,
  answer: (status: number, more?: readonly number[], content?: Uint8Array) => Uint8Array,
): Uint8Array {
  const open = decodeForwardOpen(request)
  if (!open) return answer(tooShort)
  const why = refusalOf(device, open)
  if (why !== null) return answer(tellsWhy, [why])
  const session: Session = { open, outputId: open.outputId }
  device.session = session
  return answer(0, [], forwardOpened(open, session.outputId))
}

function refusalOf(device: Device, open: ForwardOpen): number | null {
  const { view } = device.is
  const key = readElectronicKey(open.path)
  const own = identityOf(device)
  if (key && (key.vendor !== own.vendor || key.productCode !== own.productCode)) return 0x0114
  if (key && key.productType !== own.productType) return 0x0115
  if (key && (key.major !== own.major || key.minor > own.minor)) return 0x0116
  if (open.inputIntervalUs === 0 || open.outputIntervalUs === 0) return 0x0111
  const points = connectionPoints([...open.path])
    .slice(-2)
    .join()
  const connection = view.device?.connections.find(
    ({ path }) =>
      connectionPoints([...(parseOctets(path) ?? [])])
        .slice(-2)
        .join() === points,
  )
  if (!connection) return 0x0117
  const header = connection.hasRunIdleHeader && connection.outputBytes > 0 ? 4 : 0
  if (open.outputSize !== connection.outputBytes + 2 + header) return 0x0127
  if (open.inputSize !== connection.inputBytes + 2) return 0x0128
  return null
}

function exchange(device: Device, octets: Uint8Array): Uint8Array[] {
  const session = device.session as Session | null
  const packet = readConnectedData(octets)
  if (!session || !packet || packet.connection !== session.outputId) return []
  const { open } = session
  if (isTooSlow(device, open.inputIntervalUs * 4 * 2 ** open.multiplierStep)) {
    device.session = null
    return []
  }
  if (device.isStopped) return []
  const { length } = device.outputs
  device.outputs = packet.data.slice(packet.data.length - length)
  const count = octets[10]! + octets[11]! * 256
  return [connectedData(open.inputId, count, count & 0xffff, device.inputs)]
}

/** Devices without an address ask for one; an offer is asked for, an acknowledgement taken. */
function askForAddresses(net: Net, octets: Uint8Array): Uint8Array[] {
  const without = present(net).filter(({ ip }) => ip === '')
  const message = decodeAddressMessage(octets)
  if (!message) return without.map((device) => encodeAddressMessage(askedBy(device, 'discover')))
  const device = without.find(({ mac }) => mac === message.mac)
  if (!device || message.isRequest) return []
  if (message.type === 'offer')
    return [encodeAddressMessage({ ...askedBy(device, 'request'), requestedIp: message.yourIp })]
  if (message.type === 'acknowledge' || message.type === null) {
    device.ip = message.yourIp
    device.mask = message.mask ?? device.mask
  }
  return []
}

/** What a device asks with: its MAC address, and its role name as it was told. */
export function askedBy(device: Device, type: 'discover' | 'request') {
  const role = roleNameOf(device.is.view.station)
  return {
    isRequest: true,
    type,
    transaction: device.serial,
    mac: device.mac,
    yourIp: '0.0.0.0',
    serverIp: '0.0.0.0',
    requestedIp: null,
    mask: null,
    router: null,
    hostName: role === '' ? null : role,
    leaseSeconds: null,
  } as const
}

/** Socket address items: from originator to target, and the other way (CIP Vol. 2, 2-6.3.3). */
const socketItems = { toTarget: 0x8000, toOriginator: 0x8001 } as const

/** An answer with the port that the originator sends its class 1 data to. */
export function withSocketItem(answer: Uint8Array, port: number): Uint8Array {
  const encapsulated = decodeEncapsulated(answer)
  if (!encapsulated) return answer
  const { data } = encapsulated
  const item = [
    ...[socketItems.toTarget & 255, socketItems.toTarget >> 8, 16, 0, 0, 2],
    ...[port >> 8, port & 255, 127, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0],
  ]
  const more = Uint8Array.from([...data, ...item])
  more[6] = data[6]! + 1
  return encodeEncapsulated({ ...encapsulated, data: more })
}

/** The port at which the originator takes its data, where it names one. */
export function socketPortIn(data: Uint8Array): number | null {
  return reading(data, (from) => {
    from.skip(6)
    for (let items = from.le16(); items > 0; items--) {
      const type = from.le16()
      const content = from.bytes(from.le16())
      if (type === socketItems.toOriginator && content.length >= 4)
        return content[2]! * 256 + content[3]! || null
    }
    return null
  })
}
