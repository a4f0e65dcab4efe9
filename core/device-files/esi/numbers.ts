/** A whole number as ESI writes it: decimal or `#x…` (ETG.2000), `0x…` too. */
export function parseEsiNumber(text: string): number | null {
  const trimmed = text.trim()
  if (/^[+-]?\d+$/.test(trimmed)) return Number(trimmed)
  return /^[#0]x[0-9a-f]+$/i.test(trimmed) ? parseInt(trimmed.slice(2), 16) : null
}

/** Keys of modules, as ESI writes their numbers. */
export function hex(value: number): string {
  return `0x${value.toString(16).padStart(8, '0')}`
}

/** Key of a device in one revision. */
export function keyOf(productCode: number, revision: number): string {
  return `${hex(productCode)}.${hex(revision)}`
}
