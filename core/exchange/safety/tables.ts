import type { Derived } from '../../derive/derive'
import type { SheetTable } from '../xlsx'
import { safetyItems, type SafetyState } from './items'

const hex = (value: number, digits: number) => `0x${value.toString(16).padStart(digits, '0')}`
const stateWords: Readonly<Record<SafetyState, string>> = {
  ok: '',
  missing: 'missing',
  stale: 'STALE',
}

/** Fail-safe submodules with addresses, times and check sums. */
export function safetyTable(derived: Derived): SheetTable {
  return {
    name: 'Fail-safe',
    columns: [
      ['Station', 18],
      ['Slot', 6],
      ['Module', 28],
      ['Inputs at', 11],
      ['Outputs at', 11],
      ['F source', 9],
      ['F destination', 13],
      ['Monitoring, ms', 14],
      ['F_Par_CRC', 11],
      ['F_iPar_CRC', 13],
      ['Entered by', 16],
      ['Entered at', 20],
      ['State', 9],
    ],
    rows: safetyItems(derived).modules.map((one) => [
      ...[one.station, one.slot, one.module, one.input, one.output],
      ...[one.sourceAddress, one.destinationAddress, one.watchdogMs, hex(one.parameterCrc, 4)],
      one.iParameterCrc
        ? one.iParameterCrc.value === null
          ? ''
          : hex(one.iParameterCrc.value, 8)
        : '',
      ...[one.iParameterCrc?.by ?? '', one.iParameterCrc?.at ?? ''],
      stateWords[one.iParameterCrc?.state ?? 'ok'],
    ]),
  }
}

/** Every F parameter of every fail-safe submodule. */
export function fParameterTable(derived: Derived): SheetTable {
  return {
    name: 'F parameters',
    columns: [
      ['Station', 18],
      ['Slot', 6],
      ['Module', 28],
      ['Parameter', 20],
      ['Value', 12],
      ['In words', 24],
    ],
    rows: safetyItems(derived).modules.flatMap(({ station, slot, module, parameters }) =>
      parameters.map(({ name, value, words }) => [station, slot, module, name, value, words]),
    ),
  }
}

/** CIP safety: what identifies each device, and the configuration signature that was entered. */
export function cipSafetyTable(derived: Derived): SheetTable {
  return {
    name: 'CIP safety',
    columns: [
      ['Station', 18],
      ['Safety network number', 22],
      ['Node reference', 34],
      ['Configuration signature', 22],
      ['Made', 24],
      ['Entered by', 20],
      ['Entered at', 24],
      ['State', 9],
    ],
    rows: safetyItems(derived).devices.map((one) => [
      ...[one.station, one.safetyNetworkNumber, one.nodeReference, one.signature],
      ...[one.madeAt, one.by, one.at, stateWords[one.state]],
    ]),
  }
}

/** Who released what is fail-safe, and whether it is still that. */
export function safetyReleaseTable(derived: Derived, signature: string | null): SheetTable {
  const release = derived.plan.project.safetyRelease
  const state = !release ? 'not released' : release.signature === signature ? 'released' : 'STALE'
  return {
    name: 'Release',
    columns: [
      ['Signature now', 66],
      ['Signature released', 66],
      ['By', 20],
      ['At', 24],
      ['State', 12],
    ],
    rows:
      signature === null && !release
        ? []
        : [[signature, release?.signature ?? '', release?.by ?? '', release?.at ?? '', state]],
  }
}
