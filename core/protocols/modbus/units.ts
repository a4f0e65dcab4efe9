import { OctetWriter, reading } from '../../vocabulary/octets'

/** Protocol data units in their two wrappings (MODBUS over serial line V1.02; MODBUS Messaging on
 *  TCP/IP V1.0b). */

export const modbusPort = 502
export const headerOctets = 7
/** Most octets of a protocol data unit (MODBUS Application Protocol V1.1b3, 4.1). */
export const mostPdu = 253

export interface TcpUnit {
  readonly transaction: number
  readonly unit: number
  readonly pdu: Uint8Array
}

export function encodeTcpUnit({ transaction, unit, pdu }: TcpUnit): Uint8Array {
  return new OctetWriter()
    .u16(transaction)
    .u16(0)
    .u16(pdu.length + 1)
    .u8(unit)
    .bytes(pdu)
    .done()
}

/** The unit; null where protocol or length are not Modbus'. */
export function decodeTcpUnit(bytes: Uint8Array): TcpUnit | null {
  return reading(bytes, (from) => {
    const transaction = from.u16()
    const protocol = from.u16()
    const length = from.u16()
    if (protocol !== 0 || length < 2 || length > mostPdu + 1) return null
    const unit = from.u8()
    return { transaction, unit, pdu: from.bytes(length - 1).slice() }
  })
}

/** Units of a serial line are 1 to 247; larger numbers of the plan begin again. */
export const serialUnit = (number: number) =>
  number >= 1 && number <= 247 ? number : ((number + 246) % 247) + 1

/** CRC-16 of the serial line, low octet first: 4B37 over `123456789`. */
export function crc16(octets: Uint8Array): number {
  let crc = 0xffff
  for (const octet of octets) {
    crc ^= octet
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >> 1) ^ 0xa001 : crc >> 1
  }
  return crc
}

export function encodeSerialUnit(unit: number, pdu: Uint8Array): Uint8Array {
  const content = new OctetWriter().u8(unit).bytes(pdu).done()
  return new OctetWriter().bytes(content).le16(crc16(content)).done()
}

export function decodeSerialUnit(
  bytes: Uint8Array,
): { readonly unit: number; readonly pdu: Uint8Array } | null {
  if (bytes.length < 4) return null
  const content = bytes.subarray(0, -2)
  const sum = bytes.at(-2)! + 256 * bytes.at(-1)!
  return sum === crc16(content) ? { unit: content[0]!, pdu: content.slice(1) } : null
}

export const exceptions = {
  illegalFunction: 1,
  illegalAddress: 2,
  illegalValue: 3,
  deviceFailure: 4,
} as const
export const exceptionWords: Readonly<Record<number, string>> = {
  1: 'it does not know this function',
  2: 'it has no such register',
  3: 'it does not take this value or count',
  4: 'it failed',
}

export function exceptionPdu(functionCode: number, code: number): Uint8Array {
  return Uint8Array.of(functionCode | 0x80, code)
}

/** Read device identification, function 43 / 14, from one object on (6.21). */
export function identificationRequest(object = 0, isExtended = false): Uint8Array {
  return Uint8Array.of(0x2b, 0x0e, isExtended ? 3 : 1, object)
}

/** Objects by number: 0 maker, 1 product, 2 revision; 0x80 and on are the maker's own. */
export type Identification = ReadonlyMap<number, string>

export function identificationAnswer(
  objects: Identification,
  first: number,
  isExtended: boolean,
): Uint8Array {
  const wanted = [...objects].filter(([id]) => id >= first && (isExtended ? id >= 0x80 : id < 3))
  const body = new OctetWriter()
  let count = 0
  let next = 0
  for (const [id, text] of wanted) {
    const value = text.slice(0, 200)
    if (body.length + value.length + 2 > mostPdu - 7) {
      next = id
      break
    }
    body.u8(id, value.length).ascii(value)
    count++
  }
  return new OctetWriter()
    .u8(0x2b, 0x0e, isExtended ? 3 : 1, isExtended ? 0x83 : 0x81)
    .u8(next === 0 ? 0 : 0xff, next, count)
    .bytes(body.done())
    .done()
}

/** Objects of an answer, and the object to ask for next; 0: that was all. */
export function readIdentification(
  pdu: Uint8Array,
): { readonly objects: Identification; readonly next: number } | null {
  return reading(pdu, (from) => {
    if (from.u8() !== 0x2b || from.u8() !== 0x0e) return null
    from.skip(2)
    const more = from.u8()
    const next = from.u8()
    const objects = new Map<number, string>()
    for (let count = from.u8(); count > 0; count--) {
      const id = from.u8()
      objects.set(id, from.ascii(from.u8()))
    }
    return { objects, next: more === 0xff ? next : 0 }
  })
}
