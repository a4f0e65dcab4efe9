import { OctetWriter } from '../../vocabulary/octets'
import {
  failed,
  faultOf,
  startedWith,
  type FoundDevice,
  type Line,
  type Master,
  type Pair,
  type Started,
} from '../master'
import { readModuleList } from '../module-list'
import {
  broadcastNode,
  decodeRing,
  encodeRing,
  encodeSdo,
  macOfType,
  managingNode,
  masterMac,
  messageTypes,
  pollData,
  readIdentity,
  readPollData,
  readSdo,
  ringObjects,
  ringStates,
  startOfAsync,
  type RingIdentity,
} from './frames'

const lastNode = managingNode - 1

export const ringMaster: Master = {
  identifiedBy: 'address',

  scan: (line) =>
    Array.from({ length: lastNode }, (_, i) => i + 1).flatMap((node) => {
      const answer = identified(line, node)
      return answer ? [foundAt(line, node, answer)] : []
    }),

  start: (line, pairs) => {
    startCycle(line)
    return new Map(pairs.map((pair) => [pair.station.id, startNode(line, pair)]))
  },

  exchange: (line, pairs, outputs) => {
    startCycle(line)
    return new Map(
      pairs.flatMap(({ station, device }) => {
        const { id, number, view } = station
        const data = outputs.get(id) ?? new Uint8Array(view.outputBytes)
        const polled = poll(line, number, device.mac ?? '', data)
        return polled?.isReady && polled.data.length === view.inputBytes
          ? [[id, polled.data] as const]
          : []
      }),
    )
  },
}

function startCycle(line: Line): void {
  line.send(
    encodeRing(
      {
        type: messageTypes.soc,
        to: broadcastNode,
        from: managingNode,
        body: new OctetWriter().zeros(20).done(),
      },
      macOfType[messageTypes.soc]!,
      masterMac,
    ),
  )
}

type Identified = RingIdentity & { readonly mac: string }

function identified(line: Line, node: number): Identified | null {
  for (const octets of line.send(
    encodeRing(
      {
        type: messageTypes.soa,
        to: broadcastNode,
        from: managingNode,
        body: startOfAsync('identify', node),
      },
      macOfType[messageTypes.soa]!,
      masterMac,
    ),
  )) {
    const frame = decodeRing(octets)
    const identity = frame?.type === messageTypes.async ? readIdentity(frame.body) : null
    if (frame && identity) return { ...identity, mac: frame.mac }
  }
  return null
}

function poll(line: Line, node: number, mac: string, data: Uint8Array) {
  const request = encodeRing(
    {
      type: messageTypes.request,
      to: node,
      from: managingNode,
      body: pollData('request', data, true, ringStates.op),
    },
    mac === '' ? masterMac : mac,
    masterMac,
  )
  for (const octets of line.send(request)) {
    const frame = decodeRing(octets)
    if (frame?.type === messageTypes.response && frame.from === node)
      return readPollData(frame.body)
  }
  return null
}

type RingObject = (typeof ringObjects)[keyof typeof ringObjects]

function read(line: Line, node: number, mac: string, object: RingObject): string {
  const transaction = line.next() & 0xff
  const request = encodeRing(
    {
      type: messageTypes.async,
      to: node,
      from: managingNode,
      body: encodeSdo('read', transaction, object, new Uint8Array()),
    },
    mac,
    masterMac,
  )
  for (const octets of line.send(request)) {
    const frame = decodeRing(octets)
    const answer = frame?.type === messageTypes.async ? readSdo(frame.body) : null
    if (answer?.isAnswer && answer.transaction === transaction)
      return String.fromCharCode(...answer.command)
  }
  return ''
}

function foundAt(line: Line, node: number, { mac, serial }: Identified): FoundDevice {
  const type = read(line, node, mac, ringObjects.name)
  const firmware = read(line, node, mac, ringObjects.software)
  return {
    key: String(node),
    mac,
    name: null,
    address: String(node),
    type,
    typeName: type.split('/').at(-1) ?? '',
    firmware: firmware === '' ? null : firmware,
    serial: String(serial),
    modules: readModuleList(read(line, node, mac, ringObjects.modules)),
    neighbours: [],
  }
}

function startNode(line: Line, { station: { number, view }, device }: Pair): Started {
  const polled = poll(line, number, device.mac ?? '', new Uint8Array(view.outputBytes))
  if (!polled) return failed('start.silent', `node ${number} does not answer when it is polled`)
  if (polled.state !== ringStates.op)
    return failed('start.stopped', 'it answers but is not in operation')
  return polled.data.length === view.inputBytes
    ? startedWith([])
    : startedWith([
        faultOf(
          'start.configuration',
          `it sends ${polled.data.length} octets; the plan has ${view.inputBytes}`,
        ),
      ])
}
