import type { Catalog } from '../catalog/catalog'
import type { DerivedStation } from '../derive/derive'
import { encodePlaced, recordsOfPlaced } from '../parameters/placed'
import { choicesOf, signatureOf } from './modules'

/** Octets of a safety network number: milliseconds since midnight (4) and days since 1972-01-01 (2), both UTC, highest octet of the days first
 *  (CIP Vol. 5, time-based format, from memory). Hex without blanks. */
export function timeBasedNetworkNumber(now: Date): string {
  const dayMs = 86_400_000
  const sinceEpoch = now.getTime() - Date.UTC(1972, 0, 1)
  const days = Math.floor(sinceEpoch / dayMs)
  return days.toString(16).padStart(4, '0') + (sinceEpoch - days * dayMs).toString(16).padStart(8, '0')
}

/** What tells a node apart in CIP safety: the safety network number of its network and its address there. */
export function nodeReference(networkNumber: string, address: string): string | null {
  return networkNumber === '' || address === '' ? null : `${networkNumber.match(/..../g)!.join('_')} · ${address}`
}

/** SHA-256 over the octets of all parameters of a station, which a configuration signature was entered for. */
export function stationParameterSignature(view: DerivedStation, catalog: Catalog): string {
  return signatureOf(view.modules.flatMap((module) => {
    if (!module.described) return []
    const { values } = choicesOf(view, module)
    return recordsOfPlaced(catalog, view.station.file, module.described, module.plugged).map((placed) => `${module.slot} ${placed.key} ${encodePlaced(placed, values[placed.key]).bytes}`)
  }))
}
