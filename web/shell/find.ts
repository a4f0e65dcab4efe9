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

/** Controllers, networks, stations, modules, devices below ports, tags, terminals, plant
 *  designations, addresses, order numbers and findings that contain the text; an address finds its
 *  channel. */
export function findPlaces(text: string, derived: Derived, findings: readonly Finding[]): Hit[] {
  const wanted = text.trim().toLowerCase()
  if (wanted === '') return []
  const hits: Hit[] = []
  const isHit = (...words: (string | null | undefined)[]) =>
    words.some((word) => word?.toLowerCase().includes(wanted))

  for (const { controller, networks } of derived.controllers) {
    if (isHit(controller.name))
      hits.push({
        kind: 'Controller',
        words: controller.name,
        detail: '',
        stage: 'board',
        focus: { kind: 'controller', id: controller.id },
      })
    for (const { network } of networks) {
      if (isHit(network.name, network.cable))
        hits.push({
          kind: 'Network',
          words: network.name,
          detail: `${kindOf(network).name} · ${controller.name}`,
          stage: 'board',
          focus: { kind: 'network', id: network.id },
        })
    }
  }
  // In the Board's order, whatever order the rows came in.
  for (const { station, device, modules } of derived.controllers.flatMap(({ networks }) =>
    networks.flatMap(({ stations }) => stations),
  )) {
    if (isHit(station.name, ipOf(station), station.comment, device?.orderNumber)) {
      hits.push({
        kind: 'Station',
        words: station.name,
        detail: `${ipOf(station)} · ${device?.name ?? ''}`,
        stage: 'board',
        focus: { kind: 'station', id: station.id },
      })
    }
    for (const module of modules) {
      if (module.row && isHit(module.described?.name, module.described?.orderNumber)) {
        hits.push({
          kind: 'Module',
          words: `${station.name} · slot ${module.slot}`,
          detail: module.described?.name ?? '',
          stage: 'board',
          focus: { kind: 'module', id: module.id },
        })
      }
      for (const [subslot, { file, device: key }] of Object.entries(module.plugged)) {
        const below = key === '' ? null : findDevice(derived.catalog, file, key)
        if (below && isHit(below.name, below.orderNumber)) {
          hits.push({
            kind: 'Port',
            words: `${station.name} · slot ${module.slot} · port ${subslot}`,
            detail: below.name,
            stage: 'board',
            focus: { kind: module.row ? 'module' : 'station', id: module.id },
          })
        }
      }
    }
    if (hits.length > mostHits) return hits.slice(0, mostHits)
  }
  // Places in a device: slot and subslot, assembly, object.
  for (const view of derived.stations.values()) {
    for (const { module, channel } of channelsAtPlace(view, text)) {
      const signal = signalOn(module, channel)
      const place = channelAddress(module, channel)
      hits.push({
        kind: signal ? 'Tag' : 'Channel',
        words: signal?.tag || `${view.station.name} · slot ${module.slot} · ${channel.name}`,
        detail: `${place ? formatAddress(place, notationOf(derived.plan, view.station)) : 'no address'} · ${view.station.name} slot ${module.slot}`,
        stage: 'memory',
        focus: { kind: module.row ? 'module' : 'station', id: module.id },
      })
      if (hits.length > mostHits) return hits.slice(0, mostHits)
    }
  }
  const readings = readAddress(
    text,
    derived.controllers.map(({ controller }) => controller.notation),
  )
  const found = new Set<ImageAddress>()
  for (const { view, module, channel, signal } of listChannels(derived)) {
    const place = channelAddress(module, channel)
    const [reading, ...more] = place
      ? readings.filter(({ address }) => overlaps(place, address))
      : []
    for (const { address } of reading ? [reading, ...more] : []) found.add(address)
    if (
      !reading &&
      !(signal && isHit(signal.tag, signal.comment, signal.terminal, signal.facts.designation))
    )
      continue
    hits.push({
      kind: signal ? 'Tag' : 'Channel',
      words: signal?.tag || `${view.station.name} · slot ${module.slot} · ${channel.name}`,
      detail: `${place ? formatAddress(place, notationOf(derived.plan, view.station)) : 'no address'}${reading && readings.length > 1 ? ` (${notations[reading.notation].name})` : ''} · ${view.station.name} slot ${module.slot}${beside(signal, isHit)}`,
      // Who asks for an address wants to see what stands there.
      stage: reading ? 'memory' : signal ? 'ledger' : 'board',
      focus: signal ? { kind: 'signal', id: signal.id } : { kind: 'module', id: module.id },
    })
    if (hits.length > mostHits) break
  }
  const [controller] = derived.controllers
  for (const { notation, address } of readings) {
    if (found.has(address) || !controller) continue
    hits.push({
      kind: 'Address',
      words: `${text.trim()} is ${formatAddress(address)}`,
      detail: `${notations[notation].name} · no channel is there`,
      stage: 'memory',
      focus: { kind: 'controller', id: controller.controller.id },
    })
  }
  for (const finding of findings) {
    if (finding.at.kind !== 'project' && isHit(finding.message)) {
      hits.push({
        kind: 'Finding',
        words: finding.message,
        detail: finding.at.words,
        stage: finding.at.kind === 'signal' ? 'ledger' : 'board',
        focus: { kind: finding.at.kind, id: finding.at.id },
      })
    }
  }
  return hits.slice(0, mostHits)
}

/** The terminal or designation by which a signal was found. */
function beside(
  signal: SignalRow | null,
  isHit: (...words: (string | undefined)[]) => boolean,
): string {
  const found = [signal?.terminal, signal?.facts.designation].filter(
    (word) => word !== undefined && word !== '' && isHit(word),
  )
  return found.length > 0 ? ` · ${found.join(' · ')}` : ''
}

function overlaps(a: ImageAddress, b: ImageAddress): boolean {
  const [from, start] = [a.byte * 8 + a.bit, b.byte * 8 + b.bit]
  return a.direction === b.direction && from < start + b.bits && from + a.bits > start
}
