import { formatAddress } from '../../addressing/notations'
import {
  notationOf,
  type Derived,
  type DerivedModule,
  type DerivedStation,
} from '../../derive/derive'
import { wordParameterValue } from '../../parameters'
import { safetyConfigurationOf, safetyNetworkNumberOf } from '../../protocols/ethernet-ip/safety'
import { ipOf } from '../../protocols/settings'
import {
  choicesOf,
  failSafeParts,
  isConfigurationStale,
  nodeReference,
  type FailSafePart,
} from '../../safety'

/** `stale`: what it was entered for has changed since. */
export type SafetyState = 'ok' | 'missing' | 'stale'

/** A fail-safe submodule as it is handed over. */
export interface FailSafeItem {
  readonly network: string
  readonly station: string
  readonly slot: number
  readonly subslot: number
  readonly module: string
  readonly orderNumber: string | null
  /** Where its data begin in the controller's image; null in a direction that it does not have. */
  readonly input: string | null
  readonly output: string | null
  readonly sourceAddress: number
  readonly destinationAddress: number
  readonly watchdogMs: number
  readonly parameterCrc: number
  /** Every F parameter with its value, and in words. */
  readonly parameters: readonly {
    readonly name: string
    readonly value: number | string
    readonly words: string
  }[]
  /** The block as the device gets it, octets in hex. */
  readonly octets: string
  /** Over the module's own parameters, as its maker's tool gave it; null where it has none. */
  readonly iParameterCrc: {
    readonly value: number | null
    readonly state: SafetyState
    readonly by: string
    readonly at: string
  } | null
}

/** A CIP safety device as it is handed over. */
export interface CipSafetyItem {
  readonly network: string
  readonly station: string
  readonly safetyNetworkNumber: string
  readonly nodeReference: string
  readonly signature: string
  readonly madeAt: string
  readonly by: string
  readonly at: string
  readonly state: SafetyState
}

/** All that is fail-safe in a plan, in the order of the Board. */
export function safetyItems(derived: Derived): {
  readonly modules: FailSafeItem[]
  readonly devices: CipSafetyItem[]
} {
  const modules: FailSafeItem[] = []
  const devices: CipSafetyItem[] = []
  for (const { networks } of derived.controllers) {
    for (const { network, stations } of networks) {
      for (const view of stations) {
        for (const part of failSafeParts(view, derived.catalog))
          modules.push(moduleItem(derived, network.name, view, part))
        const device = deviceItem(derived, network.name, view, safetyNetworkNumberOf(network))
        if (device) devices.push(device)
      }
    }
  }
  return { modules, devices }
}

function moduleItem(
  derived: Derived,
  network: string,
  view: DerivedStation,
  { module, placed, bytes, f, sum, own }: FailSafePart,
): FailSafeItem {
  const subslot = placed.subslot ?? 1
  const chosen = choicesOf(view, module).values[placed.key]
  const computed: Readonly<Record<string, number>> = {
    F_Par_CRC: f.parameterCrc,
    ...(sum && { F_iPar_CRC: sum.crc }),
  }
  return {
    network,
    station: view.station.name,
    slot: module.slot,
    subslot,
    module: module.described?.name ?? '',
    orderNumber: module.described?.orderNumber ?? null,
    input: addressOf(derived, view, module, subslot, 'in'),
    output: addressOf(derived, view, module, subslot, 'out'),
    sourceAddress: f.sourceAddress,
    destinationAddress: f.destinationAddress,
    watchdogMs: f.watchdogMs,
    parameterCrc: f.parameterCrc,
    parameters: placed.record.parameters.map((parameter) => {
      const value = computed[parameter.key] ?? chosen?.[parameter.key] ?? parameter.default
      return { name: parameter.key, value, words: wordParameterValue(parameter, value) }
    }),
    octets: bytes,
    iParameterCrc: f.hasIParameterCrc
      ? {
          value: sum?.crc ?? null,
          state: !sum ? 'missing' : sum.over === own ? 'ok' : 'stale',
          by: sum?.by ?? '',
          at: sum?.at ?? '',
        }
      : null,
  }
}

function addressOf(
  { plan }: Derived,
  view: DerivedStation,
  module: DerivedModule,
  subslot: number,
  direction: 'in' | 'out',
): string | null {
  const placed = [...view.blocks, ...view.inside].find(
    ({ module: { id }, block }) =>
      id === module.id && block.subslot === subslot && block.direction === direction,
  )
  return (
    (placed &&
      formatAddress(
        { direction, byte: placed.byte, bit: 0, bits: 8 },
        notationOf(plan, view.station),
      )) ??
    null
  )
}

function deviceItem(
  { catalog }: Derived,
  network: string,
  view: DerivedStation,
  number: string,
): CipSafetyItem | null {
  const reference = nodeReference(number, ipOf(view.station))
  const entered = safetyConfigurationOf(view.station)
  if (!reference && !entered) return null
  return {
    network,
    station: view.station.name,
    safetyNetworkNumber: number,
    nodeReference: reference ?? '',
    signature: entered?.signature ?? '',
    madeAt: entered?.madeAt ?? '',
    by: entered?.by ?? '',
    at: entered?.at ?? '',
    state: !entered ? 'missing' : isConfigurationStale(view, catalog) ? 'stale' : 'ok',
  }
}
