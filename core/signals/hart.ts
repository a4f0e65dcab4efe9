import type { Channel } from '../catalog/layout'
import type { DerivedModule } from '../derive/derive'
import { channelIn } from '../vocabulary/meaning'

/** HART: the variables of a device beside its current (HART universal command 3). */
export const hartVariables = {
  PV: 'primary variable, the one the current says',
  SV: 'secondary variable',
  TV: 'tertiary variable',
  QV: 'quaternary variable',
} as const
export type HartVariable = keyof typeof hartVariables

const says: Readonly<Record<HartVariable, RegExp>> = {
  PV: /\bPV\b|primary variable/i,
  SV: /\bSV\b|secondary variable/i,
  TV: /\bTV\b|tertiary variable/i,
  QV: /\bQV\b|quaternary variable/i,
}

/** Where a module sends the HART variables of one of its channels: data items of their own, told by
 *  their names, e.g. `Channel 2 HART SV`. */
export function hartItems(
  { layout }: Pick<DerivedModule, 'layout'>,
  channel: Channel,
): Partial<Readonly<Record<HartVariable, Channel>>> {
  const items =
    layout?.channels.filter(
      (one) => one !== channel && one.direction === channel.direction && one.bits >= 16,
    ) ?? []
  const own = numberIn(channel.name)
  const found = (Object.keys(says) as HartVariable[]).flatMap((variable) => {
    const item = items.find(({ name }) => says[variable].test(name) && numberIn(name) === own)
    return item ? [[variable, item] as const] : []
  })
  return Object.fromEntries(found)
}

function numberIn(name: string): number | null {
  const first = /\d+/.exec(name)
  return channelIn(name) ?? (first ? Number(first[0]) : null)
}
