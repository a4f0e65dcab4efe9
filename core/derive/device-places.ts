import { protocols } from '../protocols/list'
import type { DeviceNotation, PlacedChannel } from '../protocols/device-notation'
import type { DerivedModule, DerivedStation } from './derive'

/** Ways to name a channel by its place in the device, as the protocols have them. */
export const deviceNotations: Readonly<Record<string, DeviceNotation>> = Object.assign(
  {},
  ...protocols.map((protocol) => ('notations' in protocol ? protocol.notations : {})),
)
export type DeviceNotationName = string
export const deviceNotationNames = Object.keys(deviceNotations) as [string, ...string[]]

/** Every channel of a station that a text names by its place in the device; blanks and case do not
 *  count. */
export function channelsAtPlace(
  view: DerivedStation,
  text: string,
): PlacedChannel<DerivedModule>[] {
  const wanted = normal(text).replace(
    /^(?:0x|#x)?([0-9a-f]{4}):([0-9a-f]{1,2})$/,
    (_, index, subindex) => `0x${index}:${subindex.padStart(2, '0')}`,
  )
  if (!Object.values(deviceNotations).some(({ looksLike }) => looksLike.test(wanted))) return []
  return view.modules
    .flatMap((module) => (module.layout?.channels ?? []).map((channel) => ({ module, channel })))
    .filter((placed) =>
      deviceNotationNames.some((name) =>
        isWanted(normal(deviceNotations[name]!.format(view, placed) ?? ''), wanted),
      ),
    )
}

/** A register goes without its reference too. */
const isWanted = (name: string, wanted: string) =>
  name === wanted || name.split(' · ')[0] === wanted

/** Numbers keep apart what blanks kept apart. */
function normal(text: string): string {
  return text
    .trim()
    .toLowerCase()
    .replace(/\s+/g, ' ')
    .replace(/^(in|out|assembly) /, '$1')
}
