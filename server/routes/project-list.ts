import { may, newId, projectRow } from '@kataxis/core'
import { endpoint, type Endpoint } from '../http/endpoint'
import type { PlanServices } from '../services'
import { demoProject, loadDemo } from '../services/demo'
import type { UserRow } from '../services/users'

const importer = ({ fullName, role }: UserRow) => ({
  name: fullName,
  mayChangeSafety: may(role, 'safety'),
})

/** Projects from outside: which there are, how they begin, how they are kept, who may enter. */
export function projectListEndpoints({
  db,
  projects,
  plans,
  shelf,
  handover,
}: PlanServices): Endpoint[] {
  return [
    endpoint('projects', async ({ user }) => ({ projects: await projects.list(user) })),
    endpoint('access', async ({ params, user }) => ({
      role: user.role,
      state: await projects.state(params.project, user.id),
    })),
    endpoint('setState', async ({ params, body }) => {
      await projects.setState(params.project, body.state)
      return {}
    }),
    endpoint('copyProject', ({ params, user, body: { name } }) =>
      handover.copy(params.project, name, importer(user)),
    ),
    endpoint('members', ({ params, user }) => projects.members(params.project, user.id)),
    endpoint('setMembers', async ({ params, body }) => {
      await projects.setMembers(params.project, body.isOpen, body.members)
      return {}
    }),
    endpoint('createProject', async ({ body: { name } }) => {
      const row = projectRow.parse({ id: newId('p-'), name, tagLength: 32 })
      await plans.create(row)
      return { id: row.id }
    }),
    endpoint('openDemo', async () => {
      await loadDemo(db, plans, shelf)
      return { id: demoProject.id }
    }),
    endpoint('importProject', ({ raw, user }) => handover.import(raw, importer(user))),
  ]
}
