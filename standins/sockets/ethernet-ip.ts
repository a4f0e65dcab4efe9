import type { FrameLog } from '@kataxis/core'
import {
  connectedData,
  decodeEncapsulated,
  decodeForwardOpen,
  decodeRequest,
  encapsulationCommands,
  encapsulationHeader,
  encapsulationPort,
  implicitPort,
  readConnectedData,
  readUnconnected,
  services,
  type ForwardOpen,
} from '@kataxis/core/wire/ethernet-ip'
import type { Device } from '../device'
import { answerEncapsulated, withSocketItem, socketPortIn } from '../ethernet-ip'
import type { Net } from '../net'
import { loopback, tcpServer, udpSocket, type Served } from './served'

/** A device's class 1 connection as it runs on real sockets. */
interface Running {
  readonly timer: NodeJS.Timeout
  readonly open: ForwardOpen
  lastHeard: number
}

/** Encapsulation over TCP and UDP, and class 1 data over UDP, for one device. Since all share one
 *  address here, its port for class 1 data stands in the answer to Forward_Open (socket address
 *  item); data go to the port that the originator names, else to 2222. */
export async function serveEthernetIp(net: Net, device: Device, log: FrameLog): Promise<Served> {
  let running: Running | null = null
  const record = (
    direction: 'sent' | 'received',
    octets: Uint8Array,
    transport: 'udp' | 'tcp',
    port: number,
  ) =>
    log.add({
      networkId: net.planned.id,
      direction,
      octets: octets.slice(),
      to: { transport, ip: device.ip, port },
      peer: device,
    })

  const implicit = await udpSocket(0, (octets) => {
    record('sent', octets, 'udp', implicitPort)
    const packet = readConnectedData(octets)
    if (!running || packet?.connection !== running.open.outputId) return
    running.lastHeard = Date.now()
    device.outputs = packet.data.slice(Math.max(0, packet.data.length - device.outputs.length))
  })

  const stop = () => {
    if (running) clearInterval(running.timer)
    running = null
    device.session = null
  }
  const run = (open: ForwardOpen, port: number) => {
    stop()
    let count = 0
    const everyMs = Math.max(1, open.inputIntervalUs / 1000)
    const watchdogMs = (open.outputIntervalUs / 1000) * 4 * 2 ** open.multiplierStep
    const timer = setInterval(() => {
      if (!running || device.isStopped) return
      // Who is not heard from any more has lost its connection (CIP Vol. 1, 3-4.5.1).
      if (Date.now() - running.lastHeard > Math.max(10_000, watchdogMs)) return stop()
      count++
      const data = connectedData(open.inputId, count, count & 0xffff, device.inputs)
      record('received', data, 'udp', implicitPort)
      implicit.socket.send(data, port, loopback)
    }, everyMs)
    running = { timer, open, lastHeard: Date.now() }
  }

  /** The answer to one message; a connection that it opened or closed begins or ends to run. */
  const answerTo = (octets: Uint8Array): Uint8Array | null => {
    const asked = decodeEncapsulated(octets)
    const answer = asked && answerEncapsulated(device, asked)
    if (!asked || !answer || asked.command !== encapsulationCommands.sendRequest) return answer
    const message = readUnconnected(asked.data)
    const request = message && decodeRequest(message)
    if (request?.service === services.forwardClose) stop()
    const opens =
      request?.service === services.forwardOpen || request?.service === services.largeForwardOpen
    if (!opens || device.session === null) return answer
    const open = decodeForwardOpen(request)
    if (!open) return answer
    run(open, socketPortIn(asked.data) ?? implicitPort)
    return withSocketItem(answer, implicit.port)
  }

  const tcp = await tcpServer(0, (octets, socket) => {
    if (octets.length < encapsulationHeader) return 0
    const length = encapsulationHeader + octets[2]! + octets[3]! * 256
    if (octets.length < length) return 0
    const message = octets.subarray(0, length)
    record('sent', message, 'tcp', encapsulationPort)
    const answer = answerTo(message)
    if (answer) {
      record('received', answer, 'tcp', encapsulationPort)
      socket.write(answer)
    } else if (message[0] === encapsulationCommands.unregisterSession) socket.end()
    return length
  })
  const udp = await udpSocket(tcp.port, (octets, from, socket) => {
    const asked = decodeEncapsulated(octets)
    // Over UDP only who is there is asked (CIP Vol. 2, 2-4).
    if (
      asked?.command !== encapsulationCommands.listIdentity &&
      asked?.command !== encapsulationCommands.listServices
    )
      return
    const answer = answerTo(octets)
    record('sent', octets, 'udp', encapsulationPort)
    if (!answer) return
    record('received', answer, 'udp', encapsulationPort)
    socket.send(answer, from.port, from.address)
  })
  return {
    ports: [{ station: device.is.name, protocol: 'ethernet-ip', port: tcp.port, unit: null }],
    close: async () => {
      stop()
      await Promise.all([tcp.close(), udp.close(), implicit.close()])
    },
  }
}
