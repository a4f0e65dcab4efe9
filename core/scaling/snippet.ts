import { rightScaling, sensorOf, type Chain } from './chain'
import { typeBounds, type RawType } from '../vocabulary/raw-format'

/** How a program computes. */
export const arithmetics = ['REAL', 'DINT', 'INT'] as const
export type Arithmetic = (typeof arithmetics)[number]

export interface Snippet {
  /** Structured Text by IEC 61131-3. */
  readonly text: string
  /** What goes wrong in it; null where nothing does. */
  readonly warning: string | null
}

/** A REAL literal (IEC 61131-3, 6.3.2, from memory): always with a point. */
export const realLiteral = (value: number) => {
  const [mantissa, exponent] = String(Number(value.toPrecision(9))).split('e') as [string, string?]
  return `${mantissa.includes('.') ? mantissa : `${mantissa}.0`}${exponent === undefined ? '' : `E${exponent.replace('+', '')}`}`
}
const nothing = 1e-9

/** `+ b` or `− b`, and nothing for zero. */
const plus = (value: number, words = realLiteral) =>
  Math.abs(value) < nothing ? '' : value < 0 ? ` - ${words(-value)}` : ` + ${words(value)}`

/** A statement that scales the counts of `raw` into `target`. In whole numbers the value comes in
 *  units of 10^−`decimals`, and products that the type cannot hold are warned of. Null where the
 *  chain has no scaling. */
export function scalingSnippet(
  chain: Chain,
  {
    raw,
    target,
    arithmetic,
    decimals,
    share: shareName = 'share',
  }: {
    raw: string
    target: string
    arithmetic: Arithmetic
    decimals: number
    /** The variable that a curve is read at. */
    share?: string
  },
): Snippet | null {
  const right = rightScaling(chain)
  if (!right) return null
  const { characteristic, format } = chain
  const isSensor = sensorOf(chain.channel) !== null
  if (arithmetic === 'REAL') {
    const counts = format.type === 'REAL' ? raw : `${format.type}_TO_REAL(${raw})`
    const share = `(${counts}${plus(-right.rawLow)}) / ${realLiteral(right.rawHigh - right.rawLow)}`
    if (characteristic.kind === 'root' && !isSensor)
      return {
        text: `${target} := SQRT(MAX(0.0, ${share})) * ${realLiteral(right.high - right.low)}${plus(right.low)};`,
        warning: null,
      }
    if (characteristic.kind === 'table' && !isSensor)
      return { text: tableText(characteristic.points, share, target, shareName), warning: null }
    return {
      text: `${target} := ${share} * ${realLiteral(right.high - right.low)}${plus(right.low)};`,
      warning: null,
    }
  }
  const factor = 10 ** decimals
  const [rawLow, rawSpan, low, span] = [
    right.rawLow,
    right.rawHigh - right.rawLow,
    right.low * factor,
    (right.high - right.low) * factor,
  ].map(Math.round) as [number, number, number, number]
  if (characteristic.kind !== 'linear' && !isSensor)
    return { text: '', warning: 'A curved characteristic is computed with REAL.' }
  if (format.type === 'REAL')
    return { text: '', warning: 'The module sends REAL; whole numbers would lose what it says.' }
  const counts = format.type === arithmetic ? raw : `${format.type}_TO_${arithmetic}(${raw})`
  const text = `${target} := (${counts}${plus(-rawLow, String)}) * ${span} / ${rawSpan}${plus(low, String)};`
  return {
    text:
      decimals === 0 ? text : `${text} (* in units of ${Number((1 / factor).toPrecision(3))} *)`,
    warning: overflowOf(chain, arithmetic, rawLow, rawSpan, low, span),
  }
}

/** The largest numbers on the way through the integer statement, against what the type holds. */
function overflowOf(
  { format }: Chain,
  type: Exclude<RawType, 'REAL'>,
  rawLow: number,
  rawSpan: number,
  low: number,
  span: number,
): string | null {
  const [least, most] = typeBounds[type]
  const ends = [
    Math.max(format.least, typeBounds[format.type][0]),
    Math.min(format.most, typeBounds[format.type][1]),
  ]
  for (const counts of ends)
    if (counts > most || counts < least)
      return `${type} does not hold ${counts} counts; take ${type === 'INT' ? 'DINT' : 'LINT'}.`
  const widest = ends
    .map((counts) => (counts - rawLow) * span)
    .sort((a, b) => Math.abs(b) - Math.abs(a))[0]!
  if (widest > most || widest < least)
    return `On the way ${widest} comes up, more than ${type} holds (${most}): it overflows. Take ${type === 'INT' ? 'DINT or ' : 'LINT or '}REAL, or fewer decimals.`
  const value = Math.max(Math.abs(low), Math.abs(low + span))
  return value > most
    ? `The value reaches ${value}, more than ${type} holds.`
    : Math.abs(span) < Math.abs(rawSpan) / 10
      ? `One unit of the result is ${Math.round(Math.abs(rawSpan / span))} counts: resolution is lost. Take more decimals.`
      : null
}

function tableText(
  points: readonly (readonly [number, number])[],
  share: string,
  target: string,
  at: string,
): string {
  const lines = [`${at} := ${share} * 100.0;`]
  for (let i = 1; i < points.length; i++) {
    const [[x0, y0], [x1, y1]] = [points[i - 1]!, points[i]!]
    const last = i === points.length - 1
    const head =
      points.length === 2
        ? ''
        : i === 1
          ? `IF ${at} < ${realLiteral(x1)} THEN `
          : last
            ? 'ELSE '
            : `ELSIF ${at} < ${realLiteral(x1)} THEN `
    lines.push(
      `${head}${target} := ${realLiteral(y0)} + (${at}${plus(-x0)}) * ${realLiteral((y1 - y0) / (x1 - x0))};`,
    )
  }
  if (points.length > 2) lines.push('END_IF;')
  return lines.join('\n')
}
