import { computed, ref, shallowRef, type ShallowRef } from 'vue'
import { newId } from '@kataxis/core'
import { FailedInServer, RefusedByServer, ServerAway, type Told } from '../../api/client'
import * as local from '../../local/work'
import { tabId, type Action, type Pending, type SetAside } from '../../local/work'
import { Patience } from '../waiting'
import type { ProjectState } from './state'

/** What the outbox needs of the project that it sends for. */
interface Project {
  readonly state: ProjectState
  readonly user: () => { id: string; fullName: string } | null
  readonly post: (projectId: string, pending: Pending) => Promise<Told>
  /** What happened, with the rest that is still to be sent laid over it. */
  readonly accept: (told: Told) => Promise<void>
  /** The server refused it; the plan is shown as it is without it. */
  readonly refused: (pending: Pending, error: RefusedByServer) => Promise<void>
  readonly laidAnew: () => void
  /** The server's database is another one than the command was meant for: loads the plan anew and
   *  sets such commands aside. */
  readonly begunAnew: () => Promise<void>
}

/** Commands on their way to the server, one after the other. Each is kept in the browser's
 *  database, but sending never waits for that. What cannot be carried out by the program's own
 *  fault is set aside, and the rest goes on. */
export class Outbox {
  readonly pending: ShallowRef<readonly Pending[]> = shallowRef([])
  readonly aside: ShallowRef<readonly SetAside[]> = shallowRef([])
  readonly others: ShallowRef<readonly { name: string; count: number }[]> = shallowRef([])
  readonly link = ref<'saved' | 'saving' | 'away'>('saved')
  /** Why the last attempt to keep something in this browser failed; empty where all of it is
   *  kept. */
  private readonly notKept = ref('')
  private sending = false
  /** Whose work each command is, by its id; under another name it is not sent. */
  private readonly owners = new Map<string, string>()
  private wake: (() => void) | null = null
  private readonly patience = new Patience()

  constructor(private readonly project: Project) {}

  readonly isSending = () => this.sending

  /** What the state line says. */
  readonly words = computed(() => {
    const waiting = this.pending.value.length
    const why = this.notKept.value
    const unkept = waiting > 0 && why !== '' ? ` · not kept over a reload: ${why}` : ''
    if (this.link.value === 'away')
      return waiting > 0
        ? `Server away · ${waiting} ${unkept === '' ? 'kept here' : 'waiting'}${unkept}`
        : 'Server away'
    return waiting > 0 ? `Saving …${unkept}` : null
  })

  /** What was left unsent by windows that are gone, or by this one when it comes back to the project,
   *  and what waits for others or for a decision. */
  async load(isBack = false): Promise<void> {
    const own = this.owner()
    if (!own) return
    const projectId = this.projectId
    await this.keeping(async () => {
      const left = await local.takeOverPending(own.owner, isBack)
      const decided = await local.asideOf(projectId, own.owner.user)
      const foreign = await local.pendingOfOthers(projectId, own.owner.user)
      if (projectId !== this.projectId) return
      this.aside.value = decided
      this.others.value = foreign
      const known = new Set(this.pending.value.map(({ commandId }) => commandId))
      const added = left.filter(({ commandId }) => !known.has(commandId))
      for (const { commandId } of added) this.owners.set(commandId, own.owner.user)
      if (added.length > 0) this.pending.value = [...added, ...this.pending.value]
    })
  }

  add(action: Action): void {
    const { state } = this.project
    const entry = {
      commandId: newId(),
      baseRevision: state.revision.value,
      epoch: state.epoch,
      action,
    }
    this.pending.value = [...this.pending.value, entry]
    const own = this.owner()
    if (own) {
      this.owners.set(entry.commandId, own.owner.user)
      void this.keeping(() => local.keepPending(own.owner, own.userName, entry))
    }
    void this.send()
  }

  /** Sends until nothing is left; while the server is away it waits and goes on by itself. */
  async send(): Promise<void> {
    if (this.sending) return
    this.sending = true
    const { projectId } = this
    this.patience.reset()
    try {
      while (this.pending.value.length > 0 && projectId === this.projectId) {
        const next = this.nextOwn()
        if (next) await this.sendOne(projectId, next)
        else {
          this.link.value = 'away'
          await this.pause(this.patience.next())
        }
      }
    } finally {
      this.sending = false
    }
    if (this.pending.value.length > 0) void this.send()
  }

  private nextOwn(): Pending | undefined {
    const user = this.project.user()
    return user
      ? this.pending.value.find(({ commandId }) => this.owners.get(commandId) === user.id)
      : undefined
  }

  private async sendOne(projectId: string, next: Pending): Promise<void> {
    if (this.link.value !== 'away') this.link.value = 'saving'
    try {
      const told = await this.project.post(projectId, next)
      if (projectId !== this.projectId) return
      this.patience.reset()
      this.link.value = 'saved'
      this.drop(next.commandId)
      await this.project.accept(told)
    } catch (error) {
      await this.hasFailed(next, error)
    }
  }

  private async hasFailed(next: Pending, error: unknown): Promise<void> {
    if (error instanceof ServerAway) {
      this.link.value = 'away'
      const ms = this.patience.next()
      return this.pause(error.retryAfterMs ?? ms)
    }
    if (error instanceof RefusedByServer && error.code === 'epoch.other')
      return this.project.begunAnew().catch(() => this.pause(this.patience.next()))
    this.link.value = 'saved'
    if (error instanceof RefusedByServer) {
      // Of a plan from before an update its person decides, on the plan as it is now.
      if (error.code === 'plan.old') await this.putAside([next], error.message)
      else this.drop(next.commandId)
      return this.project.refused(next, error)
    }
    // The program's own fault, there or here: sent again and again it would hold up everything
    // behind it.
    const reason =
      error instanceof FailedInServer
        ? error.message
        : `The program failed in this window: ${(error as Error).message}`
    await this.putAside([next], reason)
  }

  /** Waits, but not when the server is heard again. */
  private pause(ms: number): Promise<void> {
    return new Promise((go) => {
      const timer = setTimeout(go, ms * (0.8 + Math.random() * 0.4))
      this.wake = () => {
        clearTimeout(timer)
        go()
      }
    })
  }

  hurry(): void {
    this.wake?.()
    if (this.link.value === 'away' && this.pending.value.length === 0) this.link.value = 'saved'
  }

  private drop(commandId: string): void {
    this.pending.value = this.pending.value.filter((entry) => entry.commandId !== commandId)
    void this.keeping(() => local.forgetPending(commandId))
  }

  async putAside(entries: readonly Pending[], reason: string): Promise<void> {
    const own = this.owner()
    const ids = new Set(entries.map(({ commandId }) => commandId))
    this.pending.value = this.pending.value.filter(({ commandId }) => !ids.has(commandId))
    if (!own) return
    const kept = entries.map(({ commandId, action }) => ({
      commandId,
      project: this.projectId,
      user: own.owner.user,
      action,
      reason,
      at: new Date().toISOString(),
    }))
    this.aside.value = [...this.aside.value, ...kept]
    this.project.laidAnew()
    for (const entry of kept) await this.keeping(() => local.setAside(entry))
  }

  /** Sends something again that was set aside, as a new change. */
  readonly retry = (entry: SetAside): void => {
    this.discard(entry)
    this.add(entry.action)
    this.project.laidAnew()
  }

  readonly discard = ({ commandId }: SetAside): void => {
    this.aside.value = this.aside.value.filter((entry) => entry.commandId !== commandId)
    void this.keeping(() => local.forgetAside(commandId))
  }

  clear(): void {
    this.pending.value = []
    this.aside.value = []
    this.others.value = []
    this.wake?.()
  }

  private get projectId(): string {
    return this.project.state.id.value
  }

  private owner() {
    const user = this.project.user()
    return (
      user && {
        owner: { project: this.projectId, user: user.id, tab: tabId },
        userName: user.fullName,
      }
    )
  }

  private async keeping(work: () => Promise<void>): Promise<void> {
    try {
      await work()
      if (this.pending.value.length === 0) this.notKept.value = ''
    } catch (error) {
      this.notKept.value =
        (error as Error).name === 'QuotaExceededError'
          ? 'the browser’s storage is full'
          : 'the browser keeps nothing'
    }
  }
}
