/** Software revision in an identification and maintenance record: a letter and three numbers of one
 *  octet each (IEC 61158-6-10; from memory). */

/** The four octets; nobody knows one: zeros behind the letter. */
export function softwareOctets(software: string | null): readonly number[] {
  const text = software ?? ''
  const prefix = /^[A-Z]/.exec(text)?.[0] ?? 'V'
  const numbers = (text.match(/\d+/g) ?? []).map(Number)
  return [prefix.charCodeAt(0), ...[0, 1, 2].map((i) => (numbers[i] ?? 0) & 0xff)]
}

/** As text; null where all numbers are zero, which is what devices without one send. */
export function softwareOf(octets: Uint8Array): string | null {
  const [prefix = 0, ...numbers] = octets
  return numbers.every((number) => number === 0)
    ? null
    : `${String.fromCharCode(prefix)}${numbers.join('.')}`
}

/** A release as a description writes it, the way the record can tell it. */
export function softwareOnWire(release: string | null): string | null {
  return softwareOf(Uint8Array.from(softwareOctets(release)))
}
