import { projectStates, type ProjectState, type RoleName } from '@kataxis/core'
import type { Database } from '../db/connect'
import { notify } from '../live/notifications'
import * as repository from '../repositories/projects'
import type { KeptProject } from '../repositories/projects'
import { listUsers } from '../repositories/users'
import { notFound } from './refused'
import { refusal } from './refusals'
import type { UserRow } from './users'

const dayMs = 86_400_000
/** So long a deleted project can be restored. */
export const restorableDays = 30
/** So long an answer of the database is believed, even where nobody could tell this instance that it
 *  holds no longer. */
const believedMs = 800
const mostBelieved = 5000
const goneAt = (deletedAt: Date) => new Date(deletedAt.getTime() + restorableDays * dayMs)

/** Projects from outside: who may enter which, in which role, and whether it is in use, archived or
 *  deleted. */
export class Projects {
  private readonly believed = new Map<
    string,
    { readonly project: Promise<KeptProject | null>; readonly until: number }
  >()

  constructor(private readonly db: Database) {}

  /** Those that somebody may enter, with their last change. */
  async list(user: UserRow) {
    const found = await repository.listProjects(this.db, user.id)
    return found.flatMap((project) => {
      const role = roleOf(user, project)
      return role === null
        ? []
        : [
            {
              id: project.id,
              name: project.name,
              revision: project.revision,
              at: project.at ?? project.createdAt,
              by: project.by,
              state: stateOf(project),
              goneAt: project.deletedAt && goneAt(project.deletedAt),
              isOpen: project.isOpen,
              role,
            },
          ]
    })
  }

  /** Who somebody is on a project: the same person in the role that holds there. Refused where he
   *  may not enter, or where the project is not in use and the request does not reach such ones.
   *  Whether there is such a project at all, whoever carries the request out says. */
  async enter(
    user: UserRow,
    id: string,
    asks: { readonly changes: boolean; readonly reaches?: ProjectState | undefined },
  ): Promise<UserRow> {
    const project = await this.look(id, user.id)
    if (!project) return user
    const role = roleOf(user, project)
    if (role === null) throw refusal('project.members', project.name)
    const reach = projectStates.indexOf(asks.reaches ?? (asks.changes ? 'active' : 'archived'))
    if (projectStates.indexOf(stateOf(project)) > reach)
      throw project.deletedAt
        ? refusal('project.deleted', goneAt(project.deletedAt))
        : refusal('project.archived')
    return { ...user, role }
  }

  /** Of some projects those that somebody may enter. */
  async entered(user: UserRow, ids: readonly string[]): Promise<Set<string>> {
    if (ids.length === 0) return new Set()
    const mine = new Set((await this.list(user)).map(({ id }) => id))
    return new Set(ids.filter((id) => mine.has(id)))
  }

  async state(id: string, userId: string): Promise<ProjectState> {
    return stateOf(await this.kept(id, userId))
  }

  async setState(id: string, state: ProjectState): Promise<void> {
    const now = new Date()
    await repository.setKept(this.db, id, {
      archivedAt: state === 'archived' ? now : null,
      deletedAt: state === 'deleted' ? now : null,
    })
    this.believed.clear()
  }

  /** Who may enter a project, and all who could. */
  async members(id: string, userId: string) {
    const { isOpen } = await this.kept(id, userId)
    const [rows, people] = await Promise.all([
      repository.listMembers(this.db, id),
      listUsers(this.db),
    ])
    return { isOpen, members: rows, people }
  }

  /** Streams of those who are concerned end; their browsers ask anew and hear what they may. */
  async setMembers(
    id: string,
    isOpen: boolean,
    rows: readonly { readonly userId: string; readonly role: RoleName }[],
  ): Promise<void> {
    await this.db.transaction(async (tx) => {
      const people = await listUsers(tx)
      if (rows.some(({ userId }) => people.every(({ id: known }) => known !== userId)))
        throw notFound('account')
      if (new Set(rows.map(({ userId }) => userId)).size < rows.length)
        throw refusal('members.twice')
      await repository.setKept(tx, id, { isOpen })
      await repository.putMembers(tx, id, rows)
      for (const { id: user } of people) await notify(tx, { ended: { user } })
    })
    this.believed.clear()
  }

  /** Believes nothing any longer without asking. */
  doubt(): void {
    this.believed.clear()
  }

  /** Deleted projects whose time is over go for good. */
  purge(now = new Date()): Promise<string[]> {
    return repository.purgeDeleted(this.db, new Date(now.getTime() - restorableDays * dayMs))
  }

  /** As the database says, or has said a moment ago. Who asks at the same time waits for the same
   *  answer, so that requests stay in the order in which they came. */
  private look(id: string, userId: string): Promise<KeptProject | null> {
    const key = `${id} ${userId}`
    const known = this.believed.get(key)
    if (known && known.until > Date.now()) return known.project
    if (this.believed.size > mostBelieved) this.believed.clear()
    const project = repository.findKept(this.db, id, userId)
    this.believed.set(key, { project, until: Date.now() + believedMs })
    void project.then(
      (found) => found ?? this.believed.delete(key),
      () => this.believed.delete(key),
    )
    return project
  }

  private async kept(id: string, userId: string): Promise<KeptProject> {
    const project = await repository.findKept(this.db, id, userId)
    if (!project) throw notFound('project')
    return project
  }
}

/** Owners of the program enter everywhere; of a project with members only its members. */
function roleOf(user: UserRow, { isOpen, memberRole }: KeptProject): RoleName | null {
  return user.role === 'owner' || isOpen ? user.role : memberRole
}

function stateOf({ archivedAt, deletedAt }: KeptProject): ProjectState {
  return deletedAt ? 'deleted' : archivedAt ? 'archived' : 'active'
}
