import { createSocket, type Socket as Datagrams } from 'node:dgram'
import { createServer, type Server, type Socket } from 'node:net'

/** Where a stand-in can be reached; all on 127.0.0.1. */
export interface ServedPort {
  readonly station: string
  readonly protocol: 'modbus-tcp' | 'ethernet-ip' | 'address-service'
  readonly port: number
  readonly unit: number | null
}

/** What was opened for a stand-in, and how it is closed. */
export interface Served {
  readonly ports: readonly ServedPort[]
  close(): Promise<void>
}

export const loopback = '127.0.0.1'
/** Who connects and never speaks is let go after so long. */
const silentMs = 60_000
/** Connections that one device takes at once; more are closed at once. */
const mostConnections = 200

/** A TCP server on the loopback. `take` gets what has come so far and gives how many octets it
 *  used; it is asked again while it uses some. What is no message at all ends the connection. */
export async function tcpServer(
  port: number,
  take: (octets: Uint8Array, socket: Socket) => number | 'nonsense',
): Promise<{ readonly server: Server; readonly port: number; close(): Promise<void> }> {
  const open = new Set<Socket>()
  const server = createServer((socket) => {
    if (open.size >= mostConnections) {
      socket.destroy()
      return
    }
    open.add(socket)
    socket.setTimeout(silentMs, () => socket.destroy())
    socket.on('error', () => socket.destroy())
    socket.on('close', () => open.delete(socket))
    let waiting = Buffer.alloc(0)
    socket.on('data', (chunk) => {
      waiting = Buffer.concat([waiting, chunk])
      for (;;) {
        const used = waiting.length === 0 ? 0 : take(waiting, socket)
        if (used === 'nonsense') {
          socket.destroy()
          return
        }
        if (used === 0) return
        waiting = waiting.subarray(used)
      }
    })
  })
  await new Promise<void>((done, fail) => {
    server.once('error', fail)
    server.listen(port, loopback, done)
  })
  return {
    server,
    port: (server.address() as { port: number }).port,
    close: () =>
      new Promise((done) => {
        for (const socket of open) socket.destroy()
        server.close(() => done())
      }),
  }
}

export async function udpSocket(
  port: number,
  receive: (octets: Uint8Array, from: { address: string; port: number }, socket: Datagrams) => void,
): Promise<{ readonly socket: Datagrams; readonly port: number; close(): Promise<void> }> {
  const socket = createSocket('udp4')
  socket.on('message', (octets, from) => receive(octets, from, socket))
  // What cannot be delivered any more is nobody's loss.
  socket.on('error', () => undefined)
  await new Promise<void>((done, fail) => {
    socket.once('error', fail)
    socket.bind(port, loopback, () => {
      socket.off('error', fail)
      done()
    })
  })
  return {
    socket,
    port: socket.address().port,
    close: () => new Promise((done) => socket.close(() => done())),
  }
}
