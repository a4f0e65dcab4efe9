import { OctetWriter, reading } from '../../vocabulary/octets'
import { softwareOctets, softwareOf } from '../software-revision'

/** Telegrams of PROFIBUS (IEC 61158-4-3 and -6-3, from memory). The analyser used elsewhere knows
 *  none of them: they are held against tables. */

/** Where a device stands that has no address yet (IEC 61158-6-3). */
export const factoryAddress = 126

/** Service access points of a slave. */
export const servicePoints = {
  setAddress: 55,
  getConfiguration: 59,
  diagnosis: 60,
  setParameters: 61,
  checkConfiguration: 62,
} as const
/** The master's for the same services. */
export const masterPoint = 62

export const functions = {
  /** Who is there. */
  status: 0x49,
  /** Send and request data, low and high priority. */
  requestLow: 0x6c,
  request: 0x6d,
  /** Answers: all is well without data, with data; service not active; no room. */
  ok: 0x00,
  data: 0x08,
  diagnosisWaits: 0x0a,
  notActive: 0x03,
} as const

export interface BusTelegram {
  readonly to: number
  readonly from: number
  readonly function: number
  /** Service access points of receiver and sender; null: the default ones. */
  readonly points: { readonly to: number; readonly from: number } | null
  readonly data: Uint8Array
}

const starts = { short: 0x10, long: 0x68, acknowledge: 0xe5 } as const
const end = 0x16
export const acknowledge = Uint8Array.of(starts.acknowledge)

/** SD1 without data, SD2 with; the check octet is the sum of what stands between (8.3). */
export function encodeBus(telegram: BusTelegram): Uint8Array {
  const { points } = telegram
  const flag = points ? 0x80 : 0
  const content = new OctetWriter()
    .u8(telegram.to | flag, telegram.from | flag, telegram.function)
    .bytes(points ? [points.to, points.from] : [])
    .bytes(telegram.data)
    .done()
  const sum = content.reduce((total, octet) => total + octet, 0) & 0xff
  if (content.length === 3)
    return new OctetWriter().u8(starts.short).bytes(content).u8(sum, end).done()
  return new OctetWriter()
    .u8(starts.long, content.length, content.length, starts.long)
    .bytes(content)
    .u8(sum, end)
    .done()
}

/** The telegram, or `acknowledge` for SC; null where check octet, length or end are wrong. */
export function decodeBus(bytes: Uint8Array): BusTelegram | 'acknowledge' | null {
  if (bytes.length === 1 && bytes[0] === starts.acknowledge) return 'acknowledge'
  return reading(bytes, (from) => {
    const start = from.u8()
    let length = 3
    if (start === starts.long) {
      length = from.u8()
      if (length < 4 || from.u8() !== length || from.u8() !== starts.long) return null
    } else if (start !== starts.short) return null
    const content = from.bytes(length)
    const sum = content.reduce((total, octet) => total + octet, 0) & 0xff
    if (from.u8() !== sum || from.u8() !== end || from.left > 0) return null
    const hasPoints = (content[0]! & 0x80) !== 0
    if (hasPoints && length < 5) return null
    return {
      to: content[0]! & 0x7f,
      from: content[1]! & 0x7f,
      function: content[2]!,
      points: hasPoints ? { to: content[3]!, from: content[4]! } : null,
      data: content.slice(hasPoints ? 5 : 3),
    }
  })
}

/** What a slave says of itself: six octets, then what its maker adds. */
export interface SlaveDiagnosis {
  readonly stationMissing: boolean
  readonly notReady: boolean
  readonly configurationFault: boolean
  readonly parameterFault: boolean
  readonly needsParameters: boolean
  readonly watchdogOn: boolean
  /** 255: nobody. */
  readonly master: number
  readonly identNumber: number
  /** Slots (from 1) that have something to say, as identifier-related diagnosis has them. */
  readonly slots: readonly number[]
  /** Channels with an error. */
  readonly channels: readonly BusChannelDiagnosis[]
}

export interface BusChannelDiagnosis {
  readonly slot: number
  readonly channel: number
  readonly error: number
}

export function encodeDiagnosis(diagnosis: SlaveDiagnosis): Uint8Array {
  const hasMore = diagnosis.slots.length + diagnosis.channels.length > 0
  const octets = new OctetWriter()
    .u8(
      (diagnosis.notReady ? 0x02 : 0) |
        (diagnosis.configurationFault ? 0x04 : 0) |
        (hasMore ? 0x08 : 0) |
        (diagnosis.parameterFault ? 0x40 : 0),
      0x04 | (diagnosis.needsParameters ? 0x01 : 0) | (diagnosis.watchdogOn ? 0x08 : 0),
      0,
      diagnosis.master,
    )
    .u16(diagnosis.identNumber)
  if (diagnosis.slots.length > 0) {
    const octetsOfBits = Math.ceil(Math.max(...diagnosis.slots) / 8)
    const bits = new Uint8Array(octetsOfBits)
    for (const slot of diagnosis.slots) bits[(slot - 1) >> 3]! |= 1 << ((slot - 1) & 7)
    octets.u8(0x40 | (octetsOfBits + 1)).bytes(bits)
  }
  for (const { slot, channel, error } of diagnosis.channels)
    octets.u8(0x80 | (slot - 1), 0xc0 | channel, error)
  return octets.done()
}

export function decodeDiagnosis(data: Uint8Array): SlaveDiagnosis | null {
  return reading(data, (from) => {
    const [first, second] = [from.u8(), from.u8()]
    from.u8()
    const [master, identNumber] = [from.u8(), from.u16()]
    const slots: number[] = []
    const channels: BusChannelDiagnosis[] = []
    while (from.left > 0) {
      const header = from.u8()
      if ((header & 0xc0) === 0x80) {
        const channel = from.u8() & 0x3f
        channels.push({ slot: (header & 0x3f) + 1, channel, error: from.u8() & 0x1f })
        continue
      }
      const body = from.bytes((header & 0x3f) - 1)
      if ((header & 0xc0) === 0x40)
        for (const [i, octet] of body.entries())
          for (let bit = 0; bit < 8; bit++) if (octet & (1 << bit)) slots.push(i * 8 + bit + 1)
    }
    return {
      stationMissing: (first & 0x01) !== 0,
      notReady: (first & 0x02) !== 0,
      configurationFault: (first & 0x04) !== 0,
      parameterFault: (first & 0x40) !== 0,
      needsParameters: (second & 0x01) !== 0,
      watchdogOn: (second & 0x08) !== 0,
      master,
      identNumber,
      slots,
      channels,
    }
  })
}

/** Acyclic services of DP-V1, by which identification and maintenance record 0 is called and read
 *  (IEC 61158-6-3 and the I&M profile, from memory). */
export const acyclicPoint = 51
export const acyclicFunctions = { read: 0x5e, write: 0x5f } as const
const callHeader = [0x08, 0x00, 0xfd, 0xe8] as const
const maintenanceSlot = [0, 255] as const
const reservedOctets = 10

/** Calls the record, then reads it. */
export const maintenanceCall = Uint8Array.of(
  acyclicFunctions.write,
  ...maintenanceSlot,
  callHeader.length,
  ...callHeader,
)
export const maintenanceRead = Uint8Array.of(acyclicFunctions.read, ...maintenanceSlot, 68)

export interface BusMaintenance {
  readonly orderNumber: string
  readonly serial: string
  /** As `V1.4.2`; null: the device tells none. */
  readonly software: string | null
}

export function encodeBusMaintenance({ orderNumber, serial, software }: BusMaintenance) {
  return new OctetWriter()
    .bytes(maintenanceRead)
    .bytes(callHeader)
    .zeros(reservedOctets)
    .u16(0)
    .fixed(orderNumber, 20, 0x20)
    .fixed(serial, 16, 0x20)
    .u16(1)
    .bytes(softwareOctets(software))
    .zeros(10)
    .done()
}

export function decodeBusMaintenance(data: Uint8Array): BusMaintenance | null {
  return reading(data, (from) => {
    if (from.u8() !== acyclicFunctions.read) return null
    from.skip(3 + callHeader.length + reservedOctets + 2)
    const [orderNumber, serial] = [from.ascii(20).trimEnd(), from.ascii(16).trimEnd()]
    from.skip(2)
    return { orderNumber, serial, software: softwareOf(from.bytes(4)) }
  })
}
