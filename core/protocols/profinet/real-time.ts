import { channelErrors as commonErrors } from '../channel-errors'
import { fromHex, toHex } from '../../vocabulary/hex'
import { OctetWriter, reading } from '../../vocabulary/octets'
import type { Mac } from './dcp'

const etherType = 0x8892
const shortestData = 40
/** Provider in the state run, data valid, primary, no problem. */
export const dataStatusRun = 0x35
/** The same, but the provider stopped. */
export const dataStatusStop = 0x25

export interface CyclicFrame {
  readonly destination: Mac
  readonly source: Mac
  readonly frameId: number
  readonly data: Uint8Array
  readonly cycleCounter: number
  readonly dataStatus: number
}

/** A frame of cyclic data (IEC 61158-6-10, from memory). */
export function encodeCyclic(frame: CyclicFrame): Uint8Array {
  return new OctetWriter()
    .bytes(fromHex(frame.destination))
    .bytes(fromHex(frame.source))
    .u16(etherType)
    .u16(frame.frameId)
    .bytes(frame.data)
    .zeros(shortestData - frame.data.length)
    .u16(frame.cycleCounter)
    .u8(frame.dataStatus, 0)
    .done()
}

/** Cyclic data; null where the frame holds something else. */
export function decodeCyclic(bytes: Uint8Array): CyclicFrame | null {
  return reading(bytes, (from) => {
    const [destination, source] = [toHex(from.bytes(6), 6, ':'), toHex(from.bytes(6), 6, ':')]
    if (from.u16() !== etherType) return null
    const frameId = from.u16()
    if (frameId < 0x8000 || frameId > 0xfbff) return null
    const data = from.bytes(from.left - 4)
    return { destination, source, frameId, data, cycleCounter: from.u16(), dataStatus: from.u8() }
  })
}

/** A diagnosis of one channel as a device reports it. */
export interface ChannelAlarm {
  readonly slot: number
  readonly subslot: number
  readonly moduleIdent: number
  readonly submoduleIdent: number
  /** 0x8000: the submodule as a whole. */
  readonly channel: number
  readonly errorType: number
}

const lowAlarm = 0xfe01

/** A diagnosis alarm, low priority (IEC 61158-6-10, from memory). */
export function encodeAlarm(
  destination: Mac,
  source: Mac,
  sequence: number,
  alarm: ChannelAlarm,
): Uint8Array {
  const item = new OctetWriter()
    .u16(0x8000)
    .u16(alarm.channel)
    // Appears; an input that says nothing of its width.
    .u16(0x0800)
    .u16(alarm.errorType)
    .done()
  const body = new OctetWriter()
    .u16(1)
    .u32(0)
    .u16(alarm.slot)
    .u16(alarm.subslot)
    .u32(alarm.moduleIdent)
    .u32(alarm.submoduleIdent)
    // Channel diagnosis is there, and bears on this relation.
    .u16(0xa800 | (sequence & 0x7ff))
    .bytes(item)
    .done()
  const notification = new OctetWriter()
    .u16(0x0002)
    .u16(body.length + 2)
    .u8(1, 0)
    .bytes(body)
    .done()
  return new OctetWriter()
    .bytes(fromHex(destination))
    .bytes(fromHex(source))
    .u16(etherType)
    .u16(lowAlarm)
    .u16(1)
    .u16(1)
    .u8(0x11, 0x11)
    .u16(sequence)
    .u16(0xffff)
    .u16(notification.length)
    .bytes(notification)
    .upTo(60)
    .done()
}

export function decodeAlarm(bytes: Uint8Array): (ChannelAlarm & { readonly source: Mac }) | null {
  return reading(bytes, (from) => {
    from.skip(6)
    const source = toHex(from.bytes(6), 6, ':')
    if (from.u16() !== etherType || from.u16() !== lowAlarm) return null
    from.skip(4)
    if ((from.u8() & 0x0f) !== 1) return null
    from.skip(1 + 2 + 2 + 2 + 6 + 2 + 4)
    const [slot, subslot] = [from.u16(), from.u16()]
    const [moduleIdent, submoduleIdent] = [from.u32(), from.u32()]
    from.skip(4)
    const channel = from.u16()
    from.u16()
    return { source, slot, subslot, moduleIdent, submoduleIdent, channel, errorType: from.u16() }
  })
}

/** Types of error of a channel, with that of fail-safe submodules. */
export const channelErrors: Readonly<Record<number, string>> = {
  ...commonErrors,
  64: 'its fail-safe destination address is not the one of its parameters',
}
