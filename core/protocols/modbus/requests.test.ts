import { connect, createServer, Socket, type Server } from 'node:net'
import { Buffer } from 'node:buffer'
import fc from 'fast-check'
import { client as clients, ModbusTCPServer, requests } from 'jsmodbus'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import {
  gatherRequests,
  modbusLimits,
  requestPdu,
  serialTimeMs,
  type MappedValue,
  type ModbusRequest,
} from './requests'
import { modbusTableNames, modbusTables } from '../../vocabulary/modbus-table'

const value = (
  name: string,
  address: number,
  count = 1,
  table: MappedValue['table'] = 'holding-register',
  access: MappedValue['access'] = 'read',
): MappedValue => ({ name, address, count, table, access })
const short = (requestList: readonly ModbusRequest[]) =>
  requestList.map(({ functionCode, start, count }) => [functionCode, start, count])
const plain = { maxGap: 0, readsAndWrites: false }

describe('gathering values into requests', () => {
  // Limits: MODBUS Application Protocol V1.1b3, 6.1 to 6.17.
  test.each<[string, MappedValue[], { maxGap: number; readsAndWrites: boolean }, number[][]]>([
    ['neighbours travel together', [value('a', 0), value('b', 1, 2)], plain, [[3, 0, 3]]],
    [
      'a gap parts them',
      [value('a', 0), value('b', 5)],
      plain,
      [
        [3, 0, 1],
        [3, 5, 1],
      ],
    ],
    [
      'a gap that the device lets be read does not',
      [value('a', 0), value('b', 5)],
      { ...plain, maxGap: 4 },
      [[3, 0, 6]],
    ],
    [
      'nobody writes over a gap',
      [
        value('a', 0, 1, 'holding-register', 'write'),
        value('b', 2, 1, 'holding-register', 'write'),
      ],
      { ...plain, maxGap: 4 },
      [
        [6, 0, 1],
        [6, 2, 1],
      ],
    ],
    [
      '125 registers a reading',
      [value('a', 0, 126)],
      plain,
      [
        [3, 0, 125],
        [3, 125, 1],
      ],
    ],
    [
      '123 registers a writing',
      [value('a', 0, 124, 'holding-register', 'write')],
      plain,
      [
        [16, 0, 123],
        [6, 123, 1],
      ],
    ],
    [
      '2000 bits a reading',
      [value('a', 0, 2001, 'coil')],
      plain,
      [
        [1, 0, 2000],
        [1, 2000, 1],
      ],
    ],
    [
      '1968 bits a writing',
      [value('a', 0, 1969, 'coil', 'write')],
      plain,
      [
        [15, 0, 1968],
        [5, 1968, 1],
      ],
    ],
    [
      'a value is not cut where the next request takes it whole',
      [value('a', 0, 124), value('b', 124, 2)],
      plain,
      [
        [3, 0, 124],
        [3, 124, 2],
      ],
    ],
    [
      'each table by its own function',
      [
        value('a', 0, 1, 'coil'),
        value('b', 0, 1, 'discrete-input'),
        value('c', 0, 1, 'input-register'),
      ],
      plain,
      [
        [1, 0, 1],
        [2, 0, 1],
        [4, 0, 1],
      ],
    ],
    [
      'both ways in one',
      [value('a', 0, 10), value('b', 40, 4, 'holding-register', 'write')],
      { ...plain, readsAndWrites: true },
      [[23, 0, 10]],
    ],
    [
      'a writing too long for that goes by itself',
      [value('a', 0, 10), value('b', 40, 122, 'holding-register', 'write')],
      { ...plain, readsAndWrites: true },
      [
        [3, 0, 10],
        [16, 40, 122],
      ],
    ],
    [
      'read and written',
      [value('a', 7, 2, 'holding-register', 'both')],
      plain,
      [
        [3, 7, 2],
        [16, 7, 2],
      ],
    ],
    ['the same register twice', [value('a', 7, 2), value('b', 7)], plain, [[3, 7, 2]]],
  ])('%s', (_, values, options, expected) =>
    expect(short(gatherRequests(values, options))).toEqual(expected),
  )

  // Against an exact search over every way to cut a row of values into requests.
  test('as few requests as the limits allow', () => {
    const rows = fc.array(
      fc.record({ gap: fc.integer({ min: 0, max: 3 }), count: fc.integer({ min: 1, max: 60 }) }),
      { minLength: 1, maxLength: 9 },
    )
    fc.assert(
      fc.property(rows, fc.integer({ min: 0, max: 3 }), (row, maxGap) => {
        let address = 0
        const values = row.map(({ gap, count }, i) => {
          const at = address + gap
          address = at + count
          return value(`v${i}`, at, count)
        })
        const ends = (i: number) => values[i]!.address + values[i]!.count
        const fewest = (from: number): number => {
          if (from === values.length) return 0
          let best = Infinity
          for (let to = from; to < values.length; to++) {
            if (to > from && values[to]!.address - ends(to - 1) > maxGap) break
            if (ends(to) - values[from]!.address > modbusLimits.readRegisters) break
            best = Math.min(best, 1 + fewest(to + 1))
          }
          return best
        }
        const found = gatherRequests(values, { maxGap, readsAndWrites: false })
        expect(found).toHaveLength(fewest(0))
        for (const { address: at, count, name } of values)
          expect(
            found.some(
              (one) =>
                one.names.includes(name) && one.start <= at && one.start + one.count >= at + count,
            ),
          ).toBe(true)
      }),
    )
  })
})

// MODBUS over serial line V1.02, 2.5.1.1: 11 bits a character, 3.5 characters of silence, 1.75 ms
// above 19200 bit/s.
test.each([
  [9600, 'even', 1, ((3.5 * 11) / 9600) * 1000],
  [115_200, 'even', 1, 1.75],
] as const)(
  'a request at %d bit/s takes its characters and two silences',
  (baud, parity, stopBits, silenceMs) => {
    const ms = serialTimeMs(
      { requestBytes: 5, responseBytes: 7 },
      { baud, dataBits: 8, parity, stopBits },
    )
    expect(ms).toBeCloseTo((((5 + 3 + 7 + 3) * 11) / baud) * 1000 + 2 * silenceMs, 6)
  },
)

// The requests against an independent Modbus TCP server and client (the registry's jsmodbus) over
// loopback.
describe('against a real server', () => {
  let listening: Server
  let port = 0
  const size = 65_536
  beforeAll(async () => {
    listening = createServer((socket) => open.add(socket))
    new ModbusTCPServer(listening, {
      coils: Buffer.alloc(size / 8 + 1),
      discrete: Buffer.alloc(size / 8 + 1),
      holding: Buffer.alloc(size * 2),
      input: Buffer.alloc(size * 2),
    })
    await new Promise<void>((done) => listening.listen(0, '127.0.0.1', done))
    port = (listening.address() as { port: number }).port
  })
  const open = new Set<Socket>()
  afterAll(() => {
    for (const socket of open) socket.destroy()
    return new Promise((done) => listening.close(done))
  })

  /** Sends a data unit behind the header of Modbus TCP and gives the answer's (MODBUS Messaging on
   *  TCP/IP V1.0b, 3.1.3). */
  async function ask(pdu: Uint8Array): Promise<Buffer> {
    const socket = connect(port, '127.0.0.1')
    const header = Buffer.alloc(7)
    header.writeUInt16BE(77, 0)
    header.writeUInt16BE(pdu.length + 1, 4)
    header[6] = 1
    socket.write(Buffer.concat([header, pdu]))
    try {
      let answer = Buffer.alloc(0)
      for await (const chunk of socket) {
        answer = Buffer.concat([answer, chunk as Buffer])
        if (answer.length >= 7 && answer.length >= 6 + answer.readUInt16BE(4)) break
      }
      expect(answer.readUInt16BE(0)).toBe(77)
      return answer.subarray(7)
    } finally {
      socket.destroy()
    }
  }

  // Function 23 is not among those that the library knows; its sizes stand by the standard alone.
  const all = modbusTableNames.flatMap((table) =>
    [1, 7, modbusTables[table].isBit ? 2000 : 125].flatMap((count) =>
      gatherRequests(
        [value('x', 100, count, table, modbusTables[table].writeMany === null ? 'read' : 'both')],
        plain,
      ),
    ),
  )
  test.each(
    all.map(
      (request) =>
        [`${request.functionCode}: ${request.count} from ${request.start}`, request] as const,
    ),
  )('function %s is answered with as many octets as foretold', async (_, request) => {
    const pdu = requestPdu(request)
    expect(pdu).toHaveLength(request.requestBytes)
    const answer = await ask(pdu)
    expect(answer[0]).toBe(request.functionCode)
    expect(answer).toHaveLength(request.responseBytes)
  })

  // Where the library keeps the standard's limit; it lets 2000 registers be read, which the
  // standard does not.
  const registers = (count: number) =>
    new requests.WriteMultipleRegistersRequestBody(300, new Array<number>(count).fill(0))
  test.each<
    [
      string,
      MappedValue['table'],
      MappedValue['access'],
      number,
      (count: number) => { createPayload: () => Buffer },
    ]
  >([
    [
      'reading coils',
      'coil',
      'read',
      modbusLimits.readBits,
      (count) => new requests.ReadCoilsRequestBody(300, count),
    ],
    ['writing registers', 'holding-register', 'write', modbusLimits.writeRegisters, registers],
  ])(
    '%s: the library writes the same octets, and refuses one more',
    (_, table, access, most, body) => {
      const [ours] = gatherRequests([value('x', 300, most, table, access)], plain)
      expect([...requestPdu(ours!)]).toEqual([...body(most).createPayload()])
      expect(() => body(most + 1)).toThrow()
      expect(gatherRequests([value('x', 300, most + 1, table, access)], plain)).toHaveLength(2)
    },
  )

  test('the library’s client reads what our writing wrote', async () => {
    const [writing] = gatherRequests([value('x', 40, 3, 'holding-register', 'write')], plain)
    const pdu = requestPdu(writing!)
    pdu.set([0x12, 0x34, 0x56, 0x78, 0x9a, 0xbc], 6)
    await ask(pdu)
    const socket = new Socket()
    const client = new clients.TCP(socket, 1)
    await new Promise<void>((done) => socket.connect(port, '127.0.0.1', done))
    const { response } = await client.readHoldingRegisters(40, 3)
    socket.destroy()
    expect(response.body.valuesAsArray).toEqual([0x1234, 0x5678, 0x9abc])
  })
})
