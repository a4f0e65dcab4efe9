import { z } from 'zod'
import type { EthercatTraits } from '../../catalog/traits'
import type { Clocks, WireFault } from '../traffic'
import type { WireStation } from '../wire'

export const ethercatStationTimes = {
  /** How the device is timed, by the name of its mode; empty: the first one of its description. */
  operationMode: z.string().max(200).default(''),
} as const

type Mode = EthercatTraits['operationModes'][number]

const modesOf = ({ device }: WireStation): readonly Mode[] =>
  device && 'ethercat' in device ? device.ethercat.operationModes : []

const chosenName = ({ station }: WireStation) =>
  (station.settings as { operationMode?: string }).operationMode ?? ''

/** The mode that a slave is timed by; null where its description has none, or not the chosen one. */
export function modeOf(view: WireStation): Mode | null {
  const name = chosenName(view)
  const modes = modesOf(view)
  return (name === '' ? modes[0] : modes.find((mode) => mode.name === name)) ?? null
}

/** Slaves whose clocks run together: the first of them on the wire is the reference (ETG.1000-4,
 *  from memory). A Sync0 cycle of 0 is the network's; AssignActivate of 0 is no clock (ETG.2000). */
export function clocksOf(cycleUs: number | null, stations: readonly WireStation[]): Clocks {
  const timed = stations.flatMap((view) => {
    const mode = modeOf(view)
    return mode && mode.assignActivate !== 0
      ? [
          {
            id: view.id,
            mode: mode.name,
            cycleUs: mode.sync0CycleNs ? mode.sync0CycleNs / 1000 : cycleUs,
            shiftUs: (mode.sync0ShiftNs ?? 0) / 1000,
          },
        ]
      : []
  })
  return { reference: timed[0]?.id ?? null, timed }
}

/** What is wrong with the clock of a slave. */
export function clockFaults(cycleUs: number | null, view: WireStation): WireFault[] {
  const name = chosenName(view)
  const mode = modeOf(view)
  const names = modesOf(view).map((one) => one.name)
  if (name !== '' && !mode)
    return [
      {
        code: 'mode',
        what: 'Its operation mode',
        is: `"${name}"`,
        wants: names.length === 0 ? 'its description has none' : `it has ${names.join(', ')}`,
        severity: 'blocker',
        fixes: [{ label: 'Take the first mode', of: 'station', settings: { operationMode: '' } }],
      },
    ]
  if (!mode || mode.assignActivate === 0) return []
  if (cycleUs === null)
    return [
      {
        code: 'clockCycle',
        what: 'The cycle that its clock needs',
        is: 'not chosen yet',
        wants: 'it has to be entered for the network',
        severity: 'warning',
      },
    ]
  const sync0Us = (mode.sync0CycleNs ?? 0) / 1000
  if (sync0Us === 0 || sync0Us % cycleUs === 0 || cycleUs % sync0Us === 0) return []
  return [
    {
      code: 'sync0',
      what: 'The cycle of its clock',
      is: `${sync0Us} µs`,
      wants: `it has to be a multiple or a part of the network’s ${cycleUs} µs`,
      severity: 'blocker',
      fixes: [
        { label: `Set the cycle to ${sync0Us} µs`, of: 'network', settings: { cycleUs: sync0Us } },
      ],
    },
  ]
}
