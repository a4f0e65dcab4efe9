import { api, type RefusedByServer, type TakingBack, type Told } from '../../api/client'
import type { Action, Pending } from '../../local/work'
import type { Outbox } from './outbox'
import type { ProjectState } from './state'

/** Undo, redo and back to a revision. */
export class TakesBack {
  constructor(
    private readonly state: ProjectState,
    private readonly outbox: Outbox,
  ) {}

  /** The plan as it was at a revision, as a new change; what waits unsent goes first. */
  readonly backTo = (revision: number) => this.outbox.add({ kind: 'back', revision })
  /** Before the plan is there nobody can mean a change of it. */
  readonly undo = () => void (this.state.plan.value && this.outbox.add({ kind: 'undo' }))
  readonly redo = () => void (this.state.plan.value && this.outbox.add({ kind: 'redo' }))

  /** What others have built on goes along, after all. */
  readonly takeBackWithDependents = (): void => {
    const { blocked } = this.state
    if (blocked.value) this.outbox.add(blocked.value.again)
    blocked.value = null
  }

  /** What others have built on stays; the change before it is taken back instead. */
  readonly skipBlocked = (): void => {
    const { blocked } = this.state
    if (blocked.value?.again.kind !== 'undo') return
    const { withDependents: _along, ...again } = blocked.value.again
    blocked.value = null
    this.outbox.add({ ...again, skip: true })
    this.outbox.add({ kind: 'undo' })
  }

  /** Tells why the server refused something, or asks what is to become of what others built on. */
  refused(action: Action, { refusal, message }: RefusedByServer): void {
    if (refusal?.code !== 'undo.blocked' || action.kind === 'command')
      return this.state.tell(message)
    this.state.blocked.value = {
      sentence: message,
      again: {
        ...action,
        withDependents: true,
        ...(action.kind !== 'back' && { target: refusal.target }),
      } as Action,
    }
  }
}

/** Sends what a person did to the server. */
export function post(
  projectId: string,
  { commandId, baseRevision, epoch, action }: Pending,
): Promise<Told> {
  const order = { commandId, baseRevision, epoch }
  if (action.kind === 'command') return api.command(projectId, order, action.command)
  const taking: TakingBack = {
    ...(action.withDependents && { withDependents: true }),
    ...(action.kind === 'undo' && action.skip && { skip: true }),
    ...('target' in action && action.target !== undefined && { target: action.target }),
  }
  const call = { ...order, ...taking }
  if (action.kind === 'back') return api.backTo(projectId, call, action.revision)
  return action.kind === 'undo' ? api.undo(projectId, call) : api.redo(projectId, call)
}
