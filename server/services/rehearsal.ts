import {
  blockCode,
  blockOf,
  dcpErrors,
  decodeDcp,
  decodeRealIdentification,
  derive,
  encodeDcp,
  foundDevice,
  fromHex,
  identifyMulticast,
  plannedStations,
  toHex,
  writePcap,
  type DcpBlock,
  type DcpFrame,
  type FoundDevice,
  type PlannedStation,
} from '@kataxis/core'
import {
  buildWire,
  readRealIdentification,
  transmit,
  type Difference,
  type Wire,
} from '@kataxis/standins'
import type { Database } from '../db/connect'
import { notFound } from './refused'
import { refusal } from './refusals'
import { loadRehearsal, saveRehearsal } from '../repositories/rehearsals'
import type { Plans } from './plans'

/** The tool's own address on the simulated wire. */
const toolMac = '02:4b:41:54:00:01'
const mostFrames = 500

export interface LoggedFrame {
  readonly timeMs: number
  readonly direction: 'sent' | 'received'
  readonly hex: string
}

export interface RehearsalState {
  readonly wire: Wire
  readonly differences: readonly Difference[]
  readonly found: readonly FoundDevice[] | null
  readonly frames: readonly LoggedFrame[]
  readonly nextXid: number
}

/** What the browser sees: the devices as the wire showed them, never the stand-ins themselves. */
export type RehearsalView = Pick<RehearsalState, 'found' | 'frames' | 'differences'>

/** Commissioning against the simulated wire. Everything goes through encoded frames, both ways. */
export class Rehearsal {
  constructor(
    private readonly db: Database,
    private readonly plans: Plans,
  ) {}

  async view(projectId: string): Promise<RehearsalView | null> {
    const state = await this.db.transaction((tx) => loadRehearsal<RehearsalState>(tx, projectId))
    return state && viewOf(state)
  }

  /** A fresh wire with the planned stations and the injected differences. */
  async begin(projectId: string): Promise<RehearsalView> {
    const planned = await this.planned(projectId)
    const { wire, differences } = buildWire(planned)
    const state: RehearsalState = { wire, differences, found: null, frames: [], nextXid: 1 }
    await this.db.transaction((tx) => saveRehearsal(tx, projectId, state))
    return viewOf(state)
  }

  /** Asks everybody on the wire who they are; changes nothing. */
  async scan(projectId: string): Promise<RehearsalView> {
    return this.step(projectId, (session) => scanWire(session))
  }

  async blink(projectId: string, mac: string): Promise<RehearsalView> {
    return this.step(projectId, (session) => session.set(mac, { kind: 'signal' }))
  }

  /** Gives a device the name and address of a planned station, then looks again. */
  async assign(projectId: string, mac: string, stationId: string): Promise<RehearsalView> {
    const station = (await this.planned(projectId)).find(({ id }) => id === stationId)
    if (!station) throw notFound('station')
    return this.step(projectId, (session) => {
      const holder = session.state.found?.find(
        ({ name, mac: other }) => name === station.wireName && other !== mac,
      )
      if (holder) throw refusal('name.held', { mac: holder.mac, name: station.wireName })
      session.set(mac, { kind: 'name', name: station.wireName })
      session.set(mac, { kind: 'ip', ip: station.ip, mask: station.mask, gateway: '0.0.0.0' })
      scanWire(session)
    })
  }

  /** All frames of the rehearsal as a capture file. */
  async capture(projectId: string): Promise<Uint8Array> {
    const view = await this.view(projectId)
    if (!view) throw notFound('rehearsal')
    return writePcap(view.frames.map(({ timeMs, hex }) => ({ timeMs, bytes: fromHex(hex) })))
  }

  private async planned(projectId: string): Promise<PlannedStation[]> {
    const { plan, catalog } = await this.plans.loadWithCatalog(projectId)
    return plannedStations(derive(plan, catalog))
  }

  private async step(projectId: string, work: (session: Session) => void): Promise<RehearsalView> {
    return this.db.transaction(async (tx) => {
      const state = await loadRehearsal<RehearsalState>(tx, projectId)
      if (!state) throw notFound('rehearsal')
      const session = new Session(state)
      work(session)
      await saveRehearsal(tx, projectId, session.state)
      return viewOf(session.state)
    })
  }
}

/** Talks to the wire in frames and keeps the log. */
class Session {
  constructor(public state: RehearsalState) {}

  send(frame: Omit<DcpFrame, 'source' | 'xid'>): DcpFrame[] {
    const xid = this.state.nextXid
    const bytes = encodeDcp({ ...frame, source: toolMac, xid })
    const { wire, answers } = transmit(this.state.wire, bytes)
    const timeMs = Date.now()
    const log: LoggedFrame[] = [
      { timeMs, direction: 'sent', hex: toHex(bytes, bytes.length, '') },
      ...answers.map((answer): LoggedFrame => ({
        timeMs,
        direction: 'received',
        hex: toHex(answer, answer.length, ''),
      })),
    ]
    this.state = {
      ...this.state,
      wire,
      nextXid: xid + 1,
      frames: [...this.state.frames, ...log].slice(-mostFrames),
    }
    return answers
      .map((answer) => decodeDcp(answer))
      .filter((answer): answer is DcpFrame => !('fault' in answer) && answer.xid === xid)
  }

  set(mac: string, block: Extract<DcpBlock, { kind: 'name' | 'ip' | 'signal' }>): void {
    const { option, suboption } = blockCode(block.kind)
    const [answer] = this.send({ destination: mac, service: 'set', blocks: [block] })
    const result = answer && blockOf(answer, 'result')
    if (!result) throw refusal('device.silent', mac)
    if (result.option !== option || result.suboption !== suboption || result.error !== 0) {
      throw refusal('device.refused', {
        mac,
        error: dcpErrors[result.error] ?? `error ${result.error}`,
      })
    }
  }
}

function scanWire(session: Session): void {
  const answers = session.send({
    destination: identifyMulticast,
    service: 'identify',
    blocks: [{ kind: 'all' }],
  })
  const found = answers.map((answer) => {
    const record = decodeRealIdentification(
      readRealIdentification(session.state.wire, answer.source),
    )
    return foundDevice(answer, 'fault' in record ? [] : record)
  })
  session.state = { ...session.state, found: found.sort((a, b) => (a.mac < b.mac ? -1 : 1)) }
}

function viewOf({ found, frames, differences }: RehearsalState): RehearsalView {
  return { found, frames, differences }
}
