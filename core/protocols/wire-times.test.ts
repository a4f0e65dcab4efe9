// Lengths of frames against an independent protocol analyser: tshark (Debian's package `tshark`).
// It sees a frame from its first address to the last octet before the check sequence.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, test } from 'vitest'
import { writePcap } from '../rehearsal/pcap'
import { framesOf } from './ethercat/times'
import { ethernetIpTimes } from './ethernet-ip/wire-times'
import { exchangeBits } from './profibus/times'
import { realTimeFrameBytes, smallestRatio } from './profinet/times'
import type { WireStation } from './wire'

const folder = mkdtempSync(join(tmpdir(), 'kataxis-lengths-'))
afterAll(() => rmSync(folder, { recursive: true }))

/** Preamble 8, check sequence 4, gap 12 (IEEE 802.3): on the wire and not in a capture. */
const unseen = 24
const addresses = [...Array<number>(6).fill(2), ...Array<number>(6).fill(4)]
const zeros = (count: number) => Array<number>(count).fill(0)
const word = (value: number) => [value >> 8, value & 255]
const littleWord = (value: number) => [value & 255, value >> 8]

/** A cyclic frame: VLAN tag, FrameID of class 1, data, cycle counter, data and transfer status. */
const realTimeFrame = (data: number) => [
  ...addresses,
  ...[0x81, 0, 0xc0, 0, 0x88, 0x92, 0x80, 0],
  ...zeros(Math.max(40, data)),
  ...[0, 1, 0x35, 0],
]
/** One datagram LRW over a logical image. */
const etherCatFrame = (data: number) => {
  const length = 10 + data + 2
  const frame = [
    ...addresses,
    ...[0x88, 0xa4, length & 255, (length >> 8) | 0x10],
    ...[12, 1, 0, 0, 0, 0, ...littleWord(data), 0, 0],
    ...zeros(data),
    ...[0, 0],
  ]
  return [...frame, ...zeros(Math.max(0, 60 - frame.length))]
}
/** A packet of class 1: sequenced address item and connected data item over UDP, port 2222. */
const ioPacket = (data: number) => {
  const items = [
    ...[2, 0, 2, 0x80, 8, 0, ...zeros(8)],
    ...[0xb1, 0, ...littleWord(data + 2), 1, 0, ...zeros(data)],
  ]
  const udp = [...word(2222), ...word(2222), ...word(8 + items.length), 0, 0, ...items]
  const ip = [0x45, 0, ...word(20 + udp.length), 0, 1, 0, 0, 64, 17, 0, 0, 10, 0, 0, 1, 10, 0, 0, 2]
  const frame = [...addresses, 8, 0, ...ip, ...udp]
  return [...frame, ...zeros(Math.max(0, 60 - frame.length))]
}

const stationWith = (inputFrameBytes: number) =>
  ({
    id: 's',
    device: null,
    station: { name: '', connection: '', deviceNumber: 1, settings: { kind: 'ethernet-ip' } },
    modules: [],
    blocks: [],
    inputBytes: inputFrameBytes,
    outputBytes: 0,
    inputFrameBytes,
    outputFrameBytes: 0,
  }) satisfies WireStation

const cases = [
  ...[2, 40, 41, 300, 1440].map(
    (data) => ['pn_rt', data, realTimeFrame(data), realTimeFrameBytes(data)] as const,
  ),
  ...[1, 30, 200, 1486].map(
    (data) => ['ecat', data, etherCatFrame(data), framesOf(data)[0]!] as const,
  ),
  ...[4, 36, 500].map(
    (data) =>
      [
        'cipio',
        data,
        ioPacket(data),
        ethernetIpTimes.traffic({}, stationWith(data)).frameBytes.in!,
      ] as const,
  ),
]

describe('octets on the wire', () => {
  const file = join(folder, 'frames.pcap')
  writeFileSync(
    file,
    writePcap(cases.map(([, , bytes], i) => ({ timeMs: i, bytes: Uint8Array.from(bytes) }))),
  )
  const seen = execFileSync(
    'tshark',
    ['-r', file, '-T', 'fields', '-e', 'frame.len', '-e', 'frame.protocols'],
    { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] },
  )
    .trim()
    .split('\n')
    .map((row) => row.split('\t'))

  test.each(cases.map(([dissector, data, , bytes], i) => [dissector, data, bytes, i] as const))(
    '%s with %d octets of data',
    (dissector, _, bytes, i) => {
      const [length, protocols] = seen[i]!
      expect(protocols).toContain(dissector)
      expect(bytes).toBe(Number(length) + unseen)
    },
  )

  test('an image of more than one frame takes as many as it fills', () => {
    expect(framesOf(1486 * 2 + 1)).toHaveLength(3)
    expect(framesOf(0)).toEqual([])
  })
})

describe('times', () => {
  const slave = (inputBytes: number, outputBytes: number) => ({
    inputBytes,
    outputBytes,
    device: null,
  })
  // Ten stations with 4 octets in and 2 out at 1.5 Mbit/s, T_ID1 33, MaxTsdr 150: 447 bits each,
  // 2.980 ms together (worked by hand from EN 50170). The second one likewise: request 6 characters,
  // answer 9 + 16, T_SYN 33, delay 60 at 93.75 kbit/s.
  test.each([
    [1500, 4, 2, 447, 33 + 11 * 11 + 150 + 11 * 13],
    [93.75, 16, 0, 434, 33 + 11 * 6 + 60 + 11 * 25],
    [12_000, 0, 8, 1031, 33 + 11 * 17 + 800 + 11],
  ])('PROFIBUS at %d kbit/s, %d in, %d out: %d bits', (kbits, input, output, bits, sum) => {
    expect([exchangeBits(kbits, slave(input, output)), sum]).toEqual([bits, bits])
  })
  test('ten such stations take 2.980 ms', () =>
    expect((10 * exchangeBits(1500, slave(4, 2))) / 1500).toBeCloseTo(2.98, 10))

  // Update time = send clock × ratio, not below the shortest interval of the device.
  test.each([
    [1000, null, [], 1],
    [1000, 1000, [], 1],
    [1000, 2000, [], 2],
    [500, 2000, [1, 2, 4, 8], 4],
    [1000, 3000, [1, 2, 4, 8], 4],
    [1000, 9000, [1, 2, 4, 8], 8],
  ])(
    'send clock %d µs, at least %s µs: ratio %s',
    (clock, minDeviceIntervalUs, reductionRatios, ratio) =>
      expect(smallestRatio(clock, { minDeviceIntervalUs, reductionRatios })).toBe(ratio),
  )
})
