// Records as they travel, against an independent protocol analyser: tshark, dissectors pn_io,
// ecat_mailbox (Debian's package `tshark`, installed by `npm test`). The frames around them are
// built here, by IEC 61158-6-10 and ETG.1000.4 (from memory); what is asserted is our octets: slot,
// index, length, the record at its place, every field of the F parameters (the analyser finds them
// by the description file), and the SDO download. It does not compute F_Par_CRC itself.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { derive, recordsOnWire } from '../derive'
import { encodeDcp } from '../protocols/profinet/dcp'
import { writePcap } from '../rehearsal'
import { failSafeParts } from '../safety'
import { wholeDemo } from '../test/plans'
import { fromHex } from '../vocabulary/hex'
import { encodePlaced, recordsOfPlaced } from './placed'
import { sdoDownload, startUpList } from '../protocols/ethercat/start-up'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const dosing = derived.stations.get('dosing-2')!
const [inputs, outputs] = failSafeParts(dosing, catalog)
/** What somebody chose in the object dictionary of an EtherCAT terminal. */
const ports = derived.stations.get('fill-ports')!
const startUp = startUpList(ports, recordsOnWire(ports, catalog))
const range = (() => {
  const view = derived.stations.get('dosing-1')!
  const module = view.modules.find(({ id }) => id === 'dosing-1.4')!
  const placed = recordsOfPlaced(
    catalog,
    view.station.file,
    module.described!,
    module.plugged,
  ).find(({ key }) => key === '1.1')!
  return encodePlaced(placed, module.row!.values['1.1']).bytes
})()

/** The connection of the ozone rack and its configuration assembly. */
const ozone = (() => {
  const { station, device: head } = derived.stations.get('ozone-io')!
  const placed = recordsOfPlaced(catalog, station.file, head!, {}).find(
    ({ record }) => record.index !== null,
  )!
  return {
    path: head!.connections.find(({ key }) => key === station.connection)!.path,
    configuration: encodePlaced(placed, { Param3: 20 }).bytes,
  }
})()

const u16 = (value: number) => [value >> 8, value & 0xff]
const u32 = (value: number) => [...u16(value >>> 16), ...u16(value & 0xffff)]
const le16 = (value: number) => u16(value).reverse()
const le32 = (value: number) => u32(value).reverse()
const mac = (text: string) => text.split(':').map((octet) => parseInt(octet, 16))
const controller = '02:4b:41:54:00:01'
const device = '02:4b:58:00:00:03'
const relation = Array.from({ length: 16 }, (_, i) => 0x10 + i)

/** An RPC request of PROFINET IO in UDP, IPv4 and Ethernet; opnum 0 connects, 3 writes. */
function request(opnum: number, blocks: number[]): Uint8Array {
  const rpc = [
    4,
    0,
    0x20,
    0,
    0x10,
    0,
    0,
    0,
    ...le32(0xdea00000),
    ...le16(0x6c97),
    ...le16(0x11d1),
    0x82,
    0x71,
    0,
    0,
    1,
    1,
    0x0f,
    0x03,
    ...le32(0xdea00001),
    ...le16(0x6c97),
    ...le16(0x11d1),
    0x82,
    0x71,
    0,
    0xa0,
    0x24,
    0x42,
    0xdf,
    0x7d,
    ...relation,
    ...le32(0),
    ...le32(1),
    ...le32(opnum),
    ...le16(opnum),
    0xff,
    0xff,
    0xff,
    0xff,
    ...le16(blocks.length + 20),
    ...le16(0),
    0,
    0,
    ...le32(blocks.length),
    ...le32(blocks.length),
    ...le32(blocks.length),
    ...le32(0),
    ...le32(blocks.length),
    ...blocks,
  ]
  // UDP source port 49153: the well-known one would be taken for a cyclic frame.
  const udp = [...u16(49_153), ...u16(34_964), ...u16(rpc.length + 8), 0, 0, ...rpc]
  const ip = [
    0x45,
    0,
    ...u16(udp.length + 20),
    0,
    1,
    0,
    0,
    64,
    17,
    0,
    0,
    192,
    168,
    41,
    1,
    192,
    168,
    41,
    12,
    ...udp,
  ]
  return Uint8Array.from([...mac(device), ...mac(controller), 0x08, 0, ...ip])
}

/** Connect: relation, both communication relations, and the expected fail-safe submodules with
 *  their data. */
function connect(): Uint8Array {
  const relationBlock = [
    ...u16(0x0101),
    ...u16(58),
    1,
    0,
    ...u16(1),
    ...relation,
    ...u16(1),
    ...mac(controller),
    ...relation,
    ...u32(0x11),
    ...u16(600),
    ...u16(0x8892),
    ...u16(4),
    0x6b,
    0x31,
    0x63,
    0x78,
  ]
  const objects = [
    [1, 1, 0],
    [2, 1, 6],
  ].flatMap((object) => object.flatMap(u16))
  const communication = (type: number, frameId: number) => [
    ...u16(0x0102),
    ...u16(42 + 4 + 2 + 12 + 2 + 12),
    1,
    0,
    ...u16(type),
    ...u16(type),
    ...u16(0x8892),
    ...u32(1),
    ...u16(40),
    ...u16(frameId),
    ...u16(32),
    ...u16(1),
    ...u16(1),
    ...u16(0),
    ...u32(0xffffffff),
    ...u16(3),
    ...u16(3),
    ...u16(0xc000),
    0,
    0,
    0,
    0,
    0,
    0,
    ...u16(1),
    ...u32(0),
    ...u16(2),
    ...objects,
    ...u16(2),
    ...objects.map((octet, i) => (i % 6 === 5 ? octet + 20 : octet)),
  ]
  const submodule = (slot: number, ident: number, input: number, output: number) => [
    ...u16(0x0104),
    ...u16(38),
    1,
    0,
    ...u16(1),
    ...u32(0),
    ...u16(slot),
    ...u32(ident),
    0,
    0,
    ...u16(1),
    ...u16(1),
    ...u32(1),
    ...u16(3),
    ...u16(1),
    ...u16(input),
    1,
    1,
    ...u16(2),
    ...u16(output),
    1,
    1,
  ]
  return request(0, [
    ...relationBlock,
    ...communication(1, 0x8001),
    ...communication(2, 0x8002),
    ...submodule(1, 0x21, 5, 4),
    ...submodule(2, 0x22, 4, 5),
  ])
}

/** IODWriteReqHeader and the record behind it. */
function write(slot: number, index: number, hex: string): Uint8Array {
  const record = [...fromHex(hex)]
  return request(3, [
    ...u16(0x0008),
    ...u16(60),
    1,
    0,
    ...u16(1),
    ...relation,
    ...u32(0),
    ...u16(slot),
    ...u16(1),
    0,
    0,
    ...u16(index),
    ...u32(record.length),
    ...Array<number>(24).fill(0),
    ...record,
  ])
}

/** A forward open of EtherNet/IP in TCP: the connection's path, and its configuration assembly as a
 *  data segment behind it (CIP Vol. 1, 3-5.5). */
function forwardOpen(path: string, configuration: string): Uint8Array {
  const data = [...fromHex(configuration)]
  if (data.length % 2 === 1) data.push(0)
  const segments = [...fromHex(path), 0x80, data.length / 2, ...data]
  const cip = [
    0x54,
    2,
    0x20,
    6,
    0x24,
    1,
    10,
    14,
    ...le32(0),
    ...le32(0x1001),
    ...le16(7),
    ...le16(0x0f01),
    ...le32(1),
    1,
    0,
    0,
    0,
    ...le32(20_000),
    ...le16(0x4000 | 6),
    ...le32(10_000),
    ...le16(0x4000 | 8),
    1,
    segments.length / 2,
    ...segments,
  ]
  const enip = [
    ...le16(0x6f),
    ...le16(cip.length + 16),
    ...le32(1),
    ...le32(0),
    ...le32(0),
    ...le32(0),
    ...le32(0),
    ...le32(0),
    ...le16(0),
    ...le16(2),
    ...le16(0),
    ...le16(0),
    ...le16(0xb2),
    ...le16(cip.length),
    ...cip,
  ]
  const tcp = [
    ...u16(50_000),
    ...u16(44_818),
    ...u32(1),
    ...u32(1),
    0x50,
    0x18,
    ...u16(8192),
    0,
    0,
    0,
    0,
    ...enip,
  ]
  const ip = [
    0x45,
    0,
    ...u16(tcp.length + 20),
    0,
    1,
    0,
    0,
    64,
    6,
    0,
    0,
    192,
    168,
    50,
    1,
    192,
    168,
    50,
    29,
    ...tcp,
  ]
  return Uint8Array.from([...mac(device), ...mac(controller), 0x08, 0, ...ip])
}

/** One datagram to the mailbox of a slave: FPWR with the mailbox header and CoE in it. */
function mailbox(coe: Uint8Array): Uint8Array {
  const data = [...le16(coe.length), ...le16(0), 0, 0x13, ...coe]
  const datagram = [
    5,
    1,
    ...le16(1001),
    ...le16(0x1000),
    ...le16(data.length),
    ...le16(0),
    ...data,
    ...le16(1),
  ]
  return Uint8Array.from([
    ...mac(device),
    ...mac(controller),
    0x88,
    0xa4,
    ...le16(0x1000 | datagram.length),
    ...datagram,
  ])
}

const frames = {
  answer: encodeDcp({
    destination: controller,
    source: device,
    service: 'identifyAnswer',
    xid: 1,
    blocks: [
      { kind: 'typeOfStation', text: 'DG' },
      { kind: 'name', name: 'dosing-2' },
      { kind: 'deviceId', vendorId: 0x0f03, deviceId: 0x0101 },
      { kind: 'role', role: 1 },
      { kind: 'ip', ip: '192.168.41.12', mask: '255.255.255.0', gateway: '0.0.0.0' },
    ],
  }),
  connect: connect(),
  inputs: write(1, 16, inputs!.bytes),
  outputs: write(2, 16, outputs!.bytes),
  range: write(4, 1, range),
  open: forwardOpen(ozone.path, ozone.configuration),
  expedited: mailbox(sdoDownload({ index: 0x8010, subindex: 6, data: '10 27' })),
  mode: mailbox(sdoDownload(startUp[0]!)),
  normal: mailbox(sdoDownload({ index: 0x1c12, subindex: 0, data: '01 02 03 04 05 06' })),
}
type Name = keyof typeof frames

const folder = mkdtempSync(join(tmpdir(), 'kataxis-records-'))
const file = join(folder, 'frames.pcap')
let packets: { _source: { layers: unknown } }[] = []

beforeAll(() => {
  const description = 'GSDML-V2.4-TarnVey-DoseGuard-20260210.xml'
  // The analyser reads description files line by line, one element a line.
  writeFileSync(
    join(folder, description),
    readFileSync(
      fileURLToPath(new URL(`../../demo/shelf/${description}`, import.meta.url)),
      'utf8',
    ).replace(/>\s*</g, '>\n<'),
  )
  writeFileSync(
    file,
    writePcap(Object.values(frames).map((bytes, i) => ({ timeMs: i * 10, bytes }))),
  )
  packets = JSON.parse(
    execFileSync(
      'tshark',
      [
        '-2',
        '-o',
        `pn_io.pnio_ps_networkpath:${folder}`,
        '-r',
        file,
        '-T',
        'json',
        '--no-duplicate-keys',
        '-x',
      ],
      { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'], maxBuffer: 1 << 26 },
    ),
  ) as typeof packets
}, 60_000)
afterAll(() => rmSync(folder, { recursive: true }))

/** Every value of a field in a frame, as a number where it is one. */
function valuesOf(name: Name, field: string): (number | string)[] {
  const found: (number | string)[] = []
  const visit = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return
    for (const [key, value] of Object.entries(node)) {
      if (key === field)
        for (const one of Array.isArray(value) ? value : [value])
          found.push(Number.isNaN(Number(one)) ? String(one) : Number(one))
      else if (!key.endsWith('_raw')) visit(value)
    }
  }
  visit(packets[Object.keys(frames).indexOf(name)]!._source.layers)
  return found
}

test('the analyser sees all frames and finds nothing malformed', () => {
  expect(packets).toHaveLength(Object.keys(frames).length)
  const malformed = execFileSync('tshark', ['-2', '-r', file, '-Y', '_ws.malformed'], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  expect(malformed.trim()).toBe('')
})

describe('reads', () => {
  test.each([
    ['inputs', 'pn_io.index', 16],
    ['inputs', 'pn_io.record_data_length', 14],
    ['outputs', 'pn_io.record_data_length', 10],
    ['inputs', 'pn_io.ps.f_prm_flag1.f_check_seqnr', 1],
    ['inputs', 'pn_io.ps.f_prm_flag1.f_check_ipar', 1],
    ['inputs', 'pn_io.ps.f_prm_flag1.f_sil', 2],
    ['inputs', 'pn_io.ps.f_prm_flag1.f_crc_len', 0],
    ['inputs', 'pn_io.ps.f_prm_flag2.f_block_id', 1],
    ['inputs', 'pn_io.ps.f_prm_flag2.f_par_version', 1],
    ['inputs', 'pn_io.ps.f_source_add', 1],
    ['inputs', 'pn_io.ps.f_dest_add', 11],
    ['inputs', 'pn_io.ps.f_wd_time', 150],
    ['inputs', 'pn_io.ps.f_ipar_crc', 2_309_737_967],
    ['inputs', 'pn_io.ps.f_par_crc', inputs!.f.parameterCrc],
    ['outputs', 'pn_io.ps.f_dest_add', 12],
    ['outputs', 'pn_io.ps.f_prm_flag2.f_block_id', 0],
    ['outputs', 'pn_io.ps.f_par_crc', outputs!.f.parameterCrc],
    ['range', 'pn_io.index', 1],
    ['range', 'pn_io.record_data_length', 66],
    ['range', 'pn_io.slot_nr', 4],
    ['open', 'cip.cm.otrpi', 20_000],
    ['open', 'cip.connpoint', Number.parseInt(/2c ([0-9a-f]{2})/.exec(ozone.path)![1]!, 16)],
    ['expedited', 'ecat_mailbox.coe.sdoidx', 0x8010],
    ['expedited', 'ecat_mailbox.coe.sdosub', 6],
    // The use of port 3 of the demo's terminal: a digital input.
    ['mode', 'ecat_mailbox.coe.sdoidx', 0x8020],
    ['mode', 'ecat_mailbox.coe.sdosub', 1],
    ['mode', 'ecat_mailbox.coe.sdodata', 1],
    ['normal', 'ecat_mailbox.coe.sdoidx', 0x1c12],
    ['normal', 'ecat_mailbox.coe.sdolength', 6],
  ] as [Name, string, number][])('%s: %s = %d', (name, field, value) =>
    expect(valuesOf(name, field)).toContain(value),
  )
})

test('the record stands behind its header as it was encoded', () => {
  expect(JSON.stringify(packets[Object.keys(frames).indexOf('open')])).toContain(
    ozone.configuration.split(' ').join(''),
  )
  // 14 Ethernet, 20 IP, 8 UDP, 80 RPC, 20 lengths, 64 header.
  for (const [name, hex] of [
    ['inputs', inputs!.bytes],
    ['outputs', outputs!.bytes],
    ['range', range],
  ] as const) {
    const record = fromHex(hex)
    const raw = JSON.stringify(packets[Object.keys(frames).indexOf(name)])
    expect(raw).toContain([...record].map((octet) => octet.toString(16).padStart(2, '0')).join(''))
    expect(frames[name].subarray(206)).toEqual(record)
  }
})
