import {
  applyCommand,
  bearsOnSafety,
  derive,
  stationFindings,
  wordCommandFault,
  wordRefusal,
  type Applied,
  type Command,
  type Derived,
} from '@kataxis/core'
import type { useSession } from '../session'
import type { Outbox } from './outbox'
import type { ProjectState } from './state'

/** What becomes of commands in this window, before the server has seen them. */
export class Trying {
  constructor(
    private readonly state: ProjectState,
    private readonly outbox: Outbox,
    private readonly session: ReturnType<typeof useSession>,
  ) {}

  /** Does a command at once and sends it on; a refusal is told and nothing happens. */
  readonly run = (command: Command): boolean => {
    const fault = wordCommandFault(command)
    if (fault !== null) {
      this.state.tell(fault)
      return false
    }
    const applied = this.apply(command)
    if (!applied) return false
    const refusal = applied.ok ? this.whyForbidden(applied) : wordRefusal(applied.refusal)
    if (!applied.ok || refusal !== null) {
      this.state.tell(refusal!)
      return false
    }
    this.state.plan.value = applied.plan
    this.outbox.add({ kind: 'command', command })
    return true
  }

  /** Why a command would be refused; null where it would not. */
  readonly whyNot = (command: Command): string | null => {
    const fault = wordCommandFault(command)
    if (fault !== null) return fault
    const applied = this.apply(command)
    return !applied || applied.ok ? null : wordRefusal(applied.refusal)
  }

  /** The first blocker that a station would newly have after a command; null where there would be
   *  none. */
  readonly newlyWrong = (command: Command, stationId: string): string | null => {
    const { catalog, derived } = this.state
    const applied = derived.value && this.apply(command)
    if (!derived.value || !applied?.ok) return null
    const known = new Set(blockersOf(derived.value, stationId))
    const after = blockersOf(derive(applied.plan, catalog.value), stationId)
    return after.find((message) => !known.has(message)) ?? null
  }

  private apply(command: Command): Applied | null {
    const { plan, catalog } = this.state
    return plan.value && applyCommand(plan.value, catalog.value, command)
  }

  private whyForbidden({ plan: next, changes }: Extract<Applied, { ok: true }>): string | null {
    const { damage, plan, catalog } = this.state
    if (damage.value.length > 0)
      return 'The project is damaged and can only be read; repair it first.'
    return (
      this.session.whyNot('plan') ??
      (bearsOnSafety(plan.value!, next, catalog.value, changes)
        ? this.session.whyNot('safety')
        : null)
    )
  }
}

const blockersOf = (derived: Derived, stationId: string) =>
  stationFindings(derived, stationId)
    .filter(({ severity }) => severity === 'blocker')
    .map(({ message }) => message)
