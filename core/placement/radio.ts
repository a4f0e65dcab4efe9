import type { DerivedModule, DerivedStation } from '../derive/derive'

/** How far the radio of a gateway is used: each device takes its share of what the gateway has room
 *  for at that pace (common practice). */
export interface RadioLoad {
  /** 1: full. */
  readonly share: number
  /** Devices that send more often than the gateway takes at all. */
  readonly tooFast: readonly DerivedModule[]
  /** Devices of which nobody said how often they send; they count as the slowest. */
  readonly unsaid: number
  readonly fastestS: number
}

/** Null where the sheet says nothing of a radio. */
export function radioLoad({ device, modules }: DerivedStation): RadioLoad | null {
  const lines = device && 'sheet' in device ? (device.sheet.radio ?? []) : []
  if (lines.length === 0) return null
  const byPace = [...lines].sort((a, b) => b.everyS - a.everyS)
  const devices = modules.filter(({ row }) => row !== null)
  const tooFast: DerivedModule[] = []
  let share = 0
  for (const module of devices) {
    const everyS = module.row!.sendsEveryS ?? byPace[0]!.everyS
    // The next pace that is not slower than the device.
    const line = byPace.find((one) => one.everyS <= everyS)
    if (line) share += 1 / line.devices
    else tooFast.push(module)
  }
  return {
    share,
    tooFast,
    unsaid: devices.filter(({ row }) => row!.sendsEveryS === null).length,
    fastestS: byPace.at(-1)!.everyS,
  }
}
