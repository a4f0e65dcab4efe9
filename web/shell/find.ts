import { channelAddress, formatAddress, listChannels, notations, type Derived, type Finding } from '@kataxis/core'
import type { Focus } from '../stores/focus'

export interface Hit {
  readonly kind: string
  readonly words: string
  readonly detail: string
  readonly stage: 'board' | 'ledger'
  readonly focus: Focus
}

const mostHits = 40

/** Stations, modules, tags, addresses, order numbers and findings that contain the text; an address finds its channel. */
export function findPlaces(text: string, derived: Derived, findings: readonly Finding[]): Hit[] {
  const wanted = text.trim().toLowerCase()
  if (wanted === '') return []
  const hits: Hit[] = []
  const isHit = (...words: (string | null | undefined)[]) => words.some((word) => word?.toLowerCase().includes(wanted))

  // In the Board's order, whatever order the rows came in.
  for (const { station, device, modules } of derived.controllers.flatMap(({ networks }) => networks.flatMap(({ stations }) => stations))) {
    if (isHit(station.name, station.ip, station.comment, device?.orderNumber)) {
      hits.push({ kind: 'Station', words: station.name, detail: `${station.ip} · ${device?.name ?? ''}`, stage: 'board', focus: { kind: 'station', id: station.id } })
    }
    for (const module of modules) {
      if (module.row && isHit(module.described?.name, module.described?.orderNumber)) {
        hits.push({ kind: 'Module', words: `${station.name} · slot ${module.slot}`, detail: module.described?.name ?? '', stage: 'board', focus: { kind: 'module', id: module.id } })
      }
    }
    if (hits.length > mostHits) return hits.slice(0, mostHits)
  }
  const address = notations.iec.parse(text)
  for (const { view, module, channel, signal } of listChannels(derived)) {
    const place = channelAddress(module, channel)
    const isThere = address && place && place.direction === address.direction && place.byte * 8 + place.bit < address.byte * 8 + address.bit + address.bits && place.byte * 8 + place.bit + place.bits > address.byte * 8 + address.bit
    if (!isThere && !(signal && isHit(signal.tag, signal.comment))) continue
    hits.push({
      kind: signal ? 'Tag' : 'Channel',
      words: signal?.tag || `${view.station.name} · slot ${module.slot} · ${channel.name}`,
      detail: `${place ? formatAddress(place) : 'no address'} · ${view.station.name} slot ${module.slot}`,
      stage: signal ? 'ledger' : 'board',
      focus: signal ? { kind: 'signal', id: signal.id } : { kind: 'module', id: module.id },
    })
    if (hits.length > mostHits) break
  }
  for (const finding of findings) {
    if (finding.at.kind !== 'project' && isHit(finding.message)) {
      hits.push({ kind: 'Finding', words: finding.message, detail: finding.at.words, stage: finding.at.kind === 'signal' ? 'ledger' : 'board', focus: { kind: finding.at.kind, id: finding.at.id } })
    }
  }
  return hits.slice(0, mostHits)
}
