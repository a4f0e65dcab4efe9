// The frames against an independent protocol analyser: tshark, dissector pn_dcp (Debian's package
// `tshark`, installed by `npm test`). Presence, value and position of each field are asserted,
// since no error alone proves little.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { domainToASCII } from 'node:url'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { wireName } from './station-name'
import { encodeDcp, identifyMulticast, type DcpFrame } from './dcp'
import { writePcap } from '../../rehearsal/pcap'

const tool = '02:4b:41:54:00:01'
const device = '02:4b:58:00:00:03'
const frames = {
  identify: {
    destination: identifyMulticast,
    source: tool,
    service: 'identify',
    xid: 0x01020304,
    blocks: [{ kind: 'all' }],
  },
  answer: {
    destination: tool,
    source: device,
    service: 'identifyAnswer',
    xid: 0x01020304,
    blocks: [
      { kind: 'typeOfStation', text: 'QH-401' },
      { kind: 'name', name: 'intake-a' },
      { kind: 'deviceId', vendorId: 0x0f51, deviceId: 0x0401 },
      { kind: 'role', role: 1 },
      { kind: 'ip', ip: '192.168.40.11', mask: '255.255.255.0', gateway: '0.0.0.0' },
    ],
  },
  setName: {
    destination: device,
    source: tool,
    service: 'set',
    xid: 5,
    blocks: [{ kind: 'name', name: 'membrane-1' }],
  },
  setOddName: {
    destination: device,
    source: tool,
    service: 'set',
    xid: 6,
    blocks: [
      { kind: 'name', name: 'odd' },
      { kind: 'ip', ip: '10.0.0.9', mask: '255.0.0.0', gateway: '10.0.0.1' },
    ],
  },
  setIdnaName: {
    destination: device,
    source: tool,
    service: 'set',
    xid: 9,
    blocks: [{ kind: 'name', name: wireName('pümpe-1.насос') }],
  },
  blink: {
    destination: device,
    source: tool,
    service: 'set',
    xid: 7,
    blocks: [{ kind: 'signal' }],
  },
  done: {
    destination: tool,
    source: device,
    service: 'setAnswer',
    xid: 5,
    blocks: [{ kind: 'result', option: 2, suboption: 2, error: 0 }],
  },
  refused: {
    destination: tool,
    source: device,
    service: 'setAnswer',
    xid: 6,
    blocks: [{ kind: 'result', option: 2, suboption: 2, error: 5 }],
  },
  reset: {
    destination: device,
    source: tool,
    service: 'set',
    xid: 8,
    blocks: [{ kind: 'factoryReset' }],
  },
} as const satisfies Record<string, DcpFrame>
type Name = keyof typeof frames

const folder = mkdtempSync(join(tmpdir(), 'kataxis-dcp-'))
const file = join(folder, 'frames.pcap')
let packets: { _source: { layers: Record<string, unknown> } }[] = []

beforeAll(() => {
  writeFileSync(
    file,
    writePcap(
      Object.values(frames).map((frame, i) => ({ timeMs: i * 10, bytes: encodeDcp(frame) })),
    ),
  )
  packets = JSON.parse(
    execFileSync('tshark', ['-2', '-r', file, '-T', 'json', '--no-duplicate-keys', '-x'], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
      maxBuffer: 1 << 26,
    }),
  ) as typeof packets
}, 60_000)
afterAll(() => rmSync(folder, { recursive: true }))

/** Every value of a field anywhere in the dissected frame, with the octet where it stands. */
function fieldsOf(name: Name, field: string): { value: string; at: number }[] {
  const found: { value: string; at: number }[] = []
  const visit = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return
    for (const [key, value] of Object.entries(node)) {
      const raw = (node as Record<string, unknown>)[`${key}_raw`] as
        [string, number] | [string, number][] | undefined
      if (key === field && raw) {
        const values = Array.isArray(value) ? value : [value]
        const places = Array.isArray(raw[0])
          ? (raw as [string, number][])
          : [raw as [string, number]]
        values.forEach((one, i) => found.push({ value: String(one), at: places[i]![1] }))
      } else if (!key.endsWith('_raw')) visit(value)
    }
  }
  visit(packets[Object.keys(frames).indexOf(name)]!._source.layers)
  return found
}

test('the analyser sees all frames and finds nothing malformed', () => {
  expect(packets).toHaveLength(Object.keys(frames).length)
  const complaints = execFileSync(
    'tshark',
    ['-2', '-r', file, '-Y', '_ws.malformed || _ws.expert.severity>="Warning"'],
    { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] },
  )
  // An answer that says the device refused is marked by the analyser for its content, not for its
  // form.
  expect(
    complaints.split('\n').filter((line) => line.trim() !== '' && !/error/i.test(line)),
  ).toEqual([])
})

describe('reads', () => {
  test.each([
    ['identify', 'pn_rt.frame_id', '0xfefe', 14],
    ['identify', 'pn_dcp.service_id', '5', 16],
    ['identify', 'pn_dcp.service_type', '0', 17],
    ['identify', 'pn_dcp.xid', '0x01020304', 18],
    ['answer', 'pn_rt.frame_id', '0xfeff', 14],
    ['answer', 'pn_dcp.service_type', '1', 17],
    ['answer', 'pn_dcp.suboption_device_nameofstation', 'intake-a', 44],
    ['answer', 'pn_dcp.suboption_vendor_id', '0x0f51', 58],
    ['answer', 'pn_dcp.suboption_device_id', '0x0401', 60],
    ['answer', 'pn_dcp.suboption_ip_ip', '192.168.40.11', 76],
    ['answer', 'pn_dcp.suboption_ip_subnetmask', '255.255.255.0', 80],
    ['setName', 'pn_rt.frame_id', '0xfefd', 14],
    ['setName', 'pn_dcp.service_id', '4', 16],
    ['setName', 'pn_dcp.suboption_device_nameofstation', 'membrane-1', 32],
    ['setName', 'pn_dcp.block_qualifier', '1', 30],
    ['setOddName', 'pn_dcp.suboption_device_nameofstation', 'odd', 32],
    // An odd block is padded to an even length, so the next one stands at 36.
    ['setOddName', 'pn_dcp.suboption_ip_ip', '10.0.0.9', 42],
    ['setOddName', 'pn_dcp.suboption_ip_standard_gateway', '10.0.0.1', 50],
    // IDNA of both labels (RFC 3490), as the platform's own encoder says.
    ['setIdnaName', 'pn_dcp.suboption_device_nameofstation', domainToASCII('pümpe-1.насос'), 32],
    ['blink', 'pn_dcp.suboption_control_signal_value', '0x0100', 32],
    ['done', 'pn_dcp.block_error', '0', 32],
    ['refused', 'pn_dcp.block_error', '5', 32],
    ['reset', 'pn_dcp.suboption_control', '6', 27],
  ] as [Name, string, string, number][])('%s: %s = %s at octet %d', (name, field, value, at) => {
    const normal = (text: string) => (/^0x/.test(text) ? String(Number(text)) : text)
    const found = fieldsOf(name, field).map((entry) => ({ ...entry, value: normal(entry.value) }))
    expect(found).toContainEqual({ value: normal(value), at })
  })
})
