import { Download, endpoint, type Endpoint } from '../http/endpoint'
import { fileOfJob } from '../jobs/job-file'
import type { PlanServices, Services } from '../services'

export function jobEndpoints({ jobs }: Pick<Services, 'jobs'>): Endpoint[] {
  return [
    endpoint('jobs', async ({ user }) => ({ jobs: await jobs.list(user.id) })),
    endpoint('beginExport', async ({ params, user, body }) => ({
      job: await jobs.beginExport(user.id, params.project, body.format, body.options),
    })),
    endpoint('beginRelease', async ({ params, user, body }) => ({
      job: await jobs.beginRelease(
        { userId: user.id, author: user.fullName },
        params.project,
        body,
      ),
    })),
    endpoint('beginReading', async ({ query, raw, user }) => ({
      job: await jobs.beginReading(user.id, query.name, raw),
    })),
    endpoint('jobOutcome', ({ params, user }) => jobs.outcome(user.id, params.job)),
    endpoint('cancelJob', async ({ params, user }) => ({
      job: await jobs.cancel(user.id, params.job),
    })),
    endpoint('forgetJob', async ({ params, user }) => {
      await jobs.forget(user.id, params.job)
      return {}
    }),
  ]
}

/** Apart from the others: a file may be large, and comes by a thread. */
export function jobFileEndpoints({ db }: Pick<PlanServices, 'db'>): Endpoint[] {
  return [
    endpoint('jobFile', async ({ params, user }) => {
      const { content, mediaType, fileName } = await fileOfJob(db, user.id, params.job)
      return new Download(content, mediaType, fileName)
    }),
  ]
}
