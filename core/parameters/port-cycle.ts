/** Time bases of the cycle octet: bits 7 and 6 name one, bits 5 to 0 count it (IO-Link interface
 *  specification 1.1, annex B.1.3, from memory). */
const bases = [
  { offsetUs: 0, stepUs: 100, least: 4, most: 63 },
  { offsetUs: 6_400, stepUs: 400, least: 0, most: 63 },
  { offsetUs: 32_000, stepUs: 1_600, least: 0, most: 63 },
] as const

/** The octet that says a port's cycle time in µs; 0 µs means as fast as the device can. Null where
 *  no octet says that time. */
export function portCycleOctet(us: number): number | null {
  if (us === 0) return 0
  for (const [base, { offsetUs, stepUs, least, most }] of bases.entries()) {
    const count = (us - offsetUs) / stepUs
    if (Number.isInteger(count) && count >= least && count <= most) return (base << 6) | count
  }
  return null
}

/** The cycle time in µs that an octet says; 0: as fast as the device can. Null where the octet is
 *  reserved. */
export function portCycleOf(octet: number): number | null {
  if (octet === 0) return 0
  const base = bases[octet >> 6]
  const count = octet & 63
  return base && count >= base.least ? base.offsetUs + count * base.stepUs : null
}

/** The shortest time in µs that an octet can say and that is not shorter than `us`; null above
 *  132.8 ms. */
export function nextPortCycle(us: number): number | null {
  for (const { offsetUs, stepUs, least, most } of bases) {
    const count = Math.max(least, Math.ceil((us - offsetUs) / stepUs))
    if (count <= most) return offsetUs + count * stepUs
  }
  return null
}
