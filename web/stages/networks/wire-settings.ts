import { canRates } from '@kataxis/core'
import { plainChoices, type Choice } from '../../parts/choices'

/** A setting of a network or station that is about its wire, as a field shows it. Which of them a row
 *  has, its kind decides. */
export interface WireSetting {
  readonly key: string
  readonly label: string
  readonly unit?: string
  readonly min?: number
  readonly max?: number
  /** May be left open; then it says this. */
  readonly open?: string
  readonly choices?: readonly Choice<number>[]
  /** It holds or does not. */
  readonly yes?: true
  /** Left out while this one holds. */
  readonly unless?: string
}

const powersOfTwo = plainChoices([1, 2, 4, 8, 16, 32, 64, 128, 256, 512])
const kbits = [9.6, 19.2, 45.45, 93.75, 187.5, 500, 1500, 3000, 6000, 12_000]

export const networkSettings: readonly WireSetting[] = [
  {
    key: 'sendClockUs',
    label: 'Send clock',
    choices: [250, 500, 1000, 2000, 4000].map((us) => ({ value: us, label: `${us / 1000} ms` })),
  },
  {
    key: 'bitRateKbit',
    label: 'Bit rate',
    choices: kbits.map((rate) => ({ value: rate, label: `${rate} kbit/s` })),
  },
  {
    key: 'canKbit',
    label: 'Bit rate',
    open: 'not chosen',
    choices: canRates.map((rate) => ({ value: rate, label: `${rate} kbit/s` })),
  },
  { key: 'masterClass', label: 'Class of the master', choices: plainChoices([1, 2]) },
  { key: 'masterAddress', label: 'Bus address of the controller', min: 0, max: 125 },
  { key: 'cycleUs', label: 'Wished cycle', unit: 'µs', min: 50, max: 1_000_000, open: 'open' },
  { key: 'requestMs', label: 'Asked every', unit: 'ms', min: 1, max: 3_600_000 },
]

export const stationSettings: readonly WireSetting[] = [
  { key: 'inputRatio', label: 'Reduction ratio in', open: 'smallest', choices: powersOfTwo },
  {
    key: 'outputRatio',
    label: 'Reduction ratio out',
    open: 'smallest',
    choices: powersOfTwo,
    unless: 'sameBothWays',
  },
  { key: 'sameBothWays', label: 'Outputs as often as inputs', yes: true },
  { key: 'watchdogFactor', label: 'Watchdog factor', min: 1, max: 255 },
  { key: 'dataHoldFactor', label: 'Data hold factor', min: 1, max: 255 },
  { key: 'watchdogMs', label: 'Watchdog', unit: 'ms', min: 0, max: 650_250 },
  {
    key: 'inputIntervalUs',
    label: 'Requested interval in',
    unit: 'µs',
    min: 100,
    max: 4_294_967_295,
    open: 'as described',
  },
  {
    key: 'outputIntervalUs',
    label: 'Requested interval out',
    unit: 'µs',
    min: 100,
    max: 4_294_967_295,
    open: 'as described',
  },
  {
    key: 'timeoutMultiplier',
    label: 'Time-out multiplier',
    choices: plainChoices([4, 8, 16, 32, 64, 128, 256, 512]),
  },
  { key: 'isMulticast', label: 'Sends to many at once (multicast)', yes: true },
]
