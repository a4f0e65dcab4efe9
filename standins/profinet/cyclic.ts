import {
  dataStatusRun,
  dataStatusStop,
  encodeAlarm,
  encodeCyclic,
  frameLayout,
  type CyclicFrame,
  type DataDirection,
} from '@kataxis/core/wire/profinet'
import { faultyChannels, isTooSlow, type Device } from '../device'
import type { Session } from './rpc'

/** In alarms: no channel, but all of it; and that the fail-safe destination address is wrong. */
const wholeSubmodule = 0x8000
const wrongDestination = 64
const good = 0x80
const bad = 0x60
/** 31.25 µs a step. */
const clockStepUs = 31.25

/** Takes the outputs of a frame and sends the inputs, and at first what is to be reported. */
export function answerCyclic(device: Device, frame: CyclicFrame): Uint8Array[] {
  const session = device.session as Session | null
  const output = session?.connect.directions.find(({ direction }) => direction === 'out')
  const input = session?.connect.directions.find(({ direction }) => direction === 'in')
  if (!session || !input || output?.frameId !== frame.frameId) return []
  const watchdogUs =
    input.sendClockFactor * clockStepUs * input.reductionRatio * input.watchdogFactor
  if (isTooSlow(device, watchdogUs)) {
    device.session = null
    return []
  }
  device.outputs = takeOutputs(device, output, frame.data)
  const alarms = session.alarmsWaiting ? alarmsOf(device, frame.source) : []
  session.alarmsWaiting = false
  return [
    ...alarms,
    encodeCyclic({
      destination: frame.source,
      source: device.mac,
      frameId: input.frameId,
      data: inputData(device, session, input),
      cycleCounter: (frame.cycleCounter + input.sendClockFactor * input.reductionRatio) & 0xffff,
      dataStatus: device.isStopped ? dataStatusStop : dataStatusRun,
    }),
  ]
}

/** Inputs at the places that the controller asked for; what is not as expected sends zeros and says
 *  that they are bad. */
function inputData(device: Device, session: Session, input: DataDirection): Uint8Array {
  const { different } = session
  const frame = new Uint8Array(input.bytes)
  const wrong = new Set(different.map(({ slot }) => slot))
  const own = new Map<string, { at: number; bytes: number }>()
  let at = 0
  for (const { slot, subslot, bytes } of frameLayout(device.is.modules, 'in').data) {
    own.set(`${slot}.${subslot}`, { at, bytes })
    at += bytes
  }
  for (const { slot, subslot, offset } of input.objects) {
    const data = own.get(`${slot}.${subslot}`)
    const isGood = data !== undefined && !wrong.has(slot)
    if (isGood) frame.set(device.inputs.subarray(data.at, data.at + data.bytes), offset)
    const bytes = isGood ? data.bytes : expectedBytes(session, slot, subslot)
    if (offset + bytes < frame.length) frame[offset + bytes] = isGood ? good : bad
  }
  for (const { offset } of input.consumers) if (offset < frame.length) frame[offset] = good
  return frame
}

function expectedBytes({ connect }: Session, slot: number, subslot: number): number {
  const module = connect.expected.find((one) => one.slot === slot)
  return module?.submodules.find((one) => one.subslot === subslot)?.inputBytes ?? 0
}

function takeOutputs(device: Device, { objects }: DataDirection, data: Uint8Array): Uint8Array {
  const taken = new Uint8Array(device.is.view.outputBytes)
  let at = 0
  for (const { slot, subslot, bytes } of frameLayout(device.is.modules, 'out').data) {
    const place = objects.find((one) => one.slot === slot && one.subslot === subslot)
    if (place) taken.set(data.subarray(place.offset, place.offset + bytes), at)
    at += bytes
  }
  return taken
}

function alarmsOf(device: Device, to: string): Uint8Array[] {
  const wrong = device.is.failSafe.flatMap(({ slot, subslot, destination }) =>
    device.failSafe.get(`${slot}.${subslot}`)?.destination === destination
      ? []
      : [
          {
            module: { slot },
            channel: { subslot },
            number: wholeSubmodule,
            error: wrongDestination,
          },
        ],
  )
  return [...faultyChannels(device), ...wrong].map(({ module, channel, number, error }, i) => {
    const real = device.is.modules.find(({ slot }) => slot === module.slot)
    const part = real?.submodules.find(({ subslot }) => subslot === channel.subslot)
    return encodeAlarm(to, device.mac, i, {
      slot: module.slot,
      subslot: channel.subslot,
      moduleIdent: parseInt(real?.ident ?? '0', 16),
      submoduleIdent: parseInt(part?.ident ?? '0', 16) || 0,
      channel: number,
      errorType: error,
    })
  })
}
