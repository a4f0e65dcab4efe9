import { oneOr, plural } from '../vocabulary/plural'
import type { SwitchBank, SwitchStyle } from '../vocabulary/switch-bank'

/** Position of each switch from left to right: the digit of a rotary switch, 1 or 0 for ON and OFF,
 *  the jumper's place. */
export type Positions = readonly number[]

type Dip = Extract<SwitchBank, { style: 'dip-binary' | 'dip-weighted' }>
type Rotary = Extract<SwitchBank, { style: 'rotary-decimal' | 'rotary-hex' }>

export const isDip = (bank: SwitchBank): bank is Dip => bank.style.startsWith('dip')
export const isRotary = (bank: SwitchBank): bank is Rotary => bank.style.startsWith('rotary')
/** A number that is entered, where no switch has a position. */
export const isEntered = (
  bank: SwitchBank,
): bank is Extract<SwitchBank, { style: 'panel' | 'tool' }> =>
  bank.style === 'panel' || bank.style === 'tool'
/** The largest number that is entered where a device sheet names none. */
const mostEntered = 65_535
export const radixOf = (bank: Rotary) => (bank.style === 'rotary-hex' ? 16 : 10)

/** What each DIP switch counts, from left to right. */
export function weightsOf(bank: Dip): readonly number[] {
  if (bank.style === 'dip-weighted') return bank.weights
  const powers = Array.from({ length: bank.count }, (_, i) => 2 ** i)
  return bank.lsb === 'left' ? powers : powers.reverse()
}

/** How many switches there are. */
export function switchCount(bank: SwitchBank): number {
  return isRotary(bank) ? bank.digits : isDip(bank) ? weightsOf(bank).length : 1
}

/** The address that positions make; null where they are no positions of these switches or the
 *  device does not take it. */
export function addressAt(bank: SwitchBank, positions: Positions): number | null {
  const counted = countOf(bank, positions)
  if (counted === null) return null
  const address = counted + bank.offset
  return address < Math.max(0, bank.first ?? 0) || address > (bank.last ?? Infinity)
    ? null
    : address
}

function countOf(bank: SwitchBank, positions: Positions): number | null {
  if (positions.length !== switchCount(bank)) return null
  if (bank.style === 'jumper') return bank.positions[positions[0]!]?.value ?? null
  if (isEntered(bank))
    return positions[0]! >= 0 && positions[0]! <= mostEntered ? positions[0]! : null
  if (isRotary(bank)) {
    const radix = radixOf(bank)
    return positions.every((digit) => Number.isInteger(digit) && digit >= 0 && digit < radix)
      ? positions.reduce((sum, digit) => sum * radix + digit, 0)
      : null
  }
  const weights = weightsOf(bank)
  return positions.every((position) => position === 0 || position === 1)
    ? positions.reduce<number>(
        (sum, position, i) => sum + (position === bank.on ? weights[i]! : 0),
        0,
      )
    : null
}

/** How to set an address: of several ways the one with the fewest switches counting, largest
 *  weights first. Null where the switches cannot make it. */
export function positionsFor(bank: SwitchBank, address: number): Positions | null {
  const positions = waysTo[bank.style](bank as never, address - bank.offset)
  return positions && addressAt(bank, positions) === address ? positions : null
}

const makeable = new WeakMap<SwitchBank, ReadonlySet<number>>()

/** Whether switches can make an address; looked up, where `positionsFor` says how. */
export function canMake(bank: SwitchBank, address: number): boolean {
  let addresses = makeable.get(bank)
  if (!addresses) makeable.set(bank, (addresses = addressesOf(bank)))
  return addresses.has(address)
}

/** Every address that switches can make. */
function addressesOf(bank: SwitchBank): Set<number> {
  if (isEntered(bank)) {
    const first = Math.max(0, bank.first ?? 0)
    const last = bank.last ?? (bank.sets === 'lastOctet' ? 254 : mostEntered)
    return new Set(Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i))
  }
  const counts = isDip(bank)
    ? weightsOf(bank).reduce(
        (sums, weight) => new Set([...sums].flatMap((sum) => [sum, sum + weight])),
        new Set([0]),
      )
    : isRotary(bank)
      ? Array.from({ length: radixOf(bank) ** bank.digits }, (_, count) => count)
      : bank.positions.map(({ value }) => value)
  return new Set(
    [...counts]
      .map((count) => count + bank.offset)
      .filter(
        (address) => address >= Math.max(0, bank.first ?? 0) && address <= (bank.last ?? Infinity),
      ),
  )
}

const rotaryPositions = (bank: Rotary, count: number): Positions | null => {
  const radix = radixOf(bank)
  if (count < 0 || count >= radix ** bank.digits) return null
  return [...count.toString(radix).padStart(bank.digits, '0')].map((digit) =>
    Number.parseInt(digit, radix),
  )
}

/** Any weights: the subset with that sum, found by trying all of at most 2^16; of several with as
 *  few switches the one with the largest weights. */
const dipPositions = (bank: Dip, count: number): Positions | null => {
  const weights = weightsOf(bank)
  let best: Positions | null = null
  let fewest = Infinity
  let largest = 0
  for (let mask = 0; mask < 2 ** weights.length; mask++) {
    let sum = 0
    let counting = 0
    let squares = 0
    for (const [i, weight] of weights.entries()) {
      if ((mask >> i) % 2 === 0) continue
      sum += weight
      squares += weight * weight
      counting++
    }
    if (sum !== count || counting > fewest || (counting === fewest && squares <= largest)) continue
    fewest = counting
    largest = squares
    best = weights.map((_, i) => ((mask >> i) % 2 === 1 ? bank.on : 1 - bank.on))
  }
  return best
}

const waysTo: {
  [S in SwitchStyle]: (bank: Extract<SwitchBank, { style: S }>, count: number) => Positions | null
} = {
  'rotary-decimal': rotaryPositions,
  'rotary-hex': rotaryPositions,
  'dip-binary': dipPositions,
  'dip-weighted': dipPositions,
  jumper: (bank, count) => {
    const at = bank.positions.findIndex(({ value }) => value === count)
    return at < 0 ? null : [at]
  },
  panel: (_, count) => (count < 0 ? null : [count]),
  tool: (_, count) => (count < 0 ? null : [count]),
}

/** What to press and what to see, step by step, to enter an address where there are no switches;
 *  `ip` is the whole address of a station that has one. */
export function entrySteps(
  bank: Extract<SwitchBank, { style: 'panel' | 'tool' }>,
  address: number,
  ip = '',
): string[] {
  const count = String(address - bank.offset)
  if (bank.style === 'tool')
    return [
      bank.tool === '' ? 'Open the tool of the maker.' : `${bank.tool}.`,
      `Enter ${bank.sets === 'lastOctet' && ip !== '' ? ip : count} and write it to the device.`,
      ...(bank.powerCycle ? ['Switch the device off and on.'] : []),
      'Read it back: the tool shows the same after it has found the device again.',
    ]
  const octets = ip.split('.')
  return [
    bank.menu === '' ? 'Open the menu of the address.' : `Press ${bank.menu}.`,
    ...(bank.octetByOctet && octets.length === 4
      ? octets.map((octet, i) => `Octet ${i + 1}: set ${octet}; the display shows ${octet}.`)
      : [`Set ${count}; the display shows ${count}.`]),
    bank.store === '' ? 'Confirm it.' : `Store it: ${bank.store}.`,
    ...(bank.powerCycle ? ['Switch the device off and on.'] : []),
    'Open the menu again: it shows the same.',
  ]
}

/** The positions in words, switches numbered from the left. */
export function wordPositions(bank: SwitchBank, positions: Positions): string {
  if (bank.style === 'jumper') return `jumper on ${bank.positions[positions[0]!]!.label}`
  if (isEntered(bank)) return `entered as ${positions[0]!}`
  if (isRotary(bank))
    return `from left to right ${positions.map((digit) => digit.toString(radixOf(bank)).toUpperCase()).join(' – ')}`
  const numbersAt = (position: number) =>
    positions.flatMap((at, i) => (at === position ? [i + 1] : []))
  const words = (
    [
      [1, 'ON'],
      [0, 'OFF'],
    ] as const
  )
    .map(([position, word]) => [numbersAt(position), word] as const)
    .filter(([numbers]) => numbers.length > 0)
  return words
    .map(
      ([numbers, word]) =>
        `${numbers.length === positions.length ? 'all' : numbers.join(', ')} ${word}`,
    )
    .join('; ')
}

/** Positions as somebody reads them off a housing: `0 2 8`, `028`, `1C`, `10110000`, `on off on
 *  off`, the jumper's label. */
export function readPositions(
  bank: SwitchBank,
  text: string,
): { positions: Positions } | { fault: string } {
  const typed = text.trim()
  const count = switchCount(bank)
  if (bank.style === 'jumper') {
    const at = bank.positions.findIndex(({ label }) => label.toLowerCase() === typed.toLowerCase())
    return at < 0
      ? {
          fault: `"${typed}" is no place of the jumper; there are ${bank.positions.map(({ label }) => label).join(', ')}.`,
        }
      : { positions: [at] }
  }
  if (isEntered(bank)) {
    // Of a whole IP address the last octet counts.
    const number = typed.includes('.') ? typed.split('.').at(-1)! : typed
    return /^\d{1,5}$/.test(number)
      ? { positions: [Number(number)] }
      : { fault: `"${typed}" is no number or address as the display shows it.` }
  }
  const radix = isRotary(bank) ? radixOf(bank) : 2
  const words = typed
    .toLowerCase()
    .split(/[\s,;–-]+/)
    .filter(Boolean)
    .map((word) =>
      isDip(bank) && word === 'on' ? '1' : isDip(bank) && word === 'off' ? '0' : word,
    )
  const signs = words.length === 1 ? [...words[0]!] : words
  const positions = signs.map((sign) => (/^[0-9a-f]$/.test(sign) ? Number.parseInt(sign, 16) : NaN))
  const [wrong] = signs.filter((_, i) => !(positions[i]! < radix))
  if (wrong !== undefined)
    return {
      fault: `"${wrong}" is no position of ${isDip(bank) ? 'a DIP switch; type ON and OFF, or 1 and 0' : `a rotary switch with ${radix} positions`}.`,
    }
  if (positions.length !== count)
    return {
      fault: `There ${plural(count, 'is one switch', `are ${count} switches`)}; ${oneOr(positions.length, 'one position is', 'positions are')} given.`,
    }
  return { positions }
}
