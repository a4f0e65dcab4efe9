import {
  kindOf,
  media,
  type Derived,
  type Id,
  type LinkEnd,
  type Medium,
  type WiredLink,
  type WiredNetwork,
} from '@kataxis/core'
import type { Choice } from '../../parts/choices'

export const mediumChoices: readonly Choice<Medium>[] = (
  Object.entries(media) as [Medium, { word: string }][]
).map(([value, { word }]) => ({ value, label: word }))

/** A time in the unit that reads best. */
export function timeWords(us: number | null): string {
  if (us === null) return '–'
  return us < 1000
    ? `${round(us)} µs`
    : us < 1_000_000
      ? `${round(us / 1000)} ms`
      : `${round(us / 1e6)} s`
}

export function shareWords(share: number | null): string {
  if (share === null) return '–'
  const percent = share * 100
  if (percent === 0) return '0 %'
  return percent < 0.1 ? '< 0.1 %' : `${percent.toFixed(percent < 10 ? 1 : 0)} %`
}

export function rateWords(bitRate: number | null): string {
  if (bitRate === null) return 'bit rate not chosen'
  return bitRate >= 1e6 ? `${round(bitRate / 1e6)} Mbit/s` : `${round(bitRate / 1e3)} kbit/s`
}

const round = (value: number) => Number(value.toPrecision(4))

export const nameOfNode = ({ nodes }: WiredNetwork, id: Id) =>
  nodes.find((node) => node.id === id)?.name || '(no name)'

/** What stands between stations and is no node of a network yet: switches, repeaters, converters. */
export function passivesOf(
  { stations, plan }: Derived,
  { nodes }: WiredNetwork,
): { readonly id: Id; readonly name: string }[] {
  const known = new Set(nodes.map(({ id }) => id))
  return [...stations.values()].flatMap(({ id, station, device }) => {
    const network = plan.networks[station.networkId]
    const isBetween = network && !kindOf(network).wiring && device && 'sheet' in device
    return isBetween && (device.sheet.networkPorts?.length ?? 0) > 0 && !known.has(id)
      ? [{ id, name: station.name }]
      : []
  })
}

/** A port with the node it belongs to. */
export const portWords = (wired: WiredNetwork, { node, port }: LinkEnd) =>
  `${nameOfNode(wired, node)} port ${port}`

export const linkWords = (wired: WiredNetwork, { from, to }: Pick<WiredLink, 'from' | 'to'>) =>
  `${portWords(wired, from)} – ${portWords(wired, to)}`

/** From which share on a load stands in the drawing. */
const leastShown = 0.01

/** Two lines at a link in the drawing: how it is marked; how long it is, and its load where there is
 *  any to speak of. */
export function linkLabels({ link: { label, lengthM }, towards, away }: WiredLink) {
  const load = Math.max(towards ?? 0, away ?? 0)
  return {
    above: label,
    below: [lengthM === null ? '' : `${lengthM} m`, load < leastShown ? '' : shareWords(load)]
      .filter(Boolean)
      .join(' · '),
  }
}
