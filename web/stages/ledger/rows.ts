import { channelAddress, deviceNotations, formatAddress, kindOfChannel, listChannels, notationOf, settingsOf, tagFault, tagIdentity, type Derived, type DeviceNotationName, type ListedChannel, type NotationName, type SignalPlace } from '@kataxis/core'

/** One row of the Ledger: a channel with its signal, or a signal that has no channel yet. */
export interface LedgerRow {
  readonly key: string
  readonly signalId: string | null
  readonly place: SignalPlace | null
  readonly listed: ListedChannel | null
  readonly station: string
  readonly slot: string
  readonly module: string
  readonly channel: string
  readonly kind: string
  readonly type: string
  readonly address: string
  /** The same place in a second notation, where one is chosen. */
  readonly address2: string
  /** The channel's electrical range in everybody's words; empty where its description says none. */
  readonly range: string
  readonly terminal: string
  readonly tag: string
  readonly comment: string
  /** What is wrong with the tag, in words. */
  readonly fault: string | null
}

export const editable = ['terminal', 'tag', 'comment', 'range'] as const
export type Editable = (typeof editable)[number]
export const isEditable = (column: string): column is Editable => (editable as readonly string[]).includes(column)

const isDeviceNotation = (name: NotationName | DeviceNotationName): name is DeviceNotationName => name in deviceNotations

export function ledgerRows(derived: Derived, notation: NotationName | '' = '', second: NotationName | DeviceNotationName | '' = ''): LedgerRow[] {
  const { tagLength } = derived.plan.project
  const rows: LedgerRow[] = []
  const seen = new Map<string, number>()
  const faultOf = (tag: string) => (tag === '' ? null : tagFault(tag, tagLength))
  for (const listed of listChannels(derived)) {
    const { view, module, channel, signal } = listed
    const { subslot, direction, offsetBits } = channel
    const place = channelAddress(module, channel)
    rows.push({
      key: `${module.id}/${subslot}/${direction}/${offsetBits}`,
      signalId: signal?.id ?? null,
      place: { moduleId: module.id, subslot, direction, offsetBits },
      listed,
      station: view.station.name,
      slot: String(module.slot),
      module: module.described?.name ?? '',
      channel: channel.name,
      kind: kindOfChannel(channel),
      type: channel.type,
      address: place ? formatAddress(place, notation || notationOf(derived.plan, view.station)) : '',
      address2: second === '' ? '' : isDeviceNotation(second) ? deviceNotations[second].format(view, { module, channel }) ?? '' : place ? formatAddress(place, second) : '',
      range: settingsOf(derived.catalog, view, module, channel, derived.plan.project.meanings).get('range')?.words ?? '',
      terminal: signal?.terminal ?? '',
      tag: signal?.tag ?? '',
      comment: signal?.comment ?? '',
      fault: faultOf(signal?.tag ?? ''),
    })
  }
  for (const { id, tag, comment, terminal } of Object.values(derived.plan.unplaced)) {
    rows.push({ key: id, signalId: id, place: null, listed: null, station: 'no channel', slot: '', module: '', channel: '', kind: '', type: '', address: '', address2: '', range: '', terminal, tag, comment, fault: faultOf(tag) })
  }
  for (const { tag } of rows) if (tag !== '') seen.set(tagIdentity(tag), (seen.get(tagIdentity(tag)) ?? 0) + 1)
  return rows.map((row) => (row.fault === null && row.tag !== '' && seen.get(tagIdentity(row.tag))! > 1 ? { ...row, fault: 'the tag stands more than once' } : row))
}

/** Rows in which every word occurs somewhere. */
export function filterRows(rows: readonly LedgerRow[], text: string): readonly LedgerRow[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return rows
  return rows.filter((row) => {
    const haystack = `${row.station} ${row.slot} ${row.module} ${row.channel} ${row.kind} ${row.type} ${row.address} ${row.address2} ${row.range} ${row.terminal} ${row.tag} ${row.comment}${row.tag === '' ? ' free' : ''}`.toLowerCase()
    return words.every((word) => haystack.includes(word))
  })
}
