import { numbered } from '../vocabulary/plural'
import type { ChannelKind, Layout } from './layout'
import type { Direction } from '../vocabulary/direction'
import type { FormatName } from './model'

/** Formats as people write them. */
export const formatNames: Readonly<Record<FormatName, string>> = {
  gsdml: 'GSDML',
  gsd: 'GSD',
  esi: 'ESI',
  eds: 'EDS',
  iodd: 'IODD',
  sheet: 'Device sheet',
}

const letters: Record<ChannelKind, Record<Direction, string>> = {
  digital: { in: 'DI', out: 'DO' },
  analog: { in: 'AI', out: 'AO' },
  port: { in: 'PI', out: 'PO' },
}

/** DI, DO, AI, AO; PI and PO for data that are no single measured value. */
export function kindOfChannel({
  kind,
  direction,
}: {
  kind: ChannelKind
  direction: Direction
}): string {
  return letters[kind][direction]
}

/** `16 DI` or `2 AI + 4 DI`; empty for a module without channels. */
export function wordChannels(layout: Layout): string {
  const counts = new Map<string, number>()
  for (const channel of layout.channels)
    counts.set(kindOfChannel(channel), (counts.get(kindOfChannel(channel)) ?? 0) + 1)
  return [...counts].map(([kind, count]) => `${count} ${kind}`).join(' + ')
}

/** `2 bytes in`, `1 byte in, 1 byte out`; `no data` without any. */
export function wordBytes({
  inputBytes,
  outputBytes,
}: Pick<Layout, 'inputBytes' | 'outputBytes'>): string {
  const word = (bytes: number, direction: string) =>
    bytes === 0 ? [] : [`${numbered(bytes, 'byte')} ${direction}`]
  return [...word(inputBytes, 'in'), ...word(outputBytes, 'out')].join(', ') || 'no data'
}
