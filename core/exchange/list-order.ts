import { signalOn, type Derived } from '../derive/derive'
import { kindOfChannel } from '../catalog/words'
import { placeOf, placeText } from '../vocabulary/data-place'
import type { SignalPlace, SignalRow } from '../plan/model'
import { listChannels, type ListedChannel } from './io-list'

/** How rows of a list that name no place get one: one after the other from a channel on, or by their
 *  running number, counted from that channel. */
export interface ListOrder {
  readonly by: 'order' | 'number'
  readonly from: SignalPlace
  /** Channels that carry a tag already are left out; by number they count all the same. */
  readonly onlyFree: boolean
  /** Only channels of the kind of the first one. */
  readonly sameKind: boolean
}

export interface OrderedChannel {
  readonly place: SignalPlace
  readonly where: string
  readonly signal: SignalRow | null
}

/** The channel for the next row; a clause where there is none. */
export type NextChannel = (number: string) => OrderedChannel | string

export function wordChannelPlace({
  view,
  module,
  channel,
}: Omit<ListedChannel, 'network'>): string {
  return `${view.station.name} · slot ${module.slot} · ${channel.name}`
}

/** Gives out channels in the Board's order. */
export function channelsInOrder(derived: Derived, order: ListOrder): NextChannel {
  const all = [...listChannels(derived)]
  const keyOf = (place: SignalPlace) => `${place.moduleId}/${placeText(place)}`
  const first = all.findIndex(
    ({ module, channel }) =>
      keyOf({ moduleId: module.id, ...placeOf(channel) }) === keyOf(order.from),
  )
  if (first < 0) return () => 'the channel to begin with is no longer in the plan'
  const kind = kindOfChannel(all[first]!.channel)
  const row = all
    .slice(first)
    .filter(({ channel }) => !order.sameKind || kindOfChannel(channel) === kind)
  const madeOf = (one: ListedChannel): OrderedChannel => ({
    place: { moduleId: one.module.id, ...placeOf(one.channel) },
    where: wordChannelPlace(one),
    signal: signalOn(one.module, one.channel),
  })
  let next = 0
  const inOrder = (): OrderedChannel | string => {
    while (next < row.length) {
      const found = madeOf(row[next++]!)
      if (!order.onlyFree || (found.signal?.tag ?? '') === '') return found
    }
    return `there is no ${order.onlyFree ? 'free ' : ''}channel left from the first one on`
  }
  const byNumber = (text: string): OrderedChannel | string => {
    const number = Number(text)
    if (text === '' || !Number.isInteger(number) || number < 1)
      return `"${text}" is no running number; 1 is the first`
    const one = row[number - 1]
    return one ? madeOf(one) : `there are only ${row.length} channels from the first one on`
  }
  return order.by === 'number' ? byNumber : inOrder
}
