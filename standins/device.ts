import { channelsInData, type ChannelInData, type PlannedStation } from '@kataxis/core'

/** Something wrong at a channel, as the module reports it: 6 line break, 1 short circuit. */
export interface ChannelFault {
  readonly tag: string
  readonly error: 1 | 6
}

/** A simulated device: what a real one keeps in its memory. It changes with what it receives. */
export interface Device {
  /** What stands there really; its own modules, whatever the plan says. */
  is: PlannedStation
  readonly mac: string
  readonly serial: number
  firmware: string | null
  /** On its wire; empty: none. */
  name: string
  ip: string
  mask: string
  number: number
  blinks: number
  /** Its switches were turned; it takes them at its next start. */
  turnedTo: { readonly ip: string; readonly number: number } | null
  /** Answers, but its application does not run. */
  isStopped: boolean
  /** Answers after so long. */
  slowMs: number
  /** No cable leads to it, or it is not there. */
  isAway: boolean
  readonly faults: ChannelFault[]
  /** Fail-safe destination addresses by slot and subslot; none: 0. What was proposed waits to be
   *  confirmed. */
  readonly failSafe: Map<string, { destination: number; proposed: number | null }>
  /** Data that it sends and that it got last: blocks one behind the other. */
  inputs: Uint8Array
  outputs: Uint8Array
  /** What its protocol keeps of the connection; the stand-in of that protocol knows it. */
  session: unknown
}

export function deviceOf(is: PlannedStation, serial: number): Device {
  const mac = [0x02, 0x4b, 0x58, serial >> 16, serial >> 8, serial]
    .map((octet) => (octet & 0xff).toString(16).padStart(2, '0'))
    .join(':')
  return {
    is,
    mac,
    serial: 0x4b00_0000 + serial,
    firmware: is.identity.firmware,
    name: is.wireName,
    ip: is.ip,
    mask: is.mask,
    number: is.number,
    blinks: 0,
    turnedTo: null,
    isStopped: false,
    slowMs: 0,
    isAway: false,
    faults: [],
    failSafe: new Map(
      is.failSafe.map(({ slot, subslot, destination }) => [
        `${slot}.${subslot}`,
        { destination, proposed: null },
      ]),
    ),
    inputs: new Uint8Array(is.view.inputBytes),
    outputs: new Uint8Array(is.view.outputBytes),
    session: null,
  }
}

/** Channels with something wrong, as modules report them. */
export function faultyChannels({ is, faults }: Device): (ChannelInData & ChannelFault)[] {
  if (faults.length === 0) return []
  const byTag = new Map(faults.map((fault) => [fault.tag, fault]))
  return channelsInData(is.view).flatMap((one) => {
    const fault = byTag.get(one.signal.tag)
    return fault ? [{ ...one, ...fault }] : []
  })
}

/** How much longer a device may take before its controller gives it up. */
export function isTooSlow({ slowMs }: Device, watchdogUs: number | null): boolean {
  return watchdogUs !== null && slowMs * 1000 > watchdogUs
}
