import { may, type ListedProject, type Right } from '@kataxis/core'

/** What is done to a project from outside; states are what it becomes. */
export type ProjectAction = 'rename' | 'duplicate' | 'members' | ListedProject['state']

interface Action {
  readonly key: ProjectAction
  readonly label: string
  readonly right: Right
  /** Projects in which state it is offered for. */
  readonly of: readonly ListedProject['state'][]
}

const actions: readonly Action[] = [
  { key: 'rename', label: 'Rename …', right: 'plan', of: ['active'] },
  { key: 'duplicate', label: 'Duplicate …', right: 'plan', of: ['active', 'archived'] },
  { key: 'members', label: 'Members …', right: 'own', of: ['active', 'archived'] },
  { key: 'archived', label: 'Archive', right: 'plan', of: ['active'] },
  { key: 'active', label: 'Restore', right: 'plan', of: ['archived', 'deleted'] },
  { key: 'deleted', label: 'Delete', right: 'plan', of: ['active', 'archived'] },
]

/** What somebody may do to a project, in the role that he has there. */
export const actionsFor = ({ state, role }: ListedProject): readonly Action[] =>
  actions.filter(({ of, right }) => of.includes(state) && may(role, right))
