import { z } from 'zod'
import type { Traffic, WireFault, WireTimes } from '../traffic'
import { fastEthernet, gapBytes, preambleBytes } from '../traffic'
import type { WireStation } from '../wire'

/** Send clocks are multiples of this, µs (IEC 61784-2, from memory). */
export const clockStepUs = 31.25
/** The longest that update time and factor make together, µs (IEC 61158-6-10, from memory). */
export const longestHoldUs = 1_920_000
/** Reduction ratios of power-of-two clocks (IEC 61784-2, from memory). */
export const commonRatios = [1, 2, 4, 8, 16, 32, 64, 128, 256, 512] as const

const ratio = z.number().int().min(1).max(512).nullable().default(null)
const factor = z.number().int().min(1).max(255).default(3)

export const profinetNetworkTimes = {
  /** µs. */
  sendClockUs: z.number().min(clockStepUs).max(4000).default(1000),
} as const

export const profinetStationTimes = {
  /** Update time by send clock, from the device and to it; null: the smallest that the device
   *  takes. */
  inputRatio: ratio,
  outputRatio: ratio,
  /** Outputs travel as often as inputs. */
  sameBothWays: z.boolean().default(false),
  /** Update times without data after which the connection ends, and after which outputs are no
   *  longer held. */
  watchdogFactor: factor,
  dataHoldFactor: factor,
} as const

type StationSetting = Exclude<keyof typeof profinetStationTimes, 'sameBothWays'>

export interface ProfinetTimes {
  readonly sendClockUs: number
  readonly inputRatio: number
  readonly outputRatio: number
  readonly inputUpdateUs: number
  readonly outputUpdateUs: number
  readonly watchdogFactor: number
  readonly watchdogUs: number
  readonly dataHoldUs: number
}

interface ClockLists {
  readonly minDeviceIntervalUs: number | null
  readonly reductionRatios: readonly number[]
}

/** The smallest ratio that a device takes at a send clock: of its list, and not below its shortest
 *  interval; the largest of the list where none is long enough. */
export function smallestRatio(
  sendClockUs: number,
  { minDeviceIntervalUs, reductionRatios }: ClockLists,
): number {
  const list = [...(reductionRatios.length > 0 ? reductionRatios : commonRatios)].sort(
    (a, b) => a - b,
  )
  return (
    list.find((one) => one * sendClockUs >= (minDeviceIntervalUs ?? 0)) ?? list[list.length - 1]!
  )
}

/** Update time and watchdog of a station by what was decided and what its description allows; null
 *  where the description is missing. Update time = send clock × reduction ratio; watchdog and data
 *  hold = update time × factor (IEC 61158-6-10, from memory). */
export function timesOfStation(
  { sendClockUs }: { readonly sendClockUs: number },
  { device, station: { settings } }: WireStation,
): ProfinetTimes | null {
  if (!device || !('profinet' in device)) return null
  const decided = settings as Partial<Record<StationSetting, number | null>> & {
    readonly sameBothWays?: boolean
  }
  const smallest = smallestRatio(sendClockUs, device.profinet)
  const inputRatio = decided.inputRatio ?? smallest
  const outputRatio = decided.sameBothWays ? inputRatio : (decided.outputRatio ?? smallest)
  const watchdogFactor = decided.watchdogFactor ?? 3
  const inputUpdateUs = sendClockUs * inputRatio
  const outputUpdateUs = sendClockUs * outputRatio
  return {
    sendClockUs,
    inputRatio,
    outputRatio,
    inputUpdateUs,
    outputUpdateUs,
    watchdogFactor,
    watchdogUs: inputUpdateUs * watchdogFactor,
    dataHoldUs: outputUpdateUs * (decided.dataHoldFactor ?? 3),
  }
}

/** Octets on the wire of a cyclic frame with so much data and status: addresses 12, VLAN tag 4,
 *  EtherType 2, FrameID 2, at least 40 of data, cycle counter 2, data status 1, transfer status 1
 *  (IEC 61158-6-10, from memory), check sequence 4, preamble and gap (IEEE 802.3). */
export function realTimeFrameBytes(dataAndStatusBytes: number): number {
  return preambleBytes + 12 + 4 + 2 + 2 + Math.max(40, dataAndStatusBytes) + 4 + 4 + gapBytes
}

interface Settings {
  readonly sendClockUs: number
}

const ms = (us: number) => `${Number((us / 1000).toFixed(3))} ms`

/** Switches that a frame may pass at an update time, one after the other, where each takes a frame
 *  in before it sends it on: [from this update time in µs, so many] (PROFINET design guideline, from
 *  memory). */
const lineDepths: readonly (readonly [number, number])[] = [
  [8000, 58],
  [4000, 28],
  [2000, 14],
  [0, 7],
]

/** Switches that are advised at most on the way of a station, by its shorter update time in µs. */
function mostHops(settings: Settings, view: WireStation) {
  const times = timesOfStation(settings, view)
  if (!times) return null
  const updateUs = Math.min(times.inputUpdateUs, times.outputUpdateUs)
  return { hops: lineDepths.find(([from]) => updateUs >= from)![1], updateUs }
}

/** What is wrong with the times that were decided, by the lists of the description. */
function faultsOf(settings: Settings, view: WireStation): WireFault[] {
  const times = timesOfStation(settings, view)
  if (!times || !view.device || !('profinet' in view.device)) return []
  const { sendClocksUs, reductionRatios, minDeviceIntervalUs } = view.device.profinet
  const faults: WireFault[] = []
  const add = (fault: Omit<WireFault, 'severity'>) => faults.push({ ...fault, severity: 'blocker' })
  if (sendClocksUs.length > 0 && !sendClocksUs.includes(times.sendClockUs))
    add({
      code: 'sendClock',
      what: 'The send clock of its network',
      is: ms(times.sendClockUs),
      wants: `it takes ${sendClocksUs.map(ms).join(', ')}`,
      fixes: sendClocksUs.slice(-1).map((sendClockUs) => ({
        label: `Set the send clock to ${ms(sendClockUs)}`,
        of: 'network',
        settings: { sendClockUs },
      })),
    })
  const isTied = (view.station.settings as { sameBothWays?: boolean }).sameBothWays === true
  for (const [key, words, ratio] of [
    ['inputRatio', 'inputs', times.inputRatio],
    ...(isTied ? [] : [['outputRatio', 'outputs', times.outputRatio] as const]),
  ] as const) {
    const smallest = smallestRatio(times.sendClockUs, view.device.profinet)
    const fixes = [
      {
        label: `Set the update time of the ${words} to ${ms(times.sendClockUs * smallest)}`,
        of: 'station' as const,
        settings: { [key]: smallest },
      },
    ]
    if (times.sendClockUs * ratio < (minDeviceIntervalUs ?? 0))
      add({
        code: 'updateTime',
        what: `The update time of its ${words}`,
        is: ms(times.sendClockUs * ratio),
        wants: `it takes ${ms(minDeviceIntervalUs!)} or longer`,
        fixes,
      })
    else if (reductionRatios.length > 0 && !reductionRatios.includes(ratio))
      add({
        code: 'ratio',
        what: `The reduction ratio of its ${words}`,
        is: String(ratio),
        wants: `it takes ${reductionRatios.join(', ')}`,
        fixes,
      })
  }
  if (Math.max(times.watchdogUs, times.dataHoldUs) > longestHoldUs)
    add({
      code: 'hold',
      what: 'Its update time times watchdog or data hold factor',
      is: ms(Math.max(times.watchdogUs, times.dataHoldUs)),
      wants: `at most ${ms(longestHoldUs)} can be asked for`,
    })
  return faults
}

/** The smallest watchdog factor, and the smallest update time of both directions, by which a
 *  connection outlives so many µs. */
function ridingThrough(settings: Settings, view: WireStation, us: number): WireFault['fixes'] {
  const times = timesOfStation(settings, view)
  if (!times || !view.device || !('profinet' in view.device)) return []
  const factor = Math.ceil(us / times.inputUpdateUs)
  const ratios = view.device.profinet.reductionRatios
  const ratio = [...(ratios.length > 0 ? ratios : commonRatios)]
    .sort((a, b) => a - b)
    .find((one) => one * times.sendClockUs * times.watchdogFactor >= us)
  const hold = (updateUs: number, by: number) => updateUs * by <= longestHoldUs
  return [
    ...(factor <= 255 && hold(times.inputUpdateUs, factor)
      ? [
          {
            label: `Set the watchdog factor to ${factor} (${ms(times.inputUpdateUs * factor)})`,
            of: 'station' as const,
            settings: { watchdogFactor: factor },
          },
        ]
      : []),
    ...(ratio !== undefined && hold(ratio * times.sendClockUs, times.watchdogFactor)
      ? [
          {
            label: `Set the update time to ${ms(ratio * times.sendClockUs)}`,
            of: 'station' as const,
            settings: { inputRatio: ratio, outputRatio: ratio },
          },
        ]
      : []),
  ]
}

export const profinetTimes = {
  bitRate: fastEthernet,
  traffic: (settings: Settings, view: WireStation): Traffic => {
    const times = timesOfStation(settings, view)
    return {
      frameBytes: {
        in: realTimeFrameBytes(view.inputFrameBytes),
        out: realTimeFrameBytes(view.outputFrameBytes),
      },
      updateTimeUs: { in: times?.inputUpdateUs ?? null, out: times?.outputUpdateUs ?? null },
      watchdogUs: times?.watchdogUs ?? null,
    }
  },
  faults: faultsOf,
  mostHops,
  ridingThrough,
} satisfies WireTimes
