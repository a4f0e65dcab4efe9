import punycode from 'punycode/punycode.es6.js'

/** What is wrong with a PROFINET station name. IEC 61158-6-10 (clauses from memory): at most 240
 *  characters, labels divided by dots, each 1–63 of a–z, 0–9 and dash, no dash at either end; not
 *  four numbers like an address; the first label not like a port. Other letters travel in their
 *  IDNA form (RFC 3490), and the limits count that. */
export function stationNameFault(name: string): string | null {
  if (name === '') return 'it is empty'
  const upper = /[A-Z]/.exec(name)
  if (upper) return `the upper-case letter "${upper[0]}" is not allowed`
  // Control characters, blanks and all ASCII signs but dash and dot.
  // eslint-disable-next-line no-control-regex
  const illegal = /[\x00-\x20!-,/:-@[-`{-\x7f]/.exec(name)
  if (illegal) return `the character "${illegal[0]}" is not allowed`
  const wire = wireName(name)
  if (wire.length > 240) return `its ${wire.length} characters on the wire are more than 240`
  if (/^\d{1,3}(\.\d{1,3}){3}$/.test(name)) return 'it looks like an IP address'
  for (const label of wire.split('.')) {
    if (label === '') return 'a part between two dots is empty'
    if (label.length > 63)
      return `the part "${label.slice(0, 12)}…" has ${label.length} characters; at most 63 are allowed`
    if (label.startsWith('-') || label.endsWith('-'))
      return `the part "${label}" begins or ends with a dash`
  }
  if (/^port-\d{3}(-\d{5})?(\.|$)/.test(name)) return 'its first part looks like the name of a port'
  return null
}

/** The name as it stands in frames: IDNA with compatibility forms folded. Names are the same where
 *  this is. */
export function wireName(name: string): string {
  return /^[\x20-\x7e]*$/.test(name)
    ? name.toLowerCase()
    : punycode.toASCII(name.normalize('NFKC').toLowerCase())
}

/** A legal name as near as possible to what was typed. */
export function legalStationName(name: string): string {
  const letters = name.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()
  const labels = letters
    .replace(/[^a-z0-9.]+/g, '-')
    .split('.')
    .map((label) => label.replace(/^-+|-+$/g, '').slice(0, 63))
    .filter(Boolean)
  const legal = labels.join('.').slice(0, 240)
  return stationNameFault(legal) === null ? legal : `station-${legal}`.replace(/[.-]+$/, '')
}

/** `intake-2` after `intake`, `intake-1`…; keeps the number's width. `taken` are names as they
 *  stand on the wire. */
export function nextName(name: string, taken: ReadonlySet<string>): string {
  const match = /^(.*?)(\d+)?$/.exec(name)!
  const stem = match[2] === undefined ? `${name}-` : match[1]!
  const width = match[2]?.length ?? 1
  for (let number = match[2] === undefined ? 2 : Number(match[2]); ; number++) {
    const candidate = `${stem}${String(number).padStart(width, '0')}`
    if (!taken.has(wireName(candidate))) return candidate
  }
}
