import type { Channel } from '../../catalog/layout'
import type { Derived, DerivedModule, DerivedStation } from '../../derive/derive'
import type { SignalRow } from '../../plan/model'
import { rightScaling, sensorOf, type Scaling } from '../../scaling/chain'
import { realLiteral, scalingSnippet } from '../../scaling/snippet'
import { chainOf } from '../../signals/signal-chain'
import type { RawType } from '../../vocabulary/raw-format'
import type { VariableType } from './types'
import type { NamesOnce } from './names'

/** An analog signal in the process's unit, and the statement that makes one of the other. */
export interface Scaled {
  /** The variable that holds the value, a REAL. */
  readonly name: string
  readonly comment: string
  readonly statement: string
}

/** A function that scales: raw value and the two points of a straight line go in. */
export interface ScalingBlock {
  readonly name: string
  readonly comment: string
  readonly body: string
}

/** What the statements call, and the variable that a curve is read at. */
export interface ScalingBlocks {
  readonly linear: ScalingBlock
  readonly root: ScalingBlock
  readonly share: string
}

export const scalingInputs = ['raw', 'rawLow', 'rawHigh', 'low', 'high'] as const

export function scalingBlocks(once: NamesOnce): ScalingBlocks {
  const [linear, root] = [once('ScaleLinear', 'Scale'), once('ScaleRoot', 'Scale')]
  return {
    linear: {
      name: linear,
      comment: 'A straight line through two points',
      body: `${linear} := (raw - rawLow) / (rawHigh - rawLow) * (high - low) + low;`,
    },
    root: {
      name: root,
      comment: 'The root of the share, as of a flow that is measured by pressure',
      body: `${root} := SQRT(MAX(0.0, (raw - rawLow) / (rawHigh - rawLow))) * (high - low) + low;`,
    },
    share: once('share', 'share'),
  }
}

/** What a module's number is called where its octets are declared as bits (IEC 61131-3, 6.6.2.5.2):
 *  by its own type. */
function asNumber(raw: string, type: string, counts: RawType): string {
  if (type === counts) return raw
  return `${type}_TO_${counts}(${raw})`
}

const widths: Readonly<Record<RawType, number>> = {
  INT: 16,
  UINT: 16,
  DINT: 32,
  UDINT: 32,
  REAL: 32,
}

/** How an analog signal is scaled in the program, with the numbers that its whole way from process to
 *  counts gives; null where it is no number, or its way is not known. */
export function scaledOf(
  { catalog, plan }: Derived,
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
  signal: SignalRow,
  type: VariableType,
  blocks: ScalingBlocks,
  once: NamesOnce,
): Scaled | null {
  if (channel.kind !== 'analog' || typeof type !== 'string') return null
  const rules = plan.project
  const known = chainOf(catalog, rules, view, module, channel, signal)
  if (typeof known === 'string') return null
  const { chain, assumed } = known
  const right = rightScaling(chain)
  const counts = chain.format.type
  if (!right || widths[counts] !== channel.bits) return null
  const { characteristic } = chain
  const isCurved = characteristic.kind !== 'linear' && sensorOf(chain.channel) === null
  const name = (): string => once(`${signal.tag}_value`, 'value')
  const { unit } = chain.process
  const comment = [`${signal.tag}${unit === '' ? '' : ` in ${unit}`}`, ...assumed].join('; ')
  if (channel.direction === 'out') {
    if (isCurved) return null
    const own = name()
    const raw = call(blocks.linear, own, {
      rawLow: right.low,
      rawHigh: right.high,
      low: right.rawLow,
      high: right.rawHigh,
    })
    return {
      name: own,
      comment,
      statement: `${signal.tag} := ${fromReal(raw, counts, type)};`,
    }
  }
  const own = name()
  const raw = asNumber(signal.tag, type, counts)
  if (isCurved && characteristic.kind === 'table') {
    const snippet = scalingSnippet(chain, {
      raw,
      target: own,
      arithmetic: 'REAL',
      decimals: 0,
      share: blocks.share,
    })
    return snippet && { name: own, comment, statement: snippet.text }
  }
  const block = isCurved ? blocks.root : blocks.linear
  const real = counts === 'REAL' ? raw : `${counts}_TO_REAL(${raw})`
  return { name: own, comment, statement: `${own} := ${call(block, real, right)};` }
}

function fromReal(value: string, counts: RawType, type: string): string {
  const number = counts === 'REAL' ? value : `REAL_TO_${counts}(${value})`
  return counts === type ? number : `${counts}_TO_${type}(${number})`
}

function call(
  { name }: ScalingBlock,
  raw: string,
  { rawLow, rawHigh, low, high }: Scaling,
): string {
  const numbers = { rawLow, rawHigh, low, high }
  return `${name}(raw := ${raw}, ${Object.entries(numbers)
    .map(([input, value]) => `${input} := ${realLiteral(value)}`)
    .join(', ')})`
}
