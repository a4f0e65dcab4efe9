import { moduleList } from '@kataxis/core'
import {
  canIds,
  canObjects,
  decodeCan,
  encodeCan,
  manageCommands,
  nodeStates,
  noObject,
  sdoFrame,
  segment,
  type CanObject,
} from '@kataxis/core/wire/can-rack'
import type { Device } from '../device'
import { present, type StandIn } from '../net'

/** What a node keeps: its state, and the object that is on its way in segments. */
interface Node {
  state: number
  sending: Uint8Array | null
  receiving: { readonly object: CanObject; readonly octets: number[] } | null
}
const nodeOf = (device: Device) =>
  (device.session ??= {
    state: nodeStates.preoperational,
    sending: null,
    receiving: null,
  } satisfies Node) as Node

/** Racks on a CAN bus: network management, object access, sign of life. */
export const canRack: StandIn = (net, octets) => {
  const frame = decodeCan(octets)
  if (!frame) return []
  const { id, data } = frame
  if (id === canIds.manage) {
    const [command = 0, node = 0] = data
    for (const device of present(net))
      if (node === 0 || node === device.number) manage(device, command)
    return []
  }
  const meant = (base: number) => present(net).find(({ number }) => id === base + number)
  const alive = data.length === 0 ? meant(canIds.alive) : undefined
  if (alive) return [encodeCan({ id, data: Uint8Array.of(nodeOf(alive).state) })]
  const asked = data.length === 8 ? meant(canIds.toServer) : undefined
  const answer = asked && answerSdo(asked, data)
  return answer ? [encodeCan({ id: canIds.fromServer + asked.number, data: answer })] : []
}

function manage(device: Device, command: number): void {
  const node = nodeOf(device)
  if (command === manageCommands.operational)
    node.state = device.isStopped ? nodeStates.stopped : nodeStates.operational
  if (command === manageCommands.stop) node.state = nodeStates.stopped
  if (command === manageCommands.preoperational) node.state = nodeStates.preoperational
}

const text = (value: string) => Uint8Array.from(value, (one) => one.charCodeAt(0) & 0x7f)

function valueOf({ is, serial, firmware, inputs }: Device, object: CanObject): Uint8Array | null {
  const isObject = (other: CanObject) =>
    other.index === object.index && other.subindex === object.subindex
  if (isObject(canObjects.name)) return text(is.identity.type)
  if (isObject(canObjects.software)) return text(firmware ?? '')
  if (isObject(canObjects.serial))
    return Uint8Array.from([0, 8, 16, 24], (shift) => (serial >>> shift) & 255)
  if (isObject(canObjects.inputs)) return inputs
  if (isObject(canObjects.modules)) return text(moduleList(is.modules))
  return null
}

function answerSdo(device: Device, request: Uint8Array): Uint8Array | null {
  const node = nodeOf(device)
  const specifier = request[0]! >> 5
  const object = { index: request[1]! + 256 * request[2]!, subindex: request[3]! }
  const size = request[4]! + 256 * request[5]! + 65_536 * request[6]! + 16_777_216 * request[7]!
  switch (specifier) {
    case 2: {
      const value = valueOf(device, object)
      if (!value) return sdoFrame(0x80, object, noObject)
      node.sending = value
      return sdoFrame(0x41, object, value.length)
    }
    case 3: {
      if (!node.sending) return null
      const part = node.sending.subarray(0, 7)
      const isLast = node.sending.length <= 7
      node.sending = isLast ? null : node.sending.subarray(7)
      return segment(0x00, (request[0]! >> 4) & 1, part, isLast)
    }
    case 1: {
      const isOutputs =
        object.index === canObjects.outputs.index && object.subindex === canObjects.outputs.subindex
      if (!isOutputs || size !== device.outputs.length) return sdoFrame(0x80, object, noObject)
      node.receiving = { object, octets: [] }
      return sdoFrame(0x60, object, 0)
    }
    case 0: {
      if (!node.receiving) return null
      const { octets } = node.receiving
      octets.push(...request.slice(1, 8 - ((request[0]! >> 1) & 7)))
      if ((request[0]! & 1) !== 0) {
        if (octets.length === device.outputs.length) device.outputs = Uint8Array.from(octets)
        node.receiving = null
      }
      return segment(0x20, (request[0]! >> 4) & 1, new Uint8Array(7), false)
    }
    default:
      return null
  }
}
