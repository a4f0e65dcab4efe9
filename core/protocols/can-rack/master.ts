import { reading } from '../../vocabulary/octets'
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
  canIds,
  canObjects,
  decodeCan,
  encodeCan,
  lastNode,
  manageCommands,
  nodeStates,
  sdoFrame,
  segment,
  type CanFrame,
  type CanObject,
} from './frames'

export const canRackMaster: Master = {
  identifiedBy: 'address',

  scan: (line) =>
    Array.from({ length: lastNode }, (_, i) => i + 1).flatMap((node) => foundAt(line, node) ?? []),

  start: (line, pairs) => new Map(pairs.map((pair) => [pair.station.id, startRack(line, pair)])),

  exchange: (line, pairs, outputs) =>
    new Map(
      pairs.flatMap(({ station: { id, view, number } }) => {
        const own = outputs.get(id)
        if (own && view.outputBytes > 0) download(line, number, canObjects.outputs, own)
        const inputs =
          view.inputBytes > 0 ? upload(line, number, canObjects.inputs) : new Uint8Array()
        return inputs?.length === view.inputBytes ? [[id, inputs] as const] : []
      }),
    ),
}

function ask(line: Line, node: number, data: Uint8Array): Uint8Array | null {
  const answers = line
    .send(encodeCan({ id: canIds.toServer + node, data }))
    .map(decodeCan)
    .filter((frame): frame is CanFrame => frame?.id === canIds.fromServer + node)
  return answers[0]?.data ?? null
}

/** An object of a node, segment by segment where it is longer than four octets; null where nobody
 *  answers or there is no such object. */
function upload(line: Line, node: number, object: CanObject): Uint8Array | null {
  const first = ask(line, node, sdoFrame(0x40, object, 0))
  if (!first || first[0]! >> 5 !== 2) return null
  if ((first[0]! & 2) !== 0) return first.slice(4, 8 - ((first[0]! >> 2) & 3))
  const size = reading(first, (from) => from.skip(4).le32()) ?? 0
  const octets: number[] = []
  for (let toggle = 0; octets.length < size; toggle ^= 1) {
    const part = ask(line, node, segment(0x60, toggle, new Uint8Array(7), false))
    if (!part || part[0]! >> 5 !== 0) return null
    octets.push(...part.slice(1, 8 - ((part[0]! >> 1) & 7)))
    if ((part[0]! & 1) !== 0) break
  }
  return Uint8Array.from(octets.slice(0, size))
}

function download(line: Line, node: number, object: CanObject, data: Uint8Array): boolean {
  const first = ask(line, node, sdoFrame(0x21, object, data.length))
  if (first?.[0] !== 0x60) return false
  for (let at = 0, toggle = 0; at < data.length; at += 7, toggle ^= 1) {
    const part = data.subarray(at, at + 7)
    const answer = ask(line, node, segment(0x00, toggle, part, at + 7 >= data.length))
    if (!answer || answer[0]! >> 5 !== 1) return false
  }
  return true
}

function foundAt(line: Line, node: number): FoundDevice | null {
  const name = upload(line, node, canObjects.name)
  if (!name) return null
  const text = (octets: Uint8Array | null) => (octets ? String.fromCharCode(...octets) : '')
  const firmware = text(upload(line, node, canObjects.software))
  const serial = upload(line, node, canObjects.serial)
  return {
    key: String(node),
    mac: null,
    name: null,
    address: String(node),
    type: text(name),
    typeName: text(name).split('/').at(-1) ?? '',
    firmware: firmware === '' ? null : firmware,
    serial: serial ? String(reading(serial, (from) => from.le32()) ?? '') : null,
    modules: readModuleList(text(upload(line, node, canObjects.modules))),
    neighbours: [],
  }
}

/** Starts the node and waits for its sign of life. */
function startRack(line: Line, { station: { number, view } }: Pair): Started {
  line.send(
    encodeCan({ id: canIds.manage, data: Uint8Array.of(manageCommands.operational, number) }),
  )
  const inputs = upload(line, number, canObjects.inputs)
  if (!inputs) return failed('start.silent', `node ${number} does not answer`)
  const alive = line
    .send(encodeCan({ id: canIds.alive + number, data: new Uint8Array() }))
    .map(decodeCan)
    .find((frame) => frame?.id === canIds.alive + number && frame.data.length === 1)
  if (alive?.data[0] !== nodeStates.operational)
    return startedWith([faultOf('start.stopped', 'it does not go into operation')])
  return inputs.length === view.inputBytes
    ? startedWith([])
    : startedWith([
        faultOf(
          'start.configuration',
          `it has ${inputs.length} octets of inputs; the plan has ${view.inputBytes}`,
        ),
      ])
}
