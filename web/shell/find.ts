import {
  channelAddress,
  channelsAtPlace,
  findDevice,
  formatAddress,
  ipOf,
  kindOf,
  listChannels,
  notationOf,
  notations,
  readAddress,
  signalOn,
  type Derived,
  type Finding,
  type ImageAddress,
  type ListedChannel,
  type SignalRow,
} from '@kataxis/core'
import type { Focus } from '../stores/focus'

export interface Hit {
  readonly kind: string
  readonly words: string
  readonly detail: string
  readonly stage: 'board' | 'ledger' | 'memory'
  readonly focus: Focus
}

const mostHits = 40

type IsHit = (...words: (string | null | undefined)[]) => boolean
type Finder = (isHit: IsHit, derived: Derived, text: string) => Iterable<Hit>

/** Controllers, networks, stations, modules, devices below ports, tags, terminals, plant
 *  designations, addresses, order numbers and findings that contain the text; an address finds its
 *  channel. */
export function findPlaces(text: string, derived: Derived, findings: readonly Finding[]): Hit[] {
  const wanted = text.trim().toLowerCase()
  if (wanted === '') return []
  const isHit: IsHit = (...words) => words.some((word) => word?.toLowerCase().includes(wanted))
  const hits: Hit[] = []
  for (const find of finders)
    for (const hit of find(isHit, derived, text)) if (hits.push(hit) === mostHits) return hits
  for (const { at, message } of findings) {
    if (hits.length === mostHits) break
    if (at.kind === 'project' || !isHit(message)) continue
    hits.push({
      kind: 'Finding',
      words: message,
      detail: at.words,
      stage: at.kind === 'signal' ? 'ledger' : 'board',
      focus: { kind: at.kind, id: at.id },
    })
  }
  return hits
}

/** In this order. */
const finders: readonly Finder[] = [heads, stations, placesInDevices, channels]

function* heads(isHit: IsHit, { controllers }: Derived): Iterable<Hit> {
  for (const { controller, networks } of controllers) {
    if (isHit(controller.name))
      yield {
        kind: 'Controller',
        words: controller.name,
        detail: '',
        stage: 'board',
        focus: { kind: 'controller', id: controller.id },
      }
    for (const { network } of networks)
      if (isHit(network.name, network.cable))
        yield {
          kind: 'Network',
          words: network.name,
          detail: `${kindOf(network).name} · ${controller.name}`,
          stage: 'board',
          focus: { kind: 'network', id: network.id },
        }
  }
}

/** In the Board's order, whatever order the rows came in. */
function* stations(isHit: IsHit, { controllers, catalog }: Derived): Iterable<Hit> {
  const views = controllers.flatMap(({ networks }) => networks.flatMap((one) => one.stations))
  for (const { station, device, modules } of views) {
    if (isHit(station.name, ipOf(station), station.comment, device?.orderNumber))
      yield {
        kind: 'Station',
        words: station.name,
        detail: `${ipOf(station)} · ${device?.name ?? ''}`,
        stage: 'board',
        focus: { kind: 'station', id: station.id },
      }
    for (const module of modules) {
      const at = `${station.name} · slot ${module.slot}`
      const focus = { kind: module.row ? 'module' : 'station', id: module.id } as const
      if (module.row && isHit(module.described?.name, module.described?.orderNumber))
        yield {
          kind: 'Module',
          words: at,
          detail: module.described?.name ?? '',
          stage: 'board',
          focus,
        }
      for (const [subslot, { file, device: key }] of Object.entries(module.plugged)) {
        const below = key === '' ? null : findDevice(catalog, file, key)
        if (below && isHit(below.name, below.orderNumber))
          yield {
            kind: 'Port',
            words: `${at} · port ${subslot}`,
            detail: below.name,
            stage: 'board',
            focus,
          }
      }
    }
  }
}

/** Places in a device: slot and subslot, assembly, object. */
function* placesInDevices(_isHit: IsHit, derived: Derived, text: string): Iterable<Hit> {
  for (const view of derived.stations.values())
    for (const { module, channel } of channelsAtPlace(view, text)) {
      const signal = signalOn(module, channel)
      yield {
        ...wordsOfChannel(derived, { view, module, channel, signal }),
        stage: 'memory',
        focus: { kind: module.row ? 'module' : 'station', id: module.id },
      }
    }
}

/** Channels at an address, and signals by their words; last the addresses where no channel is. */
function* channels(isHit: IsHit, derived: Derived, text: string): Iterable<Hit> {
  const readings = readAddress(
    text,
    derived.controllers.map(({ controller }) => controller.notation),
  )
  const found = new Set<ImageAddress>()
  for (const listed of listChannels(derived)) {
    const { module, channel, signal } = listed
    const place = channelAddress(module, channel)
    const here = place ? readings.filter(({ address }) => overlaps(place, address)) : []
    for (const { address } of here) found.add(address)
    const [reading] = here
    if (
      !reading &&
      !(signal && isHit(signal.tag, signal.comment, signal.terminal, signal.facts.designation))
    )
      continue
    const notation = reading && readings.length > 1 ? notations[reading.notation].name : null
    yield {
      ...wordsOfChannel(derived, listed, notation, beside(signal, isHit)),
      // Who asks for an address wants to see what stands there.
      stage: reading ? 'memory' : signal ? 'ledger' : 'board',
      focus: signal ? { kind: 'signal', id: signal.id } : { kind: 'module', id: module.id },
    }
  }
  const [controller] = derived.controllers
  for (const { notation, address } of controller ? readings : [])
    if (!found.has(address))
      yield {
        kind: 'Address',
        words: `${text.trim()} is ${formatAddress(address)}`,
        detail: `${notations[notation].name} · no channel is there`,
        stage: 'memory',
        focus: { kind: 'controller', id: controller!.controller.id },
      }
}

/** What a channel is called among the hits; `notation` says in which one the address was read. */
function wordsOfChannel(
  { plan }: Derived,
  { view, module, channel, signal }: Pick<ListedChannel, 'view' | 'module' | 'channel' | 'signal'>,
  notation: string | null = null,
  more = '',
): Pick<Hit, 'kind' | 'words' | 'detail'> {
  const place = channelAddress(module, channel)
  const address = place ? formatAddress(place, notationOf(plan, view.station)) : 'no address'
  const read = notation === null ? '' : ` (${notation})`
  return {
    kind: signal ? 'Tag' : 'Channel',
    words: signal?.tag || `${view.station.name} · slot ${module.slot} · ${channel.name}`,
    detail: `${address}${read} · ${view.station.name} slot ${module.slot}${more}`,
  }
}

/** The terminal or designation by which a signal was found. */
function beside(signal: SignalRow | null, isHit: IsHit): string {
  const found = [signal?.terminal, signal?.facts.designation].filter(
    (word) => word !== undefined && word !== '' && isHit(word),
  )
  return found.length > 0 ? ` · ${found.join(' · ')}` : ''
}

function overlaps(a: ImageAddress, b: ImageAddress): boolean {
  const [from, start] = [a.byte * 8 + a.bit, b.byte * 8 + b.bit]
  return a.direction === b.direction && from < start + b.bits && from + a.bits > start
}
