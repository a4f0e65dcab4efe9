import type { FrameLog } from '@kataxis/core'
import {
  decodeTcpUnit,
  encodeTcpUnit,
  headerOctets,
  modbusPort,
  mostPdu,
} from '@kataxis/core/wire/modbus'
import type { Device } from '../device'
import { answerPdu } from '../modbus'
import type { Net } from '../net'
import { tcpServer, type Served } from './served'

/** A Modbus TCP server for one device. A protocol identifier or length that is none ends the
 *  connection, since nobody knows where the next message would begin. */
export async function serveModbusTcp(net: Net, device: Device, log: FrameLog): Promise<Served> {
  const to = { transport: 'tcp', ip: device.ip, port: modbusPort } as const
  const add = (direction: 'sent' | 'received', octets: Uint8Array) =>
    log.add({ networkId: net.planned.id, direction, octets: octets.slice(), to, peer: device })
  const { port, close } = await tcpServer(0, (octets, socket) => {
    if (octets.length < headerOctets) return 0
    const length = octets[4]! * 256 + octets[5]!
    if (octets[2] !== 0 || octets[3] !== 0 || length < 2 || length > mostPdu + 1) return 'nonsense'
    if (octets.length < 6 + length) return 0
    const message = octets.subarray(0, 6 + length)
    const request = decodeTcpUnit(message)!
    add('sent', message)
    const answer = encodeTcpUnit({ ...request, pdu: answerPdu(device, request.pdu) })
    const send = () => {
      add('received', answer)
      socket.write(answer)
    }
    if (device.slowMs > 0) setTimeout(send, device.slowMs)
    else send()
    return message.length
  })
  return {
    ports: [{ station: device.is.name, protocol: 'modbus-tcp', port, unit: device.number }],
    close,
  }
}
