/** What a port of a multi-device master is used for. */
export const portModes = ['off', 'device', 'auto', 'in', 'out'] as const
export type PortMode = (typeof portModes)[number]

export const portModeWords: Readonly<Record<PortMode, string>> = {
  off: 'off',
  device: 'device',
  auto: 'starts by itself',
  in: 'digital input',
  out: 'digital output',
}

/** What descriptions call the uses of a port (common practice), the more particular first. */
const known: readonly (readonly [PortMode, RegExp])[] = [
  ['auto', /auto/i],
  ['off', /\b(off|inactive|deactivated?|disabled?|not used|unused|none|aus)\b/i],
  ['in', /\b(digital )?(input|in|di)\b|\bstandard input\b/i],
  ['out', /\b(digital )?(output|out|do|dq)\b|\bstandard output\b/i],
  ['device', /\b(device|scan|manual|active|link|iol|communication)\b|io-?link/i],
]

/** The use of a port that a text means; null where it means none. */
export function portModeOf(text: string): PortMode | null {
  return known.find(([, words]) => words.test(text))?.[0] ?? null
}

/** The number of the port that a name is about, such as `Port 3 inputs`; null where it is about
 *  none. */
export function portNumberIn(name: string): number | null {
  const found =
    /\b(?:port|io-?link (?:ch\.?|channel)|iol(?:ink)? ?(?:ch\.?|channel)?)[ _-]?0*(\d{1,3})\b/i.exec(
      name,
    )
  return found ? Number(found[1]) : null
}
