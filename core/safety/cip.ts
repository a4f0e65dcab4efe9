/** Octets of a safety network number: milliseconds since midnight (4) and days since 1972-01-01
 *  (2), both UTC, highest octet of the days first (CIP Vol. 5, time-based format, from memory). Hex
 *  without blanks. */
export function timeBasedNetworkNumber(now: Date): string {
  const dayMs = 86_400_000
  const sinceEpoch = now.getTime() - Date.UTC(1972, 0, 1)
  const days = Math.floor(sinceEpoch / dayMs)
  return (
    days.toString(16).padStart(4, '0') + (sinceEpoch - days * dayMs).toString(16).padStart(8, '0')
  )
}

/** What tells a node apart in CIP safety: the safety network number of its network and its address
 *  there. */
export function nodeReference(networkNumber: string, address: string): string | null {
  return networkNumber === '' || address === ''
    ? null
    : `${networkNumber.match(/..../g)!.join('_')} · ${address}`
}
