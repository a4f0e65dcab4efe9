import { OctetWriter, reading } from '../../vocabulary/octets'

/** Messages of CIP (CIP Vol. 1, ch. 2 and 3-5, from memory). Little-endian. */

export const services = {
  getAll: 0x01,
  reset: 0x05,
  getOne: 0x0e,
  setOne: 0x10,
  forwardOpen: 0x54,
  forwardClose: 0x4e,
  largeForwardOpen: 0x5b,
  send: 0x52,
} as const

export interface CipRequest {
  readonly service: number
  readonly path: Uint8Array
  readonly data: Uint8Array
}

export function encodeRequest({ service, path, data }: CipRequest): Uint8Array {
  return new OctetWriter()
    .u8(service, path.length / 2)
    .bytes(path)
    .bytes(data)
    .done()
}

export function decodeRequest(bytes: Uint8Array): CipRequest | null {
  return reading(bytes, (from) => {
    const service = from.u8()
    const path = from.bytes(from.u8() * 2).slice()
    return { service, path, data: from.rest().slice() }
  })
}

export interface CipAnswer {
  readonly service: number
  readonly status: number
  /** Words beside the status. */
  readonly more: readonly number[]
  readonly data: Uint8Array
}

export function encodeAnswer({ service, status, more, data }: CipAnswer): Uint8Array {
  const octets = new OctetWriter().u8(service | 0x80, 0, status, more.length)
  for (const word of more) octets.le16(word)
  return octets.bytes(data).done()
}

export function decodeAnswer(bytes: Uint8Array): CipAnswer | null {
  return reading(bytes, (from) => {
    const service = from.u8() & 0x7f
    from.u8()
    const status = from.u8()
    const more = Array.from({ length: from.u8() }, () => from.le16())
    return { service, status, more, data: from.rest().slice() }
  })
}

/** Logical path to an object and one of its attributes (CIP Vol. 1, App. C). */
export function objectPath(classId: number, instance: number, attribute?: number): Uint8Array {
  const octets = new OctetWriter().u8(0x20, classId).u8(0x24, instance)
  if (attribute !== undefined) octets.u8(0x30, attribute)
  return octets.done()
}

export const classes = { identity: 1, assembly: 4, connectionManager: 6, tcpIp: 0xf5 } as const

/** Objects of a maker's own (64 to 199 are theirs): what stands in the slots, as text; and the lamp
 *  that blinks. */
export const ownClasses = { modules: 0x70, lamp: 0x71 } as const
export const ethernetLink = 0xf6

/** What a path of one-octet segments leads to; null where it is another kind. */
export function objectOf(path: Uint8Array): {
  readonly classId: number
  readonly instance: number
  readonly attribute: number | null
} | null {
  const parts: Partial<Record<number, number>> = {}
  for (let i = 0; i + 1 < path.length;) {
    const segment = path[i]!
    if ((segment & 0xe0) !== 0x20) return null
    const isLong = (segment & 1) === 1
    parts[segment & 0xfc] = isLong ? path[i + 2]! + 256 * (path[i + 3] ?? 0) : path[i + 1]!
    i += isLong ? 4 : 2
  }
  const [classId, instance] = [parts[0x20], parts[0x24]]
  return classId === undefined || instance === undefined
    ? null
    : { classId, instance, attribute: parts[0x30] ?? null }
}

export interface ForwardOpen {
  readonly outputId: number
  readonly inputId: number
  readonly serial: number
  readonly vendor: number
  readonly originatorSerial: number
  /** Times 4, 8, 16 … as a step from 0. */
  readonly multiplierStep: number
  readonly outputIntervalUs: number
  readonly inputIntervalUs: number
  /** Sizes on the wire, with sequence count and run/idle. */
  readonly outputSize: number
  readonly inputSize: number
  readonly isMulticast: boolean
  readonly path: Uint8Array
}

const pointToPoint = 2
const multicast = 1

function parametersOf(size: number, kind: number, isLarge: boolean): number {
  // Low priority scheduled, fixed size (CIP Vol. 1, 3-5.5.1.1).
  return isLarge
    ? ((kind << 13) | (2 << 10)) * 65_536 + size
    : (kind << 13) | (2 << 10) | (size & 0x1ff)
}

/** Forward_Open of a class 1 connection; the large one where 511 octets are not enough. */
export function encodeForwardOpen(open: ForwardOpen): CipRequest {
  const isLarge = Math.max(open.outputSize, open.inputSize) > 511
  const octets = new OctetWriter()
    .u8(0x0a, 0x0e)
    .le32(open.outputId)
    .le32(open.inputId)
    .le16(open.serial)
    .le16(open.vendor)
    .le32(open.originatorSerial)
    .u8(open.multiplierStep, 0, 0, 0)
  const put = (interval: number, size: number, kind: number) => {
    octets.le32(interval)
    const word = parametersOf(size, kind, isLarge)
    if (isLarge) octets.le32(word)
    else octets.le16(word)
  }
  put(open.outputIntervalUs, open.outputSize, pointToPoint)
  put(open.inputIntervalUs, open.inputSize, open.isMulticast ? multicast : pointToPoint)
  // Cyclic, class 1.
  octets
    .u8(0x01)
    .u8(open.path.length / 2)
    .bytes(open.path)
  return {
    service: isLarge ? services.largeForwardOpen : services.forwardOpen,
    path: objectPath(classes.connectionManager, 1),
    data: octets.done(),
  }
}

export function decodeForwardOpen({ service, data }: CipRequest): ForwardOpen | null {
  const isLarge = service === services.largeForwardOpen
  return reading(data, (from) => {
    from.skip(2)
    const [outputId, inputId] = [from.le32(), from.le32()]
    const [serial, vendor, originatorSerial] = [from.le16(), from.le16(), from.le32()]
    const multiplierStep = from.u8()
    from.skip(3)
    const take = () => {
      const interval = from.le32()
      const word = isLarge ? from.le32() : from.le16()
      return isLarge
        ? { interval, size: word & 0xffff, kind: (word >>> 29) & 3 }
        : { interval, size: word & 0x1ff, kind: (word >> 13) & 3 }
    }
    const [output, input] = [take(), take()]
    from.u8()
    const path = from.bytes(from.u8() * 2).slice()
    return {
      outputId,
      inputId,
      serial,
      vendor,
      originatorSerial,
      multiplierStep,
      outputIntervalUs: output.interval,
      inputIntervalUs: input.interval,
      outputSize: output.size,
      inputSize: input.size,
      isMulticast: input.kind === multicast,
      path,
    }
  })
}

export function forwardOpened(open: ForwardOpen, outputId: number): Uint8Array {
  return new OctetWriter()
    .le32(outputId)
    .le32(open.inputId)
    .le16(open.serial)
    .le16(open.vendor)
    .le32(open.originatorSerial)
    .le32(open.outputIntervalUs)
    .le32(open.inputIntervalUs)
    .u8(0, 0)
    .done()
}

/** Why a connection was refused, by the word beside status 1 (CIP Vol. 1, 3-5.6, from memory). */
export const connectionFaults: Readonly<Record<number, string>> = {
  0x0100: 'the connection is in use already',
  0x0106: 'another controller owns it',
  0x0109: 'the size of the connection is not the device’s',
  0x0111: 'the interval asked for is one the device does not take',
  0x0113: 'the device has no connection left',
  0x0114: 'maker or type in the electronic key are not the device’s',
  0x0115: 'the type of device in the electronic key is another one',
  0x0116: 'the revision in the electronic key is not the device’s',
  0x0117: 'the device has no such assembly',
  0x0127: 'the size of what the controller sends is not the device’s',
  0x0128: 'the size of what the device sends is not what was asked for',
}
export const tellsWhy = 0x01
export const serviceUnknown = 0x08
export const pathUnknown = 0x05
export const tooShort = 0x13

/** Electronic key: maker, type, product and revision that the device has to have (CIP Vol. 1,
 *  App. C). */
export function electronicKey(key: {
  readonly vendor: number
  readonly productType: number
  readonly productCode: number
  readonly major: number
  readonly minor: number
}): Uint8Array {
  return (
    new OctetWriter()
      .u8(0x34, 0x04)
      .le16(key.vendor)
      .le16(key.productType)
      .le16(key.productCode)
      // Later minor revisions are taken as well.
      .u8(key.major | 0x80, key.minor)
      .done()
  )
}

export function readElectronicKey(path: Uint8Array) {
  return path[0] !== 0x34
    ? null
    : reading(path.subarray(2), (from) => ({
        vendor: from.le16(),
        productType: from.le16(),
        productCode: from.le16(),
        major: from.u8() & 0x7f,
        minor: from.u8(),
      }))
}

/** Class, instance and connection points only: what stands behind an electronic key. */
export function withoutKey(path: Uint8Array): Uint8Array {
  return path[0] === 0x34 ? path.subarray(10) : path
}
