// Stand-ins on real sockets, against clients that others wrote: jsmodbus and modbus-serial (Modbus
// TCP) and st-ethernet-ip (its explicit messages; its own connection knows only the port 44818, which is
// not ours to bind), all of the registry; the address service
// against octets written by hand from RFC 2131, since a stock client would touch the machine's own
// network. Everything is bound to 127.0.0.1.
import { createSocket } from 'node:dgram'
import { connect, type Socket } from 'node:net'
import jsmodbus from 'jsmodbus'
import ModbusRTU from 'modbus-serial'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { channelsInData, derive, FrameLog, readChannel } from '@kataxis/core'
import {
  connectedData,
  decodeAnswer,
  decodeEncapsulated,
  encodeEncapsulated,
  encodeForwardOpen,
  encodeRequest,
  electronicKey,
  noContext,
  readConnectedData,
  readUnconnected,
  unconnected,
  withoutKey,
} from '@kataxis/core/wire/ethernet-ip'
import { fromHex, parseOctets } from '@kataxis/core'
import { decodeAddressMessage, encodeAddressMessage } from '@kataxis/core/wire/ip'
import { wholeDemo } from '../core/test/plans'
import { buildWorld } from './index'
import { serve } from './sockets'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const world = buildWorld(derived, [{ kind: 'missing', station: 'tank-022' }], () => null)
const log = new FrameLog()
let served: Awaited<ReturnType<typeof serve>>
beforeAll(async () => {
  served = await serve(world, log)
})
afterAll(() => served.close())

const portOf = (station: string, protocol: string) =>
  served.ports.find((one) => one.station === station && one.protocol === protocol)!.port
const tank = () => world.deviceOf('tank-021')!
const local = '127.0.0.1'

test('the ports are those of stations that are there and speak over sockets', () => {
  expect(served.ports.map(({ station, protocol }) => [station, protocol])).toEqual([
    ['ozone-pump', 'ethernet-ip'],
    ['ozone-io', 'ethernet-ip'],
    ['ozone-ports', 'ethernet-ip'],
    ['ozone-pump', 'address-service'],
    ['tank-021', 'modbus-tcp'],
  ])
})

describe('Modbus TCP', () => {
  const level = () =>
    readChannel(
      tank().inputs,
      channelsInData(tank().is.view).find(({ channel }) => channel.name === 'Level in mm')!,
    )

  test('jsmodbus reads the level that the field has, and writes the alarm', async () => {
    world.field.put(
      channelsInData(tank().is.view).find(({ channel }) => channel.name === 'Level in mm')!.signal
        .tag,
      0.5,
    )
    const socket = connect(portOf('tank-021', 'modbus-tcp'), local)
    const client = new jsmodbus.client.TCP(socket, 1)
    await new Promise((done) => socket.once('connect', done))
    const { response } = await client.readInputRegisters(0, 2)
    expect(response.body.valuesAsBuffer.readFloatBE(0)).toBeCloseTo(level(), 3)
    const alarm = Buffer.alloc(4)
    alarm.writeFloatBE(2500)
    await client.writeMultipleRegisters(10, alarm)
    expect(new DataView(tank().outputs.buffer).getFloat32(0)).toBe(2500)
    await expect(client.readHoldingRegisters(500, 2)).rejects.toMatchObject({
      response: { body: { code: 2 } },
    })
    await expect(client.readInputRegisters(0, 126)).rejects.toBeDefined()
    socket.end()
  })

  test('modbus-serial reads the same, and the device’s identification', async () => {
    const client = new ModbusRTU()
    await client.connectTCP(local, { port: portOf('tank-021', 'modbus-tcp') })
    client.setID(1)
    const { buffer } = await client.readInputRegisters(0, 2)
    expect(buffer.readFloatBE(0)).toBeCloseTo(level(), 3)
    expect((await client.readDiscreteInputs(0, 2)).data.slice(0, 2)).toEqual([false, false])
    const identity = await client.readDeviceIdentification(1, 0)
    expect(identity.data[1]).toBe('BW-TG2')
    client.close(() => undefined)
  })

  test('a protocol that is not Modbus’ ends the connection; others are served as before', async () => {
    const port = portOf('tank-021', 'modbus-tcp')
    const bad = await opened(port)
    const closed = new Promise((done) => bad.once('close', done))
    bad.write(Buffer.from('GET / HTTP/1.1\r\n\r\n'))
    await closed
    const good = await opened(port)
    // One request in three pieces, and two requests in one.
    const request = Buffer.from('000100000006010400000002', 'hex')
    good.write(request.subarray(0, 3))
    good.write(request.subarray(3, 9))
    good.write(Buffer.concat([request.subarray(9), Buffer.from('000200000006010400000002', 'hex')]))
    const answers = await received(good, 2 * 13)
    expect([answers.readUInt16BE(0), answers.readUInt16BE(13)]).toEqual([1, 2])
    good.destroy()
  })

  test('a thousand connections that never speak leave room for the next', async () => {
    const port = portOf('tank-021', 'modbus-tcp')
    const silent = await Promise.all(
      Array.from({ length: 1000 }, () => opened(port).catch(() => null)),
    )
    for (const socket of silent) socket?.destroy()
    await new Promise((done) => setTimeout(done, 100))
    const socket = await opened(port)
    socket.write(Buffer.from('000100000006010400000002', 'hex'))
    expect((await received(socket, 13)).readUInt16BE(0)).toBe(1)
    socket.destroy()
  })
})

function opened(port: number): Promise<Socket> {
  return new Promise((done, fail) => {
    const socket = connect(port, local, () => done(socket))
    socket.on('error', fail)
  })
}

function received(socket: Socket, count: number): Promise<Buffer> {
  return new Promise((done) => {
    let all = Buffer.alloc(0)
    socket.on('data', (chunk) => {
      all = Buffer.concat([all, chunk])
      if (all.length >= count) done(all)
    })
  })
}

describe('EtherNet/IP', () => {
  test('a message of an independent scanner, sent in a session, reads the identity', async () => {
    const port = portOf('ozone-io', 'ethernet-ip')
    const { session, identity } = await scanned(port)
    expect(session).toBeGreaterThan(0)
    const { 'ethernet-ip': own } = world.deviceOf('ozone-io')!.is.view.device!.identity as {
      'ethernet-ip': { vendorCode: number; productCode: number }
    }
    expect(identity.readUInt16LE(0)).toBe(own.vendorCode)
    expect(identity.readUInt16LE(4)).toBe(own.productCode)
  })

  /** By the low-level layer of the scanner, since its own connection has a fixed port. */
  async function scanned(port: number): Promise<{ session: number; identity: Buffer }> {
    const { EthernetIP } = (await import('st-ethernet-ip')) as unknown as {
      EthernetIP: {
        CIP: { MessageRouter: { build(service: number, path: Buffer, data: Buffer): Buffer } }
      }
    }
    const socket = await opened(port)
    socket.write(
      encodeEncapsulated({
        command: 0x65,
        session: 0,
        status: 0,
        context: noContext,
        data: fromHex('01000000'),
      }),
    )
    const registered = decodeEncapsulated(await received(socket, 28))!
    const message = EthernetIP.CIP.MessageRouter.build(
      1,
      Buffer.from('20012401', 'hex'),
      Buffer.alloc(0),
    )
    socket.removeAllListeners('data')
    socket.write(
      encodeEncapsulated({
        command: 0x6f,
        session: registered.session,
        status: 0,
        context: noContext,
        data: unconnected(message),
      }),
    )
    const answer = decodeEncapsulated(await received(socket, 60))!
    socket.destroy()
    return {
      session: registered.session,
      identity: Buffer.from(decodeAnswer(readUnconnected(answer.data)!)!.data),
    }
  }

  test('class 1 data come over UDP after Forward_Open, as the field has them', async () => {
    const device = world.deviceOf('ozone-io')!
    const { view } = device.is
    const connection = view.device!.connections.find(({ key }) => key === view.station.connection)!
    const own = (view.device!.identity as unknown as { 'ethernet-ip': Record<string, number> })[
      'ethernet-ip'
    ]
    const data = createSocket('udp4')
    await new Promise<void>((done) => data.bind(0, local, done))
    const socket = await opened(portOf('ozone-io', 'ethernet-ip'))
    socket.write(
      encodeEncapsulated({
        command: 0x65,
        session: 0,
        status: 0,
        context: noContext,
        data: fromHex('01000000'),
      }),
    )
    const { session } = decodeEncapsulated(await received(socket, 28))!
    socket.removeAllListeners('data')
    const message = encodeRequest(
      encodeForwardOpen({
        outputId: 0x1111,
        inputId: 0x2222,
        serial: 1,
        vendor: 1,
        originatorSerial: 1,
        multiplierStep: 0,
        outputIntervalUs: 10_000,
        inputIntervalUs: 10_000,
        outputSize: connection.outputBytes + 2 + (connection.hasRunIdleHeader ? 4 : 0),
        inputSize: connection.inputBytes + 2,
        isMulticast: false,
        path: Uint8Array.from([
          ...electronicKey({
            vendor: own['vendorCode']!,
            productType: own['productType']!,
            productCode: own['productCode']!,
            major: own['majorRevision']!,
            minor: own['minorRevision']!,
          }),
          ...withoutKey(Uint8Array.from(parseOctets(connection.path)!)),
        ]),
      }),
    )
    const items = unconnected(message)
    const { port } = data.address()
    const withPort = Uint8Array.from([
      ...items.slice(0, 6),
      3,
      0,
      ...items.slice(8),
      ...[0x01, 0x80, 16, 0, 0, 2, port >> 8, port & 255, 127, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0],
    ])
    socket.write(
      encodeEncapsulated({ command: 0x6f, session, status: 0, context: noContext, data: withPort }),
    )
    const answer = decodeEncapsulated(await received(socket, 80))!
    expect(decodeAnswer(readUnconnected(answer.data)!)!.status).toBe(0)
    device.inputs[0] = 0x5a
    const packet = await new Promise<Buffer>((done) =>
      data.on('message', (octets) => readConnectedData(octets)?.data[0] === 0x5a && done(octets)),
    )
    expect(readConnectedData(packet)).toMatchObject({ connection: 0x2222 })
    expect([...readConnectedData(packet)!.data]).toEqual([...device.inputs])
    // Outputs go to the port that the answer named.
    const target = Buffer.from(answer.data).indexOf(Buffer.from([0x00, 0x80, 16, 0]))
    const outputPort = Buffer.from(answer.data).readUInt16BE(target + 6)
    data.send(
      connectedData(
        0x1111,
        1,
        1,
        Uint8Array.from([1, 0, 0, 0, 0xa5, 0x01].slice(connection.hasRunIdleHeader ? 0 : 4)),
      ),
      outputPort,
      local,
    )
    await expect.poll(() => device.outputs[0]).toBe(0xa5)
    data.close()
    socket.destroy()
  })
})

describe('address service', () => {
  const ask = async (message: Partial<Parameters<typeof encodeAddressMessage>[0]>) => {
    const socket = createSocket('udp4')
    await new Promise<void>((done) => socket.bind(0, local, done))
    const octets = encodeAddressMessage({
      isRequest: true,
      type: 'discover',
      transaction: 7,
      mac: '02:00:00:00:00:09',
      yourIp: '0.0.0.0',
      serverIp: '0.0.0.0',
      requestedIp: null,
      mask: null,
      router: null,
      hostName: 'OD-P7-028',
      leaseSeconds: null,
      ...message,
    })
    const answer = new Promise<Buffer | null>((done) => {
      socket.once('message', done)
      setTimeout(() => done(null), 200)
    })
    socket.send(octets, portOf('ozone-pump', 'address-service'), local)
    const got = await answer
    socket.close()
    return got && decodeAddressMessage(got)
  }
  test('a role name gets its address: offered, then acknowledged', async () => {
    expect(await ask({})).toMatchObject({ type: 'offer', yourIp: '192.168.50.28', transaction: 7 })
    expect(await ask({ type: 'request', requestedIp: '192.168.50.28' })).toMatchObject({
      type: 'acknowledge',
      yourIp: '192.168.50.28',
      mask: '255.255.255.0',
    })
    expect(await ask({ type: 'request', requestedIp: '192.168.50.99' })).toMatchObject({
      type: 'refuse',
    })
  })
  test('BOOTP is answered as well, without DHCP’s options', async () => {
    expect(await ask({ type: null })).toMatchObject({ type: null, yourIp: '192.168.50.28' })
  })
  test.each(['od-p7-028', 'OD-P7-28', 'OD-P7-028 ', '', 'OD-P7-029'])(
    'the role name "%s" is another one: no answer',
    async (hostName) => {
      expect(await ask({ hostName })).toBeNull()
    },
  )
  test('octets written by hand (RFC 2131, figure 1; options of RFC 2132)', () => {
    const hand = Buffer.alloc(300)
    hand.set([1, 1, 6, 0, 0x12, 0x34, 0x56, 0x78, 0, 0, 0x80, 0])
    hand.set([2, 0, 0, 0, 0, 9], 28)
    hand.set([0x63, 0x82, 0x53, 0x63, 53, 1, 1, 12, 3, 0x41, 0x42, 0x43, 255], 236)
    expect(decodeAddressMessage(hand)).toMatchObject({
      isRequest: true,
      type: 'discover',
      transaction: 0x12345678,
      mac: '02:00:00:00:00:09',
      hostName: 'ABC',
    })
  })
})

test('what went over real sockets is in the log', () => {
  expect(log.count).toBeGreaterThan(20)
})
