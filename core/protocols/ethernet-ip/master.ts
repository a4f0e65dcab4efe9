import { parseIp } from '../../addressing/ip'
import { parseOctets } from '../../vocabulary/hex'
import { OctetWriter } from '../../vocabulary/octets'
import {
  decodeAddressMessage,
  encodeAddressMessage,
  addressServicePorts,
  type AddressMessage,
} from '../ip/address-service'
import { broadcastIp, type SocketAddress } from '../ip/packets'
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
import { readModuleList } from '../module-list'
import { roleNameOf } from '../settings'
import {
  connectedData,
  decodeEncapsulated,
  encapsulationCommands,
  encapsulationPort,
  encodeEncapsulated,
  implicitPort,
  noContext,
  readConnectedData,
  readListIdentity,
  readUnconnected,
  unconnected,
  type CipIdentity,
} from './encapsulation'
import {
  classes,
  connectionFaults,
  decodeAnswer,
  electronicKey,
  encodeForwardOpen,
  encodeRequest,
  ethernetLink,
  objectPath,
  ownClasses,
  services,
  withoutKey,
  type CipAnswer,
  type CipRequest,
} from './messages'
import { timesOfConnection } from './times'

const hex = (value: number) => value.toString(16).padStart(4, '0')
export const cipType = ({
  vendor,
  productType,
  productCode,
}: Pick<CipIdentity, 'vendor' | 'productType' | 'productCode'>) =>
  [vendor, productType, productCode].map(hex).join(':')

/** The tool as a maker and device of its own, where a connection names its originator. */
const originator = { vendor: 0xfff0, serial: 0x4b41_5458 } as const

export const ethernetIpMaster: Master = {
  identifiedBy: 'address',

  scan(line, at) {
    const answers = line.send(
      encodeEncapsulated({
        command: encapsulationCommands.listIdentity,
        session: 0,
        status: 0,
        context: noContext,
        data: new Uint8Array(),
      }),
      { transport: 'udp', ip: broadcastIp, port: encapsulationPort },
    )
    const listed = answers.flatMap((octets) => {
      const answer = decodeEncapsulated(octets)
      const identity =
        answer?.command === encapsulationCommands.listIdentity
          ? readListIdentity(answer.data)
          : null
      return identity ? [foundDevice(line, identity)] : []
    })
    return [...listed, ...waiting(line, at)]
  },

  blink: (line, { address }) =>
    address !== null &&
    explicit(line, address, {
      service: services.setOne,
      path: objectPath(ownClasses.lamp, 1, 1),
      data: Uint8Array.of(1),
    })?.status === 0,

  assign(line, device, station) {
    const { ip, mask, view } = station
    const role = roleNameOf(view.station)
    if (device.address === null) return served(line, device, { ip, mask, role })
    if (role !== '')
      return 'Its address is served: power it off and on, so that it asks for the one of its role.'
    const answer = explicit(line, device.address, {
      service: services.setOne,
      path: objectPath(classes.tcpIp, 1, 5),
      data: interfaceConfiguration(ip, mask),
    })
    if (!answer) return `${device.address} does not answer.`
    return answer.status === 0 ? null : `${device.address} refuses its new address.`
  },

  start: (line, pairs) => new Map(pairs.map((pair) => [pair.station.id, startStation(line, pair)])),

  exchange: (line, pairs, outputs) =>
    new Map(
      pairs.flatMap(({ station, index: i }) => {
        const inputs = exchanged(line, station, i, outputs.get(station.id))
        return inputs ? [[station.id, inputs] as const] : []
      }),
    ),
}

const tcp = (ip: string): SocketAddress => ({ transport: 'tcp', ip, port: encapsulationPort })

/** One explicit message in a session of its own; null where nobody answers. */
function explicit(line: Line, ip: string, request: CipRequest): CipAnswer | null {
  const ask = (command: number, session: number, data: Uint8Array) =>
    line
      .send(encodeEncapsulated({ command, session, status: 0, context: noContext, data }), tcp(ip))
      .map(decodeEncapsulated)
      .find((answer) => answer?.command === command)
  const opened = ask(encapsulationCommands.registerSession, 0, Uint8Array.of(1, 0, 0, 0))
  if (!opened || opened.status !== 0) return null
  const { session } = opened
  const answer = ask(
    encapsulationCommands.sendRequest,
    session,
    unconnected(encodeRequest(request)),
  )
  line.send(
    encodeEncapsulated({
      command: encapsulationCommands.unregisterSession,
      session,
      status: 0,
      context: noContext,
      data: new Uint8Array(),
    }),
    tcp(ip),
  )
  const message = answer && readUnconnected(answer.data)
  return message ? decodeAnswer(message) : null
}

function foundDevice(line: Line, identity: CipIdentity & { readonly ip: string }): FoundDevice {
  const modules = explicit(line, identity.ip, {
    service: services.getOne,
    path: objectPath(ownClasses.modules, 1, 1),
    data: new Uint8Array(),
  })
  const link = explicit(line, identity.ip, {
    service: services.getOne,
    path: objectPath(ethernetLink, 1, 3),
    data: new Uint8Array(),
  })
  const mac = link?.status === 0 ? macText(link.data) : null
  return {
    key: mac ?? identity.ip,
    mac,
    name: null,
    address: identity.ip,
    type: cipType(identity),
    typeName: identity.name,
    firmware: `${identity.major}.${identity.minor}`,
    serial: identity.serial.toString(16).padStart(8, '0'),
    modules: modules?.status === 0 ? readModuleList(String.fromCharCode(...modules.data)) : null,
    neighbours: [],
  }
}

const macText = (octets: Uint8Array) =>
  [...octets.subarray(0, 6)].map((octet) => octet.toString(16).padStart(2, '0')).join(':')

/** Devices that ask for an address and have none: heard by their requests. Nothing is given. */
function waiting(line: Line, at: readonly WantedStation[]): FoundDevice[] {
  return line
    .send(new Uint8Array(), { transport: 'udp', ip: broadcastIp, port: addressServicePorts.client })
    .flatMap((octets) => {
      const request = decodeAddressMessage(octets)
      if (!request?.isRequest) return []
      const type = at.find(({ view }) => roleNameOf(view.station) === request.hostName)?.identity
      return [
        {
          key: request.mac,
          mac: request.mac,
          name: null,
          address: null,
          type: type?.type ?? '',
          typeName: type?.typeName ?? '',
          firmware: null,
          serial: request.hostName,
          modules: null,
          neighbours: [],
        },
      ]
    })
}

/** Offers and acknowledges an address (RFC 2131), as the address service of the plan would. */
function served(
  line: Line,
  device: FoundDevice,
  { ip, mask, role }: { readonly ip: string; readonly mask: string; readonly role: string },
): string | null {
  const transaction = line.next()
  const message = (type: AddressMessage['type']): AddressMessage => ({
    isRequest: false,
    type,
    transaction,
    mac: device.key,
    yourIp: ip,
    serverIp: '0.0.0.0',
    requestedIp: null,
    mask,
    router: null,
    hostName: role === '' ? null : role,
    leaseSeconds: 0xffff_ffff,
  })
  const to = { transport: 'udp', ip: broadcastIp, port: addressServicePorts.client } as const
  const asked = line
    .send(encodeAddressMessage(message('offer')), to)
    .map(decodeAddressMessage)
    .find((one) => one?.type === 'request' && one.mac === device.key)
  if (asked?.requestedIp !== ip) return `${device.key} does not ask for ${ip}.`
  line.send(encodeAddressMessage(message('acknowledge')), to)
  return null
}

/** Address, mask, no gateway, no servers, no domain (CIP Vol. 2, 5-4.3, attribute 5). */
export function interfaceConfiguration(ip: string, mask: string): Uint8Array {
  return new OctetWriter()
    .le32(parseIp(ip) ?? 0)
    .le32(parseIp(mask) ?? 0)
    .zeros(12)
    .le16(0)
    .done()
}

const multiplierOf = (step: number) => 4 * 2 ** step
const sequenceOctets = 2
export const connectionIds = (i: number) => ({ output: 0x4b00_0000 + i, input: 0x4b80_0000 + i })

function startStation(line: Line, { station, index: i }: Pair): Started {
  const { view, ip } = station
  const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
  if (!connection) return failed('start.noConnection', 'no connection is chosen for it in the plan')
  const times = timesOfConnection(view.station, connection)
  const ids = connectionIds(i)
  const path = parseOctets(connection.path) ?? []
  const key = keyOf(station)
  const answer = explicit(
    line,
    ip,
    encodeForwardOpen({
      outputId: ids.output,
      inputId: ids.input,
      serial: i + 1,
      vendor: originator.vendor,
      originatorSerial: originator.serial,
      multiplierStep: stepOf(times.timeoutMultiplier ?? 4),
      outputIntervalUs: times.outputIntervalUs ?? 10_000,
      inputIntervalUs: times.inputIntervalUs ?? 10_000,
      outputSize:
        connection.outputBytes +
        sequenceOctets +
        (connection.hasRunIdleHeader && connection.outputBytes > 0 ? 4 : 0),
      inputSize: connection.inputBytes + sequenceOctets,
      isMulticast: false,
      path: key
        ? new OctetWriter()
            .bytes(key)
            .bytes(withoutKey(Uint8Array.from(path)))
            .done()
        : Uint8Array.from(path),
    }),
  )
  if (!answer) return failed('start.silent', `${ip} does not answer the request to connect`)
  if (answer.status !== 0) {
    const why = connectionFaults[answer.more[0] ?? 0]
    return failed(
      'start.refused',
      why ?? `it refuses the connection, status ${answer.status} ${hex(answer.more[0] ?? 0)}`,
    )
  }
  const faults: StartFault[] = []
  const data = exchanged(line, station, i, undefined)
  if (!data) faults.push(faultOf('start.noData', 'it sends no data on its connection'))
  return startedWith(faults)
}

function stepOf(multiplier: number): number {
  for (let step = 0; step < 8; step++) if (multiplierOf(step) >= multiplier) return step
  return 7
}

/** The electronic key that the plan asks for: maker, type, product and revision. */
function keyOf({ view: { device } }: WantedStation): Uint8Array | null {
  if (!device || !('ethernetIp' in device)) return null
  const { vendorCode, productType, productCode, majorRevision, minorRevision } =
    device.identity['ethernet-ip']
  return electronicKey({
    vendor: vendorCode,
    productType,
    productCode,
    major: majorRevision,
    minor: minorRevision,
  })
}

/** Sends the outputs on the connection and takes the inputs of the next packet. */
function exchanged(
  line: Line,
  { view, ip }: WantedStation,
  i: number,
  outputs: Uint8Array | undefined,
): Uint8Array | null {
  const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
  if (!connection) return null
  const ids = connectionIds(i)
  const count = line.next()
  const run = connection.hasRunIdleHeader && connection.outputBytes > 0 ? [1, 0, 0, 0] : []
  const data = new OctetWriter()
    .bytes(run)
    .bytes(outputs ?? new Uint8Array(connection.outputBytes))
    .done()
  const answers = line.send(connectedData(ids.output, count, count & 0xffff, data), {
    transport: 'udp',
    ip,
    port: implicitPort,
  })
  for (const octets of answers) {
    const packet = readConnectedData(octets)
    if (packet?.connection === ids.input) return packet.data
  }
  return null
}
