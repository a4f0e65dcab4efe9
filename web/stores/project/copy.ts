import { filesOfPlan, planFromRows, unpackSignals } from '@kataxis/core'
import { api, type PlanAnswer, type Told } from '../../api/client'
import { keepChange, keepPlan, storedPlan } from '../../local/work'
import type { useShelf } from '../shelf'
import type { Outbox } from './outbox'
import type { ProjectState } from './state'

const tiredWords = 'It is tried again by itself.'
const restoredReason =
  'The server’s database was restored from a backup in the meantime; this was meant for the plan before.'
const restoredWords =
  'The server’s database was restored from a backup. The plan was loaded again; what had not been sent is set aside.'

/** Keeps this window's copy of the plan as the server says it is. */
export class PlanCopy {
  constructor(
    private readonly state: ProjectState,
    private readonly outbox: Outbox,
    private readonly shelf: ReturnType<typeof useShelf>,
  ) {}

  async load(projectId: string): Promise<void> {
    const { state, outbox } = this
    const { text, answer } = await api.plan(projectId)
    await this.show(projectId, answer)
    if (!state.isOpen(projectId)) return
    state.damage.value = answer.damage
    state.isOffline.value = false
    outbox.link.value = 'saved'
    state.failure.value = ''
    void keepPlan(projectId, text).catch(() => undefined)
  }

  private async show(
    projectId: string,
    { revision, epoch, project, damage: _, signals, ...rows }: PlanAnswer,
  ): Promise<void> {
    const plan = planFromRows(project, { ...rows, signals: unpackSignals(signals) })
    await this.shelf.need(filesOfPlan(plan))
    if (!this.state.isOpen(projectId)) return
    this.state.confirm(plan, revision, epoch)
    this.replay()
  }

  /** The last plan that this browser saw, with what it heard of since. */
  async startOffline(projectId: string, sentence: string): Promise<void> {
    const { state, outbox } = this
    const stored = await storedPlan(projectId).catch(() => null)
    if (!state.isOpen(projectId)) return
    if (!stored) return void (state.failure.value = `${sentence} ${tiredWords}`)
    try {
      await this.show(projectId, JSON.parse(stored.text) as PlanAnswer)
      for (const entry of stored.entries)
        if (entry.revision === state.revision.value + 1) state.follow(entry)
      await outbox.load(true)
      state.isOffline.value = true
      this.replay()
      state.hasShown.value = true
    } catch {
      state.failure.value = `${sentence} ${tiredWords}`
    }
  }

  /** Takes over what the server says happened and lays the rest of the own work over it again. */
  async accept({ epoch, entries }: Told): Promise<void> {
    const { state } = this
    const projectId = state.id.value
    if (epoch !== state.epoch) return this.beginAnew()
    try {
      for (const entry of entries) {
        if (entry.revision <= state.revision.value) continue
        // A gap, or rows that no longer are what their changes say: the whole plan is asked for.
        if (entry.revision !== state.revision.value + 1 || entry.kind === 'repair')
          return await this.load(projectId)
        state.follow(entry)
        void keepChange(projectId, entry).catch(() => undefined)
      }
    } catch {
      return this.load(projectId)
    }
    this.replay()
  }

  async catchUp(): Promise<void> {
    const { id, revision } = this.state
    await this.accept(await api.changesSince(id.value, revision.value))
  }

  /** What another window or person did at this revision, told over the event stream. */
  heardOf(revision: number, epoch: string | null): void {
    const { state, outbox } = this
    outbox.hurry()
    if (outbox.isSending()) return
    const isOther = epoch !== null && (epoch !== state.epoch || revision < state.revision.value)
    if (isOther) void this.beginAnew().catch(() => undefined)
    else if (revision > state.revision.value) void this.catchUp().catch(() => undefined)
  }

  /** Another database, as after a restored backup: its plan is loaded, and what was meant for the
   *  other one is kept apart. */
  async beginAnew(): Promise<void> {
    const { state, outbox } = this
    await this.load(state.id.value)
    await outbox.putAside(
      outbox.pending.value.filter(({ epoch }) => epoch !== state.epoch),
      restoredReason,
    )
    state.tell(restoredWords)
  }

  replay(): void {
    this.state.replay(this.outbox.pending.value)
  }
}
