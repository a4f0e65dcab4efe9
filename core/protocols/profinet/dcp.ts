import { formatIp, parseIp } from '../../addressing/ip'
import { fromHex, toHex } from '../../vocabulary/hex'

/** Discovery and basic configuration protocol of PROFINET. IEC 61158-6-10 (clauses from memory);
 *  checked octet by octet against an independent protocol analyser in `dcp.analyser.test.ts`.
 *  Multi-octet values are big-endian. */

export type Mac = string

export interface IpSuite {
  readonly ip: string
  readonly mask: string
  readonly gateway: string
}

export type DcpBlock =
  | { readonly kind: 'all' }
  | { readonly kind: 'typeOfStation'; readonly text: string }
  | { readonly kind: 'name'; readonly name: string }
  | ({ readonly kind: 'ip' } & IpSuite)
  | { readonly kind: 'deviceId'; readonly vendorId: number; readonly deviceId: number }
  | { readonly kind: 'role'; readonly role: number }
  | { readonly kind: 'signal' }
  | { readonly kind: 'factoryReset' }
  | {
      readonly kind: 'result'
      readonly option: number
      readonly suboption: number
      readonly error: number
    }
  | {
      readonly kind: 'unknown'
      readonly option: number
      readonly suboption: number
      readonly bytes: readonly number[]
    }

type KnownKind = Exclude<DcpBlock['kind'], 'unknown'>
export type DcpService = 'identify' | 'identifyAnswer' | 'set' | 'setAnswer'

export interface DcpFrame {
  readonly destination: Mac
  readonly source: Mac
  readonly service: DcpService
  readonly xid: number
  readonly blocks: readonly DcpBlock[]
}

export const identifyMulticast: Mac = '01:0e:cf:00:00:00'
const etherType = 0x8892
const headerBytes = 26
const shortestFrame = 60

/** `prefix`: octets of block qualifier or block info before each block's value. */
const services: Record<
  DcpService,
  { frameId: number; serviceId: number; serviceType: number; delay: number; prefix: boolean }
> = {
  identify: { frameId: 0xfefe, serviceId: 5, serviceType: 0, delay: 1, prefix: false },
  identifyAnswer: { frameId: 0xfeff, serviceId: 5, serviceType: 1, delay: 0, prefix: true },
  set: { frameId: 0xfefd, serviceId: 4, serviceType: 0, delay: 0, prefix: true },
  setAnswer: { frameId: 0xfefd, serviceId: 4, serviceType: 1, delay: 0, prefix: false },
}

interface BlockCodec<B extends DcpBlock> {
  readonly option: number
  readonly suboption: number
  readonly encode: (block: B) => number[]
  readonly decode: (bytes: readonly number[]) => B | null
  /** Block info in an answer: for addresses 1 says that one is set. */
  readonly info?: (block: B) => number
  /** Block qualifier in a request; 1 keeps the value over a restart. */
  readonly qualifier?: number
}

const blocks: { [K in KnownKind]: BlockCodec<Extract<DcpBlock, { kind: K }>> } = {
  all: { option: 0xff, suboption: 0xff, encode: () => [], decode: () => ({ kind: 'all' }) },
  typeOfStation: {
    option: 2,
    suboption: 1,
    encode: ({ text }) => ascii(text),
    decode: (bytes) => ({ kind: 'typeOfStation', text: text(bytes) }),
  },
  name: {
    option: 2,
    suboption: 2,
    encode: ({ name }) => ascii(name),
    decode: (bytes) => ({ kind: 'name', name: text(bytes) }),
    qualifier: 1,
  },
  deviceId: {
    option: 2,
    suboption: 3,
    encode: ({ vendorId, deviceId }) => [...u16(vendorId), ...u16(deviceId)],
    decode: (bytes) =>
      bytes.length < 4
        ? null
        : {
            kind: 'deviceId',
            vendorId: bytes[0]! * 256 + bytes[1]!,
            deviceId: bytes[2]! * 256 + bytes[3]!,
          },
  },
  role: {
    option: 2,
    suboption: 4,
    encode: ({ role }) => [role, 0],
    decode: (bytes) => (bytes.length < 1 ? null : { kind: 'role', role: bytes[0]! }),
  },
  ip: {
    option: 1,
    suboption: 2,
    encode: ({ ip, mask, gateway }) => [ip, mask, gateway].flatMap(octetsOf),
    decode: (bytes) =>
      bytes.length < 12
        ? null
        : { kind: 'ip', ip: dotted(bytes, 0), mask: dotted(bytes, 4), gateway: dotted(bytes, 8) },
    info: ({ ip }) => Number(ip !== '0.0.0.0'),
    qualifier: 1,
  },
  // Flash once, the only value there is.
  signal: {
    option: 5,
    suboption: 3,
    encode: () => [0x01, 0x00],
    decode: () => ({ kind: 'signal' }),
  },
  // Qualifier 2 × mode 2: reset communication parameters.
  factoryReset: {
    option: 5,
    suboption: 6,
    encode: () => [],
    decode: () => ({ kind: 'factoryReset' }),
    qualifier: 4,
  },
  result: {
    option: 5,
    suboption: 4,
    encode: ({ option, suboption, error }) => [option, suboption, error],
    decode: ([option, suboption, error]) =>
      error === undefined
        ? null
        : { kind: 'result', option: option!, suboption: suboption!, error },
  },
}

/** What a set answer's error octet means. */
export const dcpErrors: Readonly<Record<number, string>> = {
  0: 'done',
  1: 'the device does not know this option',
  2: 'the device does not know this setting',
  3: 'the setting was not made',
  4: 'the device has no room for it',
  5: 'the device cannot do it now for a local reason',
  6: 'the device is in operation',
}

export function blockCode(kind: KnownKind): { option: number; suboption: number } {
  const { option, suboption } = blocks[kind]
  return { option, suboption }
}

/** The frame from destination address to padding, without check sequence. */
export function encodeDcp({
  destination,
  source,
  service,
  xid,
  blocks: content,
}: DcpFrame): Uint8Array {
  const { frameId, serviceId, serviceType, delay, prefix } = services[service]
  const body = content.flatMap((block) => encodeBlock(block, service, prefix))
  const frame = [
    ...macOctets(destination),
    ...macOctets(source),
    ...u16(etherType),
    ...u16(frameId),
    serviceId,
    serviceType,
    ...u32(xid),
    ...u16(delay),
    ...u16(body.length),
    ...body,
  ]
  return Uint8Array.from({ length: Math.max(shortestFrame, frame.length) }, (_, i) => frame[i] ?? 0)
}

function encodeBlock(block: DcpBlock, service: DcpService, prefix: boolean): number[] {
  const codec = block.kind === 'unknown' ? null : (blocks[block.kind] as BlockCodec<DcpBlock>)
  const { option, suboption } = block.kind === 'unknown' ? block : codec!
  const value = block.kind === 'unknown' ? [...block.bytes] : codec!.encode(block)
  const before = prefix
    ? u16((service === 'set' ? codec?.qualifier : codec?.info?.(block)) ?? 0)
    : []
  const content = [...before, ...value]
  return [option, suboption, ...u16(content.length), ...content, ...(content.length % 2 ? [0] : [])]
}

/** Reads a frame; a sentence where it is no whole DCP frame. */
export function decodeDcp(frame: Uint8Array): DcpFrame | { fault: string } {
  if (frame.length < headerBytes)
    return {
      fault: `The frame has ${frame.length} octets; a DCP frame has at least ${headerBytes}.`,
    }
  const at16 = (at: number) => frame[at]! * 256 + frame[at + 1]!
  if (at16(12) !== etherType)
    return { fault: `EtherType 0x${at16(12).toString(16)} is not PROFINET's 0x8892.` }
  const found = Object.entries(services).find(
    ([, { frameId, serviceId, serviceType }]) =>
      frameId === at16(14) && serviceId === frame[16] && serviceType === frame[17],
  )
  if (!found)
    return {
      fault: `Frame 0x${at16(14).toString(16)} with service ${frame[16]} and type ${frame[17]} is none that is known here.`,
    }
  const [service, { prefix }] = found as [DcpService, (typeof services)[DcpService]]
  const end = headerBytes + at16(24)
  if (end > frame.length)
    return {
      fault: `The frame says ${at16(24)} octets of blocks but ends after ${frame.length - headerBytes}.`,
    }
  const content: DcpBlock[] = []
  for (let at = headerBytes; at < end;) {
    const length = at16(at + 2)
    const from = at + 4 + (prefix ? 2 : 0)
    const to = at + 4 + length
    if (to > end || from > to) return { fault: `The block at octet ${at} is cut off.` }
    content.push(decodeBlock(frame[at]!, frame[at + 1]!, [...frame.subarray(from, to)]))
    at = to + (length % 2)
  }
  const xid = at16(18) * 65_536 + at16(20)
  return {
    destination: macText(frame, 0),
    source: macText(frame, 6),
    service,
    xid,
    blocks: content,
  }
}

function decodeBlock(option: number, suboption: number, bytes: readonly number[]): DcpBlock {
  const codec = Object.values(blocks).find(
    (candidate) => candidate.option === option && candidate.suboption === suboption,
  )
  return codec?.decode(bytes) ?? { kind: 'unknown', option, suboption, bytes }
}

export function blockOf<K extends DcpBlock['kind']>(
  frame: DcpFrame,
  kind: K,
): Extract<DcpBlock, { kind: K }> | null {
  return (
    (frame.blocks.find((block) => block.kind === kind) as
      Extract<DcpBlock, { kind: K }> | undefined) ?? null
  )
}

function u16(value: number): number[] {
  return [(value >> 8) & 0xff, value & 0xff]
}

function u32(value: number): number[] {
  return [...u16(value >>> 16), ...u16(value & 0xffff)]
}

function ascii(value: string): number[] {
  return Array.from(value, (character) => character.charCodeAt(0) & 0x7f)
}

function text(bytes: readonly number[]): string {
  return String.fromCharCode(...bytes)
}

function octetsOf(ip: string): number[] {
  return u32(parseIp(ip) ?? 0)
}

function dotted(bytes: readonly number[], at: number): string {
  return formatIp(bytes.slice(at, at + 4).reduce((value, octet) => value * 256 + octet, 0))
}

function macOctets(mac: Mac): number[] {
  return [...fromHex(mac)]
}

function macText(frame: Uint8Array, at: number): Mac {
  return toHex(frame.subarray(at, at + 6), 6, ':')
}
