import { computed, ref, shallowRef, type ComputedRef } from 'vue'
import {
  catalogFor,
  applyChanges,
  applyCommand,
  createChecker,
  derive,
  type Catalog,
  type Derived,
  type Plan,
} from '@kataxis/core'
import type { Told } from '../../api/client'
import type { Action, Pending } from '../../local/work'

/** Something that others have built on, with what would take it back all the same. */
export interface Blocked {
  readonly sentence: string
  readonly again: Action
}

const none: readonly string[] = []

/** The open project as this window has it: the plan as the server confirmed it, the unconfirmed
 *  commands laid over it, and all that follows. */
export class ProjectState {
  readonly id = ref('')
  readonly revision = ref(0)
  readonly plan = shallowRef<Plan | null>(null)
  readonly failure = ref('')
  /** Shown from what this browser kept, since the server does not answer. */
  readonly isOffline = ref(false)
  /** What is wrong with a damaged project, which can only be read. */
  readonly damage = shallowRef<readonly string[]>(none)
  /** The last thing that was taken back or refused, for the frame to tell. */
  readonly refusal = shallowRef<{ sentence: string } | null>(null)
  readonly blocked = shallowRef<Blocked | null>(null)
  /** Looking at a whole large plan takes half a second; the plan is shown first. */
  readonly hasShown = ref(false)
  readonly catalog: ComputedRef<Catalog>
  readonly derived: ComputedRef<Derived | null>
  confirmed: Plan | null = null
  epoch = ''
  private checker = createChecker()

  constructor(catalogs: () => Catalog) {
    this.catalog = computed(() =>
      this.plan.value ? catalogFor(this.plan.value.project, catalogs()) : catalogs(),
    )
    this.derived = computed(() => this.plan.value && derive(this.plan.value, this.catalog.value))
  }

  readonly findings = computed(() =>
    this.hasShown.value && this.derived.value ? this.checker(this.derived.value) : null,
  )

  readonly tell = (sentence: string): void => {
    this.refusal.value = { sentence }
  }

  isOpen(projectId: string): boolean {
    return this.id.value === projectId
  }

  confirm(plan: Plan, revision: number, epoch: string): void {
    this.confirmed = plan
    this.revision.value = revision
    this.epoch = epoch
  }

  /** The next change on top of what is confirmed. */
  follow({ revision, changes }: Told['entries'][number]): void {
    this.confirmed = applyChanges(this.confirmed!, changes)
    this.revision.value = revision
  }

  /** Lays what waits unconfirmed over what is confirmed; what no longer goes is left out. */
  replay(pending: readonly Pending[]): void {
    if (!this.confirmed) return
    let current = this.confirmed
    for (const { action } of pending) {
      if (action.kind !== 'command') continue
      const applied = applyCommand(current, this.catalog.value, action.command)
      if (applied.ok) current = applied.plan
    }
    this.plan.value = current
  }

  clear(): void {
    this.id.value = ''
    this.confirmed = this.plan.value = null
    this.hasShown.value = false
    this.isOffline.value = false
    this.damage.value = none
    this.failure.value = ''
    this.blocked.value = null
    this.checker = createChecker()
  }
}
