import type { SignalFacts } from '../plan/model'

export type EntityParameters = NonNullable<SignalFacts['ex']>

/** Names, units and whose they are, in the order in which somebody reads them off the
 *  certificates. */
export const entityParameters = [
  ['u0', 'U₀', 'V', 'channel'],
  ['i0', 'I₀', 'mA', 'channel'],
  ['p0', 'P₀', 'mW', 'channel'],
  ['c0', 'C₀', 'nF', 'channel'],
  ['l0', 'L₀', 'mH', 'channel'],
  ['ui', 'Uᵢ', 'V', 'device'],
  ['ii', 'Iᵢ', 'mA', 'device'],
  ['pi', 'Pᵢ', 'mW', 'device'],
  ['ci', 'Cᵢ', 'nF', 'device'],
  ['li', 'Lᵢ', 'mH', 'device'],
  ['cableC', 'C cable', 'nF', 'cable'],
  ['cableL', 'L cable', 'mH', 'cable'],
] as const satisfies readonly (readonly [
  keyof EntityParameters,
  string,
  string,
  'channel' | 'device' | 'cable',
])[]

export interface EntityLine {
  readonly words: string
  readonly isMet: boolean
}
export interface EntityCheck {
  readonly lines: readonly EntityLine[]
  /** Cᵢ and Lᵢ both exceed a hundredth of C₀ and L₀, so that these count half. */
  readonly isHalved: boolean
  readonly missing: readonly string[]
}

/** IEC 60079-25: a simple intrinsically safe circuit is safe where U₀ ≤ Uᵢ, I₀ ≤ Iᵢ, P₀ ≤ Pᵢ, C₀ ≥
 *  Cᵢ + cable and L₀ ≥ Lᵢ + cable; where Cᵢ and Lᵢ without cable both exceed 1 % of C₀ and L₀,
 *  those are halved. V, mA, mW, nF, mH. */
export function entityCheck(ex: EntityParameters): EntityCheck {
  const missing = entityParameters
    .filter(([key]) => ex[key] === undefined)
    .map(([, words]) => words)
  const of = (key: keyof EntityParameters) => ex[key] ?? NaN
  const isHalved = of('ci') > of('c0') * 0.01 && of('li') > of('l0') * 0.01
  const share = isHalved ? 0.5 : 1
  const line = (
    words: string,
    isMet: boolean,
    ...used: (keyof EntityParameters)[]
  ): EntityLine[] => (used.some((key) => ex[key] === undefined) ? [] : [{ words, isMet }])
  const half = isHalved ? ' ÷ 2' : ''
  const [c, l] = [of('ci') + of('cableC'), of('li') + of('cableL')]
  return {
    missing,
    isHalved,
    lines: [
      ...line(`U₀ ${of('u0')} V ≤ Uᵢ ${of('ui')} V`, of('u0') <= of('ui'), 'u0', 'ui'),
      ...line(`I₀ ${of('i0')} mA ≤ Iᵢ ${of('ii')} mA`, of('i0') <= of('ii'), 'i0', 'ii'),
      ...line(`P₀ ${of('p0')} mW ≤ Pᵢ ${of('pi')} mW`, of('p0') <= of('pi'), 'p0', 'pi'),
      ...line(
        `C₀ ${of('c0')} nF${half} ≥ Cᵢ + cable ${short(c)} nF`,
        of('c0') * share >= c,
        'c0',
        'ci',
        'cableC',
        'l0',
        'li',
      ),
      ...line(
        `L₀ ${of('l0')} mH${half} ≥ Lᵢ + cable ${short(l)} mH`,
        of('l0') * share >= l,
        'l0',
        'li',
        'cableL',
        'c0',
        'ci',
      ),
    ],
  }
}

function short(value: number): number {
  return Number(value.toPrecision(6))
}
