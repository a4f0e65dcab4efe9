import { max, sql } from 'drizzle-orm'
import { projects } from '../db/schema'
import { endpoint, type Endpoint } from '../http/endpoint'
import { refusal, refusalWith } from '../services/refusals'
import { tokenOf } from '../http/session'
import { sessionOf } from '../services/session-key'
import { notify } from '../live/notifications'
import type { Services } from '../services'

/** Of one account on this instance: steady, and at once. A window that somebody works in says a few
 *  things a second at most. */
const presencePerS = 10
const presenceAtOnce = 60

/** What goes on while somebody looks: one stream of events a browser, and where everybody is. */
export function liveEndpoints(services: Services): Endpoint[] {
  const { db, streams } = services
  const budgets = new Map<string, { left: number; at: number }>()
  const spend = (userId: string) => {
    if (budgets.size > 10_000) budgets.clear()
    const { left, at } = budgets.get(userId) ?? { left: presenceAtOnce, at: Date.now() }
    const now = Math.min(presenceAtOnce, left + ((Date.now() - at) / 1000) * presencePerS)
    budgets.set(userId, { left: Math.max(0, now - 1), at: Date.now() })
    if (now < 1) throw refusal('presence.many')
  }
  return [
    endpoint('health', () => healthOf(services)),
    endpoint('sayPresence', async ({ params, user, body }) => {
      spend(user.id)
      await notify(db, { project: params.project, presence: { ...body, author: user.fullName } })
      return {}
    }),
    endpoint('events', async ({ query, user, request, response }) =>
      streams.begin({
        response,
        userId: user.id,
        session: sessionOf(tokenOf(request) ?? ''),
        projects: await services.projects.entered(user, query.project),
      }),
    ),
    endpoint('projectEvents', ({ params, user, request, response }) =>
      streams.begin({
        response,
        userId: user.id,
        session: sessionOf(tokenOf(request) ?? ''),
        projects: new Set([params.project]),
      }),
    ),
  ]
}

/** How it is with the program and its database. */
async function healthOf({ db, space, notifications, streams, loop, log }: Services) {
  const { freeBytes, isScarce } = space
  try {
    const [row] = await db
      .select({ revision: max(projects.revision), now: sql`now()` })
      .from(projects)
    return {
      status: 'ok' as const,
      revision: row?.revision ?? 0,
      space: { freeBytes, isScarce },
      isListening: notifications.isListening,
      streams: streams.size,
      longestBlockMs: Math.round(loop.max / 1e6),
    }
  } catch (error) {
    log.error({ error }, 'the database does not answer')
    throw refusalWith('database.away', { space: { freeBytes, isScarce } })
  }
}
