import { z } from 'zod'
import type { Cycle, Traffic, WireFault, WireTimes } from '../traffic'
import type { WireStation } from '../wire'

/** Longest segment by bit rate, cable of type A, in metres (IEC 61158-2 / EN 50170, from memory). */
export const segmentLengths: readonly (readonly [kbits: number, metres: number])[] = [
  [9.6, 1200],
  [19.2, 1200],
  [45.45, 1200],
  [93.75, 1200],
  [187.5, 1000],
  [500, 400],
  [1500, 200],
  [3000, 100],
  [6000, 100],
  [12_000, 100],
]
export const bitRatesKbit = segmentLengths.map(([kbits]) => kbits)

export const profibusNetworkTimes = {
  /** kbit/s; null: nobody chose. */
  bitRateKbit: z
    .number()
    .refine((rate) => bitRatesKbit.includes(rate), `one of ${bitRatesKbit.join(', ')} kbit/s`)
    .nullable()
    .default(null),
  /** The controller's own address. */
  masterAddress: z.number().int().min(0).max(125).default(1),
  /** 1: exchanges data by the clock; 2: reads, diagnoses and sets parameters only (EN 50170). */
  masterClass: z.number().int().min(1).max(2).default(1),
} as const

export const profibusStationTimes = {
  /** So long without data ends the connection, in ms; 0: never. */
  watchdogMs: z.number().int().min(0).max(650_250).default(100),
} as const

/** Silence before a request, in bits: T_SYN, without a margin (EN 50170, from memory). */
const idleBits = 33
const bitsOfCharacter = 11
/** Start, lengths, addresses, function, check sum and end around the data of a telegram SD2; the
 *  whole of a telegram SD1 without data, and of a short acknowledgement (EN 50170, from memory). */
const characters = { around: 9, withoutData: 6, shortAcknowledge: 1 }
/** Longest delay of a station where its GSD does not say one, in bits (EN 50170, from memory). */
const usualDelay: readonly (readonly [upToKbit: number, bits: number])[] = [
  [187.5, 60],
  [500, 100],
  [1500, 150],
  [3000, 250],
  [6000, 450],
  [12_000, 800],
]

/** Characters of a station's request and of its answer. */
export function charactersOf({
  inputBytes,
  outputBytes,
}: Pick<WireStation, 'inputBytes' | 'outputBytes'>) {
  return {
    out: outputBytes > 0 ? characters.around + outputBytes : characters.withoutData,
    in: inputBytes > 0 ? characters.around + inputBytes : characters.shortAcknowledge,
  }
}

/** Bits that one exchange of data with a station takes at a bit rate in kbit/s: silence, request,
 *  the longest delay of the station, answer (EN 50170, from memory). */
export function exchangeBits(
  kbits: number,
  view: Pick<WireStation, 'inputBytes' | 'outputBytes' | 'device'>,
): number {
  const { in: answer, out: request } = charactersOf(view)
  return idleBits + bitsOfCharacter * (request + answer) + stationDelayBits(kbits, view)
}

export function stationDelayBits(kbits: number, { device }: Pick<WireStation, 'device'>): number {
  const stated =
    device && 'profibus' in device ? device.profibus.maxStationDelay[String(kbits)] : undefined
  return stated ?? usualDelay.find(([upTo]) => kbits <= upTo)![1]
}

interface Settings {
  readonly bitRateKbit: number | null
  readonly masterAddress: number
  readonly masterClass: number
}

function faultsOf(
  { bitRateKbit, masterAddress }: Settings,
  { device, station }: WireStation,
  { cycleUs }: Cycle,
): WireFault[] {
  const faults: WireFault[] = []
  const profibus = device && 'profibus' in device ? device.profibus : null
  const rates = profibus?.transmissionRates ?? []
  if (bitRateKbit !== null && rates.length > 0 && !rates.includes(bitRateKbit))
    faults.push({
      code: 'bitRate',
      what: 'The bit rate of its network',
      is: `${bitRateKbit} kbit/s`,
      wants: `it takes ${rates.join(', ')} kbit/s`,
      severity: 'blocker',
    })
  if (station.deviceNumber === masterAddress)
    faults.push({
      code: 'masterAddress',
      what: 'Its bus address',
      is: `${masterAddress}, as is its controller's own`,
      wants: 'one of the two has to be another',
      severity: 'blocker',
    })
  const watchdogUs = ((station.settings as { watchdogMs?: number }).watchdogMs ?? 0) * 1000
  if (cycleUs !== null && watchdogUs > 0 && watchdogUs < 3 * cycleUs) {
    const watchdogMs = Math.ceil((3 * cycleUs) / 10_000) * 10
    faults.push({
      code: 'watchdog',
      what: 'Its watchdog',
      is: `${watchdogUs / 1000} ms`,
      wants: `three cycles of its network take ${Math.ceil((3 * cycleUs) / 100) / 10} ms`,
      severity: 'warning',
      fixes: [
        { label: `Set the watchdog to ${watchdogMs} ms`, of: 'station', settings: { watchdogMs } },
      ],
    })
  }
  const leastUs = profibus?.minSlaveIntervalUs ?? 0
  if (cycleUs !== null && cycleUs < leastUs)
    faults.push({
      code: 'interval',
      what: 'The cycle of its network',
      is: `${Math.round(cycleUs)} µs`,
      wants: `it wants ${leastUs} µs between two requests, so that the controller has to wait`,
      severity: 'warning',
    })
  return faults
}

/** What is wrong with the network as a whole: its rate, and what its master is. */
function networkFaults(
  { bitRateKbit, masterClass }: Settings,
  stations: readonly WireStation[],
): WireFault[] {
  const hasData = stations.some(({ blocks }) => blocks.length > 0)
  const ofClass: WireFault[] =
    masterClass === 2 && hasData
      ? [
          {
            code: 'masterClass',
            what: 'The class of its master',
            is: '2',
            wants: 'only a master of class 1 exchanges data by the clock',
            severity: 'blocker',
            fixes: [{ label: 'Make it class 1', of: 'network', settings: { masterClass: 1 } }],
          },
        ]
      : []
  return [...ofClass, ...rateFaults(bitRateKbit, stations)]
}

/** Nothing can be exchanged at a rate that nobody chose. */
function rateFaults(bitRateKbit: number | null, stations: readonly WireStation[]): WireFault[] {
  if (bitRateKbit !== null || stations.length === 0) return []
  const common = bitRatesKbit.filter((rate) =>
    stations.every(({ device }) => {
      const rates = device && 'profibus' in device ? device.profibus.transmissionRates : []
      return rates.length === 0 || rates.includes(rate)
    }),
  )
  const usual = common.includes(1500) ? 1500 : common.at(-1)
  return [
    {
      code: 'noBitRate',
      what: 'The bit rate',
      is: 'not chosen yet',
      wants: `all stations take ${common.length === 0 ? 'no rate in common' : `${common.join(', ')} kbit/s`}`,
      severity: 'warning',
      fixes: usual
        ? [
            {
              label: `Set the bit rate to ${usual} kbit/s`,
              of: 'network',
              settings: { bitRateKbit: usual },
            },
          ]
        : [],
    },
  ]
}

/** Metres of all spurs of a segment together up to a bit rate in kbit/s; none above 1.5 Mbit/s
 *  (PROFIBUS installation guideline, from memory). */
const spurLengths: readonly (readonly [number, number])[] = [
  [93.75, 96],
  [187.5, 75],
  [500, 30],
  [1500, 10],
]

export const profibusTimes = {
  bitRate: ({ bitRateKbit }: Settings) =>
    bitRateKbit === null ? null : Math.round(bitRateKbit * 1000),
  traffic: (_: Settings, view: WireStation): Traffic => {
    const { watchdogMs } = view.station.settings as { watchdogMs?: number }
    return {
      frameBytes: charactersOf(view),
      updateTimeUs: { in: null, out: null },
      watchdogUs: watchdogMs ? watchdogMs * 1000 : null,
    }
  },
  cycle: ({ bitRateKbit }: Settings, stations: readonly WireStation[]): Cycle => ({
    cycleUs:
      bitRateKbit === null
        ? null
        : (stations.reduce((sum, view) => sum + exchangeBits(bitRateKbit, view), 0) * 1000) /
          bitRateKbit,
    framesPerCycle: null,
    packetsPerSecond: null,
  }),
  faults: faultsOf,
  networkFaults,
  segmentM: ({ bitRateKbit }: Settings) =>
    segmentLengths.find(([kbits]) => kbits === bitRateKbit)?.[1] ?? null,
  spursM: ({ bitRateKbit }: Settings) =>
    bitRateKbit === null ? null : (spurLengths.find(([to]) => bitRateKbit <= to)?.[1] ?? 0),
  segmentNodes: 32,
} satisfies WireTimes
