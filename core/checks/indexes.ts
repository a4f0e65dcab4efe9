import { ipOf, roleNameOf } from '../protocols/settings'
import { parseIp } from '../addressing/ip'
import type { Direction } from '../vocabulary/direction'
import type { Derived, DerivedStation } from '../derive/derive'
import type { Id, NetworkRow, SignalRow } from '../plan/model'
import { nameKey } from '../changing/identities'
import { sharingOf } from '../protocols/profinet/sharing'
import { kindOf, protocolOn } from '../protocols/registry'
import { failSafeParts, type FailSafePart } from '../safety/modules'
import { tagIdentity } from '../tags/identifier'

interface User<Owner> {
  readonly id: Id
  readonly owner: Owner
}

/** Who uses a value, and which values more than one uses; kept up to date instead of built anew.
 *  Most values have one user, who stands there by himself. */
export class UseIndex<Owner> {
  private readonly users = new Map<string, User<Owner> | Map<Id, Owner>>()
  readonly shared = new Set<string>()

  add(value: string, id: Id, owner: Owner): void {
    const known = this.users.get(value)
    if (known === undefined || (!(known instanceof Map) && known.id === id))
      this.users.set(value, { id, owner })
    else if (known instanceof Map) known.set(id, owner)
    else {
      this.users.set(
        value,
        new Map([
          [known.id, known.owner],
          [id, owner],
        ]),
      )
      this.shared.add(value)
    }
  }

  drop(value: string, id: Id): void {
    const known = this.users.get(value)
    if (known instanceof Map) {
      known.delete(id)
      const [last] = known
      if (known.size > 1 || !last) return
      this.users.set(value, { id: last[0], owner: last[1] })
      this.shared.delete(value)
    } else if (known?.id === id) this.users.delete(value)
  }

  has(value: string): boolean {
    return this.users.has(value)
  }

  usersOf(value: string): Owner[] {
    const known = this.users.get(value)
    return known === undefined ? [] : known instanceof Map ? [...known.values()] : [known.owner]
  }
}

/** How many blocks use each byte of an image; knows at once whether any byte is used twice. */
export class ByteUse {
  private counts = new Uint16Array(1024)
  doubled = 0

  change(byte: number, bytes: number, by: 1 | -1): void {
    if (byte + bytes > this.counts.length) {
      const larger = new Uint16Array(Math.max(this.counts.length * 2, byte + bytes))
      larger.set(this.counts)
      this.counts = larger
    }
    for (let at = byte; at < byte + bytes; at++) {
      const now = (this.counts[at]! += by)
      if (by === 1 && now === 2) this.doubled++
      if (by === -1 && now === 1) this.doubled--
    }
  }
}

export interface TagUser {
  readonly signal: SignalRow
  readonly view: DerivedStation | null
}

/** An address as it is unique: on its cable. */
export function ipKey({ cable }: Pick<NetworkRow, 'cable'>, ip: string): string {
  return `${cable}|${ip}`
}

function partId({ module, placed }: FailSafePart): string {
  return `${module.id}/${placed.key}`
}

/** Under what a station is unique; empty where it has no such thing. A unit only tells those apart
 *  that share an address. */
function keysOf({ station, outputBytes }: DerivedStation, { plan }: Derived) {
  const network = plan.networks[station.networkId]
  if (!network) return { name: '', ip: '', number: '', role: '', written: '' }
  const kind = kindOf(network)
  // It is told apart as the station that it is shared with.
  if (sharingOf(station).sharedWith !== '')
    return {
      name: '',
      ip: '',
      number: `${station.networkId}/${station.deviceNumber}`,
      role: '',
      written: '',
    }
  const address = ipOf(station)
  const ip = kind.hasIp && parseIp(address) !== null ? ipKey(network, address) : ''
  const role = roleNameOf(station)
  const unit = kind.number.isUnit ? `${ip}|${station.deviceNumber}` : ''
  // Of lines only those count that somebody named: two networks on one line are one.
  const isNamedLine = !kind.hasIp && network.cable !== '' && protocolOn(network).writes
  const writer = isNamedLine ? `${network.cable}/${station.deviceNumber}` : ip !== '' && unit
  return {
    name: station.name === '' ? '' : nameKey(plan)(station),
    ip,
    number: kind.number.isUnit ? '' : `${station.networkId}/${station.deviceNumber}`,
    role: role === '' ? '' : `${network.cable}|${role}`,
    written: (outputBytes > 0 && writer) || '',
  }
}

/** What has to be unique over the whole plan. */
export class Indexes {
  /** By cable, as they stand on the wire. */
  readonly names = new UseIndex<DerivedStation>()
  /** By cable and address. */
  readonly ips = new UseIndex<DerivedStation>()
  readonly roles = new UseIndex<DerivedStation>()
  /** Modbus devices that something is written to, by cable, address and unit. */
  readonly written = new UseIndex<DerivedStation>()
  readonly deviceNumbers = new UseIndex<DerivedStation>()
  readonly tags = new UseIndex<TagUser>()
  /** Fail-safe submodules by their destination address. */
  readonly destinations = new UseIndex<{
    readonly view: DerivedStation
    readonly part: FailSafePart
  }>()
  readonly bytes = new Map<string, ByteUse>()

  add(view: DerivedStation, derived: Derived): void {
    const { id } = view
    const keys = keysOf(view, derived)
    if (keys.name) this.names.add(keys.name, id, view)
    if (keys.ip) this.ips.add(keys.ip, id, view)
    if (keys.number) this.deviceNumbers.add(keys.number, id, view)
    if (keys.role) this.roles.add(keys.role, id, view)
    if (keys.written) this.written.add(keys.written, id, view)
    for (const part of failSafeParts(view, derived.catalog))
      this.destinations.add(String(part.f.destinationAddress), partId(part), { view, part })
    for (const signalId in view.group.signals) this.addSignal(view.group.signals[signalId]!, view)
    this.changeBytes(view, derived, 1)
  }

  drop(view: DerivedStation, derived: Derived): void {
    const { id } = view
    const keys = keysOf(view, derived)
    this.names.drop(keys.name, id)
    this.ips.drop(keys.ip, id)
    this.deviceNumbers.drop(keys.number, id)
    this.roles.drop(keys.role, id)
    this.written.drop(keys.written, id)
    for (const part of failSafeParts(view, derived.catalog))
      this.destinations.drop(String(part.f.destinationAddress), partId(part))
    for (const signalId in view.group.signals) this.dropSignal(view.group.signals[signalId]!)
    this.changeBytes(view, derived, -1)
  }

  addSignal(signal: SignalRow, view: DerivedStation | null): void {
    if (signal.tag !== '') this.tags.add(tagIdentity(signal.tag), signal.id, { signal, view })
  }

  dropSignal(signal: SignalRow): void {
    if (signal.tag !== '') this.tags.drop(tagIdentity(signal.tag), signal.id)
  }

  useOf(controllerId: Id, direction: Direction): ByteUse {
    const key = `${controllerId}/${direction}`
    let use = this.bytes.get(key)
    if (!use) this.bytes.set(key, (use = new ByteUse()))
    return use
  }

  private changeBytes(view: DerivedStation, derived: Derived, by: 1 | -1): void {
    const controllerId = derived.plan.networks[view.station.networkId]?.controllerId ?? ''
    for (const { direction, byte, bytes } of view.extents)
      this.useOf(controllerId, direction).change(byte, bytes, by)
  }
}
