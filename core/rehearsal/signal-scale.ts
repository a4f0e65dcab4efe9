import type { Catalog } from '../catalog/catalog'
import { kindOfChannel } from '../catalog/words'
import type { ProjectRow } from '../plan/model'
import { probe, rightScaling, type Chain } from '../scaling/chain'
import { chainOf } from '../signals/signal-chain'
import type { ChannelInData } from './channel-places'

/** How a signal's share of its range becomes the raw value of its channel: on or off, by the chain
 *  of its range, or as a plain number where no range is known. */
export type SignalScale =
  | { readonly kind: 'digital'; readonly unit: string; readonly span: number }
  | { readonly kind: 'chain'; readonly unit: string; readonly span: number; readonly chain: Chain }
  | { readonly kind: 'plain'; readonly unit: string; readonly span: number; readonly most: number }

/** Largest plain number used: what any number of that width can hold, signed or not. */
const plainMost = (bits: number) => 2 ** Math.min(30, Math.max(1, bits - 1)) - 1

export function signalScale(
  { view, module, channel, signal }: ChannelInData,
  catalog: Catalog,
  project: ProjectRow,
): SignalScale {
  if (channel.bits === 1 || channel.holds === 'boolean')
    return { kind: 'digital', unit: '', span: 1 }
  const kind = kindOfChannel(channel)
  const isAnalog = kind === 'AI' || kind === 'AO'
  const place = [view, module, channel, signal] as const
  const found = isAnalog ? chainOf(catalog, project, ...place) : ''
  if (typeof found !== 'string' && rightScaling(found.chain)) {
    const { process } = found.chain
    return {
      kind: 'chain',
      unit: process.unit,
      span: process.high - process.low,
      chain: found.chain,
    }
  }
  const most = plainMost(channel.bits)
  return { kind: 'plain', unit: '', span: most, most }
}

/** The raw value at a share of the range. */
export function rawAtShare(scale: SignalScale, share: number): number {
  if (scale.kind === 'digital') return share >= 0.5 ? 1 : 0
  if (scale.kind === 'plain') return Math.round(share * scale.most)
  const { low, high } = scale.chain.process
  return probe(scale.chain, 'process', low + share * (high - low)).raw ?? 0
}

export function shareAtRaw(scale: SignalScale, raw: number): number {
  if (scale.kind === 'digital') return raw ? 1 : 0
  if (scale.kind === 'plain') return raw / scale.most
  const { low } = scale.chain.process
  const { value } = probe(scale.chain, 'raw', raw)
  return value === null || scale.span === 0 ? 0 : (value - low) / scale.span
}
