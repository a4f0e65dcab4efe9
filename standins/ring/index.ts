import { moduleList } from '@kataxis/core'
import {
  broadcastNode,
  decodeRing,
  encodeIdentity,
  encodeRing,
  encodeSdo,
  macOfType,
  managingNode,
  messageTypes,
  pollData,
  readPollData,
  readSdo,
  readStartOfAsync,
  ringObjects,
  ringStates,
} from '@kataxis/core/wire/ring'
import type { Device } from '../device'
import { present, type StandIn } from '../net'

/** Nodes of a polled ring: they answer when the managing node lets them. */
export const ring: StandIn = (net, octets) => {
  const frame = decodeRing(octets)
  if (!frame) return []
  const meant = (node: number) => present(net).filter(({ number }) => number === node)
  switch (frame.type) {
    case messageTypes.soa: {
      const asked = readStartOfAsync(frame.body)
      return asked?.service === 1 ? meant(asked.node).map(identify) : []
    }
    case messageTypes.request: {
      const polled = readPollData(frame.body)
      const [device] = meant(frame.to)
      return polled && device ? respond(device, polled.data) : []
    }
    case messageTypes.async: {
      const [device] = meant(frame.to)
      const asked = device && readSdo(frame.body)
      return asked && !asked.isAnswer ? handOut(device, asked, frame.mac) : []
    }
    default:
      return []
  }
}

const send = (device: Device, type: number, to: number, body: Uint8Array, mac?: string) =>
  encodeRing({ type, to, from: device.number, body }, mac ?? macOfType[type]!, device.mac)

function identify(device: Device): Uint8Array {
  const body = encodeIdentity({
    state: device.isStopped ? ringStates.stopped : ringStates.op,
    vendorId: 0,
    productCode: 0,
    revision: 0,
    serial: device.serial,
    // Nodes have the address of their number (EPSG DS 301, from memory).
    ip: `192.168.100.${device.number}`,
    hostName: device.is.identity.typeName,
  })
  return send(device, messageTypes.async, broadcastNode, body)
}

function respond(device: Device, data: Uint8Array): Uint8Array[] {
  if (data.length === device.outputs.length) device.outputs = data
  const state = device.isStopped ? ringStates.stopped : ringStates.op
  const body = pollData('response', device.inputs, !device.isStopped, state)
  return [send(device, messageTypes.response, broadcastNode, body)]
}

function handOut(
  device: Device,
  { transaction, command }: { readonly transaction: number; readonly command: Uint8Array },
  mac: string,
): Uint8Array[] {
  const index = (command[0] ?? 0) + 256 * (command[1] ?? 0)
  const values: Readonly<Record<number, string>> = {
    [ringObjects.name.index]: device.is.identity.type,
    [ringObjects.software.index]: device.firmware ?? '',
    [ringObjects.modules.index]: moduleList(device.is.modules),
  }
  const value = values[index]
  if (value === undefined) return []
  const octets = Uint8Array.from(value, (one) => one.charCodeAt(0) & 0x7f)
  const body = encodeSdo('answer', transaction, { index, subindex: 0 }, octets)
  return [send(device, messageTypes.async, managingNode, body, mac)]
}
