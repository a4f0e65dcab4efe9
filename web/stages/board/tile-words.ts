import { wordBytes, type DerivedModule, type Mark } from '@kataxis/core'

/** What a tile shows, in words: for its title and for who cannot see it. */
export function tileWords(
  { described, layout, slot, signals }: DerivedModule,
  trouble: string | null,
  mark: Mark | null,
): string {
  if (!described || !layout) return `Slot ${slot}: not in the description file`
  const named =
    layout.channels.length === 0 ? '' : `, ${signals.size} of ${layout.channels.length} named`
  return [
    `Slot ${slot}: ${described.name}, ${wordBytes(layout)}${named}`,
    ...(trouble ? [trouble] : []),
    ...(mark?.words ?? []),
  ].join('. ')
}
