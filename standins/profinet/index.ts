import {
  announcedAs,
  decodeCyclic,
  decodeDcp,
  decodeRpc,
  encodeLldp,
  rpcPort,
} from '@kataxis/core/wire/profinet'
import type { Device } from '../device'
import { present, type StandIn } from '../net'
import { answerCyclic } from './cyclic'
import { answerDcp } from './dcp'
import { answerRpc } from './rpc'

/** PROFINET devices: discovery, context management with records, cyclic data, alarms. */
export const profinet: StandIn = (net, octets, to) => {
  if (to) {
    if (to.transport !== 'udp' || to.port !== rpcPort) return []
    const call = decodeRpc(octets)
    const device = call && present(net).find(({ ip }) => ip === to.ip)
    return device ? answerRpc(net, device, call) : []
  }
  const dcp = decodeDcp(octets)
  if (!('fault' in dcp)) {
    const [nearest] = present(net)
    // Who asks hears what the device at the end of its own cable tells its neighbours.
    const told = nearest && dcp.service === 'identify' ? announcements([nearest]) : []
    return [...told, ...present(net).flatMap((device) => answerDcp(device, dcp))]
  }
  const frame = decodeCyclic(octets)
  const device = frame && present(net).find(({ mac }) => mac === frame.destination)
  return device ? answerCyclic(device, frame) : []
}

/** What every device tells its neighbours of its ports, without being asked. */
export function announcements(devices: readonly Device[]): Uint8Array[] {
  return devices.map(({ name, mac }) => encodeLldp(announcedAs(name, mac, 1, 'newer')))
}
