import {
  channelsInData,
  derive,
  realPlan,
  plannedNetworks,
  plannedStations,
  switchesAt,
  whatIf,
  wiredNetworks,
  type Derived,
  type SiteDifference,
  type Field,
  type FrameLog,
  type Line,
  type SocketAddress,
} from '@kataxis/core'
import { broadcastIp } from '@kataxis/core/wire/ip'
import { canRack } from './can-rack'
import { deviceOf, type Device } from './device'
import { ethercat } from './ethercat'
import { ethernetIp } from './ethernet-ip'
import { fieldOf, type Wiring } from './field'
import { modbusSerial, modbusTcp } from './modbus'
import type { Net, StandIn } from './net'
import { profibus } from './profibus'
import { profinet } from './profinet'
import { ring } from './ring'

/** Stand-ins by the kind of network; a kind without one is empty wire. */
const standIns: Readonly<Record<string, StandIn>> = {
  profinet,
  profibus,
  ethercat,
  'ethernet-ip': ethernetIp,
  'modbus-tcp': modbusTcp,
  'modbus-rtu': modbusSerial,
  'can-rack': canRack,
  ring,
  gateway: modbusSerial,
  local: modbusSerial,
}

/** A simulated plant: devices on their wires, and the field behind them. */
export class World {
  private readonly byNetwork: ReadonlyMap<string, Net>
  private wired: Field

  constructor(
    readonly nets: readonly Net[],
    /** What is otherwise than in the plan that it was built from. */
    readonly built: {
      readonly derived: Derived
      readonly fileCalled: (name: string) => string | null
    },
    public differences: readonly SiteDifference[],
  ) {
    this.byNetwork = new Map(nets.map((net) => [net.planned.id, net]))
    this.wired = this.wire()
  }

  /** Fields change with the wires; whoever has this one keeps it. */
  readonly field: Field = {
    put: (tag, share) => this.wired.put(tag, share),
    seen: (tag) => this.wired.seen(tag),
  }

  deviceOf(stationId: string): Device | null {
    for (const { devices } of this.nets)
      for (const device of devices) if (device.is.id === stationId) return device
    return null
  }

  /** Some differences are mended: modules, types and wires become those of the rest; what a device
   *  keeps in its memory stays, unless something else stands there now. */
  mend(mended: readonly SiteDifference[]): void {
    this.differences = this.differences.filter((one) => !mended.includes(one))
    const touched = new Set(mended.flatMap((one) => ('station' in one ? [one.station] : [])))
    const { derived, fileCalled } = this.built
    const real = derive(realPlan(derived, this.differences, fileCalled), derived.catalog)
    const stations = new Map(plannedStations(real).map((station) => [station.id, station]))
    for (const { devices } of this.nets)
      for (const device of devices) {
        const station = stations.get(device.is.id)
        if (!station || !touched.has(station.name)) continue
        device.is = station
        device.failSafe.clear()
        for (const { slot, subslot, destination } of station.failSafe)
          device.failSafe.set(`${slot}.${subslot}`, { destination, proposed: null })
        device.inputs = new Uint8Array(station.view.inputBytes)
        device.outputs = new Uint8Array(station.view.outputBytes)
        device.session = null
      }
    this.wired = this.wire()
  }

  /** Who has a way to its controller, by the differences that still stand. */
  reach(): void {
    const cut = new Set(cutOff(this.built.derived, this.differences))
    const gone = new Set(
      this.differences.flatMap((one) => (one.kind === 'missing' ? [one.station] : [])),
    )
    for (const { devices } of this.nets)
      for (const device of devices)
        device.isAway = cut.has(device.is.id) || gone.has(device.is.name)
  }

  private wire(): Field {
    const wiring = wiringOf(this.differences)
    const devices = this.nets.flatMap((net) => net.devices)
    for (const device of devices) reportFaults(device, wiring)
    return fieldOf(devices, wiring)
  }

  /** The wire of a network for whoever speaks over it; every frame goes into the log. */
  line(networkId: string, log: FrameLog): Line {
    const net = this.byNetwork.get(networkId)
    let number = 0
    return {
      next: () => (number = (number % 0xffff_fffe) + 1),
      send: (octets, to) => (net ? transmit(net, octets, to ?? null, log) : []),
    }
  }
}

function transmit(
  net: Net,
  octets: Uint8Array,
  to: SocketAddress | null,
  log: FrameLog,
): readonly Uint8Array[] {
  const standIn = standIns[net.planned.kind]
  const networkId = net.planned.id
  const add = (
    direction: 'sent' | 'received',
    bytes: Uint8Array,
    peer: { mac: string; ip: string } | null,
  ) => log.add({ networkId, direction, octets: bytes, to, peer })
  // To all at once: each is asked by itself, so that the log knows whose answer it is.
  if (to?.ip === broadcastIp) {
    if (octets.length > 0) add('sent', octets, null)
    return net.devices.flatMap((device) => {
      const answers = standIn?.({ ...net, devices: [device] }, octets, to) ?? []
      for (const answer of answers) add('received', answer, device)
      return answers
    })
  }
  const peer = to ? (net.devices.find(({ ip, isAway }) => ip === to.ip && !isAway) ?? null) : null
  add('sent', octets, peer)
  const answers = standIn?.(net, octets, to) ?? []
  for (const answer of answers) add('received', answer, peer)
  return answers
}

/** Devices as the plan says, but for the differences. `fileCalled` gives the hash of a description
 *  file by its name or hash. */
export function buildWorld(
  derived: Derived,
  differences: readonly SiteDifference[],
  fileCalled: (name: string) => string | null,
): World {
  const real = derive(realPlan(derived, differences, fileCalled), derived.catalog)
  let serial = 0
  const nets = plannedNetworks(real).map((planned) => ({
    planned,
    devices: planned.stations.map((station) => deviceOf(station, ++serial)),
  }))
  const byName = new Map(
    nets.flatMap(({ devices }) => devices.map((device) => [device.is.name, device] as const)),
  )
  for (const one of differences)
    if ('station' in one) {
      const device = byName.get(one.station)
      if (device) differ(device, one, byName)
    }
  const world = new World(nets, { derived, fileCalled }, differences)
  world.reach()
  return world
}

type OfStation = Extract<SiteDifference, { readonly station: string }>

function differ(device: Device, one: OfStation, byName: ReadonlyMap<string, Device>): void {
  switch (one.kind) {
    case 'factoryNew':
      makeFactoryNew(device)
      return
    case 'duplicateName': {
      const other = byName.get(one.as)
      if (!other) return
      device.name = other.is.wireName
      if (other.is.wireName === '') {
        device.ip = other.is.ip
        device.number = other.is.number
      }
      return
    }
    case 'wrongFirmware':
      device.firmware = one.firmware ?? otherFirmware(device.firmware)
      return
    case 'stopped':
      device.isStopped = true
      return
    case 'slow':
      device.slowMs = one.ms
      return
    case 'switches': {
      const bank = switchesAt(device.is)
      if (bank?.sets === 'number') device.number = one.value
      else device.ip = device.ip.replace(/\d+$/, String(one.value))
      return
    }
    default:
  }
}

/** As it comes out of its box: without name and address, at the number that its protocol has for
 *  that. */
export function makeFactoryNew(device: Device): void {
  device.name = ''
  device.ip = ''
  device.session = null
  for (const one of device.failSafe.values()) one.destination = 0
  device.number = factoryNumbers[device.is.kind] ?? device.number
}
/** PROFIBUS: IEC 61158-6-3. The others: common practice. */
const factoryNumbers: Readonly<Record<string, number>> = {
  profibus: 126,
  'modbus-rtu': 247,
  'can-rack': 127,
  ring: 239,
  gateway: 247,
}

/** Another version of the same kind: its last number one lower, or higher at 0. */
export function otherFirmware(firmware: string | null): string {
  if (firmware === null) return '0.9'
  if (/^0x/i.test(firmware))
    return `0x${(Number(firmware) + 1).toString(16).padStart(firmware.length - 2, '0')}`
  return firmware.replace(/\d+(?!.*\d)/, (last) => String(Number(last) > 0 ? Number(last) - 1 : 1))
}

/** Stations without a way to their controller when these links are cut. */
function cutOff(derived: Derived, differences: readonly SiteDifference[]): string[] {
  const links = new Set(differences.flatMap((one) => (one.kind === 'cut' ? [one.link] : [])))
  if (links.size === 0) return []
  return wiredNetworks(derived).flatMap((network) =>
    whatIf(network, { links, nodes: new Set() }).unreachable.map(({ id }) => id),
  )
}

function wiringOf(differences: readonly SiteDifference[]): Wiring {
  const crossed = new Map<string, string>()
  const broken = new Set<string>()
  const shorted = new Set<string>()
  const factors = new Map<string, number>()
  for (const one of differences) {
    if (one.kind === 'crossed') {
      const [a, b] = one.tags
      crossed.set(a, b)
      crossed.set(b, a)
    }
    if (one.kind === 'wireBreak') broken.add(one.tag)
    if (one.kind === 'shortCircuit') shorted.add(one.tag)
    if (one.kind === 'scaled') factors.set(one.tag, one.factor)
  }
  return { crossed, broken, shorted, factors }
}

/** Modules report what they can notice: an analog wire without current, an output that is short. A
 *  digital input cannot tell a broken wire from an open contact. */
function reportFaults(device: Device, { broken, shorted }: Wiring): void {
  device.faults.length = 0
  for (const { signal, channel, direction } of channelsInData(device.is.view)) {
    const isBlind = direction === 'in' && channel.bits === 1
    if (isBlind) continue
    if (broken.has(signal.tag)) device.faults.push({ tag: signal.tag, error: 6 })
    if (shorted.has(signal.tag)) device.faults.push({ tag: signal.tag, error: 1 })
  }
}
