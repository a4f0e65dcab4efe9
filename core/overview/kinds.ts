import { kindOfChannel } from '../catalog/words'
import { signalOn, type Derived } from '../derive/derive'

export interface KindCount {
  readonly kind: string
  readonly channels: number
  readonly named: number
}

/** Channels of the plan by kind, and how many of them carry a tag. */
export function countKinds({ stations }: Derived): KindCount[] {
  const counts = new Map<string, { channels: number; named: number }>()
  for (const { modules } of stations.values())
    for (const module of modules)
      for (const channel of module.layout?.channels ?? []) {
        const kind = kindOfChannel(channel)
        let count = counts.get(kind)
        if (!count) counts.set(kind, (count = { channels: 0, named: 0 }))
        count.channels++
        if ((signalOn(module, channel)?.tag ?? '') !== '') count.named++
      }
  return [...counts]
    .map(([kind, count]) => ({ kind, ...count }))
    .sort((a, b) => order(a) - order(b))
}

const kinds = ['DI', 'DO', 'AI', 'AO', 'PI', 'PO']
const order = ({ kind }: KindCount) => (kinds.includes(kind) ? kinds.indexOf(kind) : kinds.length)
