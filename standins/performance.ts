import {
  FrameLog,
  identifiedForMs,
  namedIn,
  rehearse,
  scoreOf,
  type Derived,
  type Plan,
  type RehearsalAction,
  type RehearsalFinding,
  type RunState,
  type Scored,
  type Site,
  type SiteDifference,
} from '@kataxis/core'
import { doOnSite } from './on-site'
import type { World } from './world'

/** A device as it is spoken to. */
interface AtWire {
  readonly networkId: string
  readonly key: string
}

const nowhere = 'There is no such station or device in the last scan.'

/** A rehearsal under way: a world, what is known of it, and all frames. Actions follow each other;
 *  the same ones on the same world give the same. */
export class Performance {
  readonly log: FrameLog
  state: RunState
  /** Why the last action was not done; null: it was. */
  refused: string | null = null
  actions = 0
  private nowMs = 0
  private plan: Plan
  /** Devices that were identified, by station: which, and when. */
  private readonly identified = new Map<string, { readonly key: string; readonly atMs: number }>()
  private readonly named = new Set<string>()
  private readonly injected: readonly SiteDifference[]
  private readonly lines = new Map<string, ReturnType<World['line']>>()

  constructor(
    private readonly world: World,
    derived: Derived,
    mostFrames: number,
  ) {
    this.log = new FrameLog(mostFrames)
    this.plan = derived.plan
    this.state = rehearse.beginRun(derived)
    this.injected = world.differences
  }

  /** Goes on with a newer plan: what was found stays. */
  planned(derived: Derived): void {
    if (derived.plan === this.plan) return
    this.plan = derived.plan
    const { networks, blocked } = rehearse.beginRun(derived)
    this.state = { ...this.state, networks, blocked }
  }

  /** `atMs`: when it is done; identifications hold for a time only. */
  act(action: RehearsalAction, atMs = 0): void {
    this.nowMs = atMs
    this.actions++
    this.refused = null
    this.state = this.next(action)
    for (const word of namedIn(rehearse.compare(rehearse.match(this.state)))) this.named.add(word)
  }

  private next(action: RehearsalAction): RunState {
    const { state, site } = this
    switch (action.do) {
      case 'scan':
        return rehearse.scan(state, site, among(action.networks))
      case 'assignAll':
        return rehearse.assign(state, site, among(action.networks))
      case 'start':
        return rehearse.start(state, site, among(action.networks))
      case 'check':
        return rehearse.checkAll(state, site)
      case 'onSite':
        doOnSite(this.world, action.stationId, action.what)
        return rehearse.disconnected(state, [action.stationId])
      case 'identifyFailSafe':
        return this.identifyFailSafe(action.stationId)
      case 'writeFailSafe':
        return this.writeFailSafe(action.stationId, action.serial)
      case 'blink':
        return this.blink(action)
      case 'reset':
        return this.reset(action)
      case 'assign':
        return this.assign(action)
    }
  }

  private blink({ networkId, key }: AtWire): RunState {
    const [network, device] = this.deviceAt(networkId, key)
    if (!network || !device) return this.refuse(nowhere)
    const { blink } = rehearse.masterOf(network)
    if (!blink)
      return this.refuse(
        'Devices of this network cannot blink; read the serial number on the housing.',
      )
    return blink(this.site.line(networkId), device)
      ? this.state
      : this.refuse(`${key} does not answer.`)
  }

  private reset({ networkId, key }: AtWire): RunState {
    const [network, device] = this.deviceAt(networkId, key)
    if (!network || !device) return this.refuse(nowhere)
    const { reset } = rehearse.masterOf(network)
    const why = reset
      ? reset(this.site.line(networkId), device)
      : 'Devices of this network are reset at the device.'
    if (why !== null) return this.refuse(why)
    const lost = rehearse
      .matches(this.state)
      .flatMap(({ stations }) =>
        stations.flatMap(({ station, device: own }) => (own?.key === key ? [station.id] : [])),
      )
    const state = rehearse.disconnected(this.state, lost)
    return rehearse.scan(state, this.site, among([networkId]))
  }

  private assign({
    stationId,
    key,
  }: {
    readonly stationId: string
    readonly key: string
  }): RunState {
    const station = this.state.networks
      .flatMap(({ stations }) => stations)
      .find(({ id }) => id === stationId)
    const [, device] = station ? this.deviceAt(station.networkId, key) : [null, null]
    if (!station || !device) return this.refuse(nowhere)
    const why = rehearse.assignOne(this.state, this.site, station, device)
    return why === null
      ? rehearse.scan(this.state, this.site, among([station.networkId]))
      : this.refuse(why)
  }

  /** The device that is a station's, by the last scan. */
  private matched(stationId: string) {
    for (const { stations } of rehearse.matches(this.state))
      for (const { station, device } of stations)
        if (station.id === stationId) return { station, device }
    return null
  }

  private identifyFailSafe(stationId: string): RunState {
    const found = this.matched(stationId)
    if (!found?.device) return this.refuse(nowhere)
    const { station, device } = found
    const next = this.blink({ networkId: station.networkId, key: device.key })
    if (this.refused === null) this.identified.set(stationId, { key: device.key, atMs: this.nowMs })
    return next
  }

  /** Within the time, to the very device that was identified, or not at all. */
  private writeFailSafe(stationId: string, serial: string): RunState {
    const found = this.matched(stationId)
    const identified = this.identified.get(stationId)
    if (!found?.device) return this.refuse(nowhere)
    const { station, device } = found
    this.identified.delete(stationId)
    if (identified?.key !== device.key) return this.refuse('Identify the device first.')
    if (this.nowMs - identified.atMs > identifiedForMs)
      return this.refuse(
        `More than ${identifiedForMs / 1000} s have passed since it blinked; that is void. Identify it again.`,
      )
    if (serial !== '' && serial !== device.serial)
      return this.refuse(
        `The device says the serial number ${device.serial ?? 'none'}; nothing was written.`,
      )
    const { writeFailSafe } = rehearse.masterOf(station)
    const why = writeFailSafe
      ? writeFailSafe(this.site.line(station.networkId), device, station.failSafe)
      : 'They are set at the modules.'
    return why === null
      ? rehearse.scan(this.state, this.site, among([station.networkId]))
      : this.refuse(why)
  }

  private deviceAt(networkId: string, key: string) {
    return [
      this.state.networks.find(({ id }) => id === networkId) ?? null,
      this.state.found[networkId]?.find((device) => device.key === key) ?? null,
    ] as const
  }

  private refuse(why: string): RunState {
    this.refused = why
    return this.state
  }

  get findings(): readonly RehearsalFinding[] {
    const { assign = [], start = [], check = [] } = this.state.findings
    return [...assign, ...start, ...check]
  }

  score(): Scored[] {
    return scoreOf(this.injected, this.named, this.world.differences, this.state)
  }

  readonly site: Site = {
    field: {
      put: (tag, share) => this.world.field.put(tag, share),
      seen: (tag) => this.world.field.seen(tag),
    },
    line: (id) => {
      let line = this.lines.get(id)
      if (!line) this.lines.set(id, (line = this.world.line(id, this.log)))
      return line
    },
  }
}

const among = (networks: readonly string[] | undefined) =>
  networks ? (id: string) => networks.includes(id) : undefined
