import { Download, endpoint, type Endpoint } from '../http/endpoint'
import type { Services } from '../services'

export function jobEndpoints({ jobs }: Pick<Services, 'jobs'>): Endpoint[] {
  return [
    endpoint('jobs', async ({ user }) => ({ jobs: await jobs.list(user.id) })),
    endpoint('beginExport', async ({ params, user, body }) => ({
      job: await jobs.beginExport(user.id, params.project, body.format),
    })),
    endpoint('beginReading', async ({ query, raw, user }) => ({
      job: await jobs.beginReading(user.id, query.name, raw),
    })),
    endpoint('jobOutcome', ({ params, user }) => jobs.outcome(user.id, params.job)),
    endpoint('jobFile', async ({ params, user }) => {
      const { content, mediaType, fileName } = await jobs.file(user.id, params.job)
      return new Download(content, mediaType, fileName)
    }),
    endpoint('cancelJob', async ({ params, user }) => ({
      job: await jobs.cancel(user.id, params.job),
    })),
    endpoint('forgetJob', async ({ params, user }) => {
      await jobs.forget(user.id, params.job)
      return {}
    }),
  ]
}
