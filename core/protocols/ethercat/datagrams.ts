import { fromHex } from '../../vocabulary/hex'
import { OctetWriter, reading } from '../../vocabulary/octets'

/** Frames of EtherCAT (ETG.1000-4, from memory). Little-endian. Checked by an independent protocol
 *  analyser. */

/** Commands: by position on the line (AP), by configured address (FP), by all (B), by logical
 *  address (L). */
export const commands = {
  APRD: 1,
  APWR: 2,
  FPRD: 4,
  FPWR: 5,
  BRD: 7,
  BWR: 8,
  LRD: 10,
  LWR: 11,
  LRW: 12,
} as const
export type EthercatCommand = keyof typeof commands

export interface Datagram {
  readonly command: EthercatCommand
  /** Position (counted down) or configured address, and the octet there; one number of 32 bits for
   *  logical addresses, in `offset`. */
  readonly address: number
  readonly offset: number
  readonly data: Uint8Array
  readonly workingCounter: number
}

const etherType = 0x88a4
const everybody = 'ff:ff:ff:ff:ff:ff'
export const masterMac = '02:4b:41:54:00:02'

export function encodeEthercat(datagrams: readonly Datagram[]): Uint8Array {
  const body = new OctetWriter()
  for (const [i, { command, address, offset, data, workingCounter }] of datagrams.entries()) {
    const more = i < datagrams.length - 1 ? 0x8000 : 0
    body.u8(commands[command], i)
    if (command.startsWith('L')) body.le32(offset)
    else body.le16(address).le16(offset)
    body
      .le16(data.length | more)
      .le16(0)
      .bytes(data)
      .le16(workingCounter)
  }
  const content = body.done()
  return new OctetWriter()
    .bytes(fromHex(everybody))
    .bytes(fromHex(masterMac))
    .u16(etherType)
    .le16(content.length | 0x1000)
    .bytes(content)
    .upTo(60)
    .done()
}

/** The datagrams of a frame; null where it is none, or cut off. */
export function decodeEthercat(bytes: Uint8Array): Datagram[] | null {
  return reading(bytes, (from) => {
    from.skip(12)
    if (from.u16() !== etherType) return null
    const header = from.le16()
    if (header >> 12 !== 1) return null
    const datagrams: Datagram[] = []
    for (let more = true; more;) {
      const number = from.u8()
      from.u8()
      const command = (Object.keys(commands) as EthercatCommand[]).find(
        (name) => commands[name] === number,
      )
      if (!command) return null
      const isLogical = command.startsWith('L')
      const address = isLogical ? 0 : from.le16()
      const offset = isLogical ? from.le32() : from.le16()
      const length = from.le16()
      from.le16()
      more = (length & 0x8000) !== 0
      const data = from.bytes(length & 0x7ff).slice()
      datagrams.push({ command, address, offset, data, workingCounter: from.le16() })
    }
    return datagrams
  })
}

/** Registers of a slave (ETG.1000-4). */
export const registers = {
  type: 0x0000,
  configuredAddress: 0x0010,
  control: 0x0120,
  status: 0x0130,
  statusCode: 0x0134,
  eepromControl: 0x0502,
  eepromData: 0x0508,
  mappings: 0x0600,
  syncManagers: 0x0800,
  mailboxOut: 0x1000,
  mailboxIn: 0x1080,
} as const

export const mappingOctets = 16
export const syncManagerOctets = 8
/** Process data have sync manager 2 outwards and 3 inwards where a slave has a mailbox. */
export const dataManagers = { out: 2, in: 3 } as const
/** Where a stand-in's process data stand in its memory. */
export const dataStarts = { out: 0x1100, in: 0x1400 } as const

/** One mapping of logical addresses to a slave's memory (FMMU). */
export interface Mapping {
  readonly logicalStart: number
  readonly bytes: number
  readonly startBit: number
  readonly endBit: number
  readonly direction: 'in' | 'out'
}

export function encodeMapping({ logicalStart, bytes, startBit, endBit, direction }: Mapping) {
  return new OctetWriter()
    .le32(logicalStart)
    .le16(bytes)
    .u8(startBit, endBit)
    .le16(dataStarts[direction])
    .u8(0, direction === 'in' ? 1 : 2, 1)
    .zeros(3)
    .done()
}

export function decodeMapping(octets: Uint8Array): Mapping | null {
  return reading(octets, (from) => {
    const [logicalStart, bytes, startBit, endBit] = [from.le32(), from.le16(), from.u8(), from.u8()]
    from.skip(3)
    const type = from.u8()
    if (from.u8() !== 1) return null
    return { logicalStart, bytes, startBit, endBit, direction: type === 1 ? 'in' : 'out' }
  })
}

/** Start, length and mode of a sync manager with process data. */
export function encodeSyncManager(direction: 'in' | 'out', bytes: number): Uint8Array {
  return new OctetWriter()
    .le16(dataStarts[direction])
    .le16(bytes)
    .u8(direction === 'in' ? 0x20 : 0x64, 0, bytes > 0 ? 1 : 0, 0)
    .done()
}

export const states = { init: 1, preop: 2, safeop: 4, op: 8 } as const
export type EthercatState = keyof typeof states
/** Added to a state that was not reached. */
export const errorFlag = 0x10

/** What a slave's status code says (ETG.1000-6, from memory). */
export const statusCodes: Readonly<Record<number, string>> = {
  0x0011: 'the state asked for cannot follow the present one',
  0x001e: 'the configuration of its inputs is not valid',
  0x001d: 'the configuration of its outputs is not valid',
  0x001b: 'its watchdog ran out',
  0x0070: 'the modules it has are not those expected',
}

/** Words of a slave's memory that say what it is (ETG.1000-6). */
export const identityWords = { vendor: 0x08, product: 0x0a, revision: 0x0c, serial: 0x0e } as const

const mailboxHeaderOctets = 6
const coeType = 3

/** A CoE message in its mailbox. */
export function mailbox(coe: Uint8Array, counter: number): Uint8Array {
  return new OctetWriter()
    .le16(coe.length)
    .le16(0)
    .u8(0, coeType | (((counter % 7) + 1) << 4))
    .bytes(coe)
    .done()
}

export function fromMailbox(octets: Uint8Array): Uint8Array | null {
  return reading(octets, (from) => {
    const length = from.le16()
    from.skip(3)
    return (from.u8() & 0x0f) === coeType && length > 0 ? from.bytes(length) : null
  })
}
export { mailboxHeaderOctets }

/** SDO upload request (ETG.1000.6). */
export function sdoUpload(index: number, subindex: number): Uint8Array {
  return new OctetWriter().le16(0x2000).u8(0x40).le16(index).u8(subindex).zeros(4).done()
}

export interface Sdo {
  readonly kind: 'upload' | 'download'
  readonly index: number
  readonly subindex: number
  readonly data: Uint8Array
}

export function decodeSdoRequest(coe: Uint8Array): Sdo | null {
  return reading(coe, (from) => {
    if (from.le16() >> 12 !== 2) return null
    const specifier = from.u8()
    const [index, subindex] = [from.le16(), from.u8()]
    if (specifier >> 5 === 2) return { kind: 'upload', index, subindex, data: new Uint8Array() }
    if (specifier >> 5 !== 1) return null
    const isExpedited = (specifier & 2) !== 0
    const count = isExpedited ? 4 - ((specifier >> 2) & 3) : from.le32()
    return { kind: 'download', index, subindex, data: from.bytes(count).slice() }
  })
}

/** The answer to an SDO request: data of an upload, nothing for a download. */
export function sdoAnswer({ kind, index, subindex }: Omit<Sdo, 'data'>, data: Uint8Array) {
  const octets = new OctetWriter().le16(0x3000)
  if (kind === 'download') return octets.u8(0x60).le16(index).u8(subindex).zeros(4).done()
  if (data.length > 0 && data.length <= 4)
    return octets
      .u8(0x43 | ((4 - data.length) << 2))
      .le16(index)
      .u8(subindex)
      .bytes(data)
      .zeros(4 - data.length)
      .done()
  return octets.u8(0x41).le16(index).u8(subindex).le32(data.length).bytes(data).done()
}

/** Why an SDO was not done (ETG.1000-6, from memory). */
export const aborts: Readonly<Record<number, string>> = {
  0x0601_0002: 'the object can only be read',
  0x0602_0000: 'the object does not exist',
  0x0607_0010: 'the length does not fit the object',
  0x0609_0030: 'the value is out of range',
}

export function sdoAbort({ index, subindex }: Pick<Sdo, 'index' | 'subindex'>, code: number) {
  return new OctetWriter().le16(0x2000).u8(0x80).le16(index).u8(subindex).le32(code).done()
}

/** Data of an SDO answer, or the code of its refusal; null where it is neither. */
export function decodeSdoAnswer(coe: Uint8Array): Uint8Array | number | null {
  return reading(coe, (from) => {
    from.le16()
    const specifier = from.u8()
    from.skip(3)
    if (specifier === 0x80) return from.le32()
    if (specifier >> 5 === 3) return new Uint8Array()
    if (specifier >> 5 !== 2) return null
    return from.bytes((specifier & 2) !== 0 ? 4 - ((specifier >> 2) & 3) : from.le32()).slice()
  })
}
