import { z } from 'zod'
import { exportNames } from '../exchange/formats'
import { exportOptions } from '../exchange/options'
import { moment, type EndpointShape } from './endpoint'
import { jobView } from './jobs'
import { project } from './projects'

export const releaseName = z.string().trim().min(1).max(100)

const releaseFile = z.object({
  format: z.enum(exportNames),
  fileName: z.string(),
  bytes: z.number(),
  sha256: z.string(),
  content: z.string(),
  state: z.enum(['ready', 'draft', 'unchanged']),
})

/** A hand-over: a revision with a name, who signed it, and the files that went out. */
const release = z.object({
  name: z.string(),
  revision: z.number(),
  author: z.string(),
  at: moment,
  blockers: z.number(),
  /** Of all that was fail-safe in the plan; null where nothing was. */
  safetySignature: z.string().nullable(),
  bytes: z.number(),
  files: z.array(releaseFile),
})
export type ReleaseView = z.output<typeof release>

export const releaseWish = z.object({
  name: releaseName,
  formats: z.array(z.enum(exportNames)).min(1).max(exportNames.length),
  options: exportOptions.partial().default({}),
  /** Leaves out files that are as in the release before. */
  onlyChanged: z.boolean().default(false),
})

export const releaseContract = {
  releases: {
    method: 'get',
    path: '/api/projects/{project}/releases',
    at: 'plans',
    summary: 'Hand-overs of a project, newest first',
    params: project,
    answer: z.object({ releases: z.array(release) }),
  },
  beginRelease: {
    method: 'post',
    path: '/api/projects/{project}/releases',
    right: 'plan',
    summary:
      'Hands the plan over as it is now, signed by who is signed in: begins to write a package, which is a release when the job is done',
    params: project,
    body: releaseWish,
    answer: z.object({ job: jobView }),
  },
  releasePackage: {
    method: 'get',
    path: '/api/projects/{project}/releases/{name}/package',
    at: 'work',
    summary: 'The package of a hand-over as it went out',
    params: project.extend({ name: releaseName }),
    answer: 'file',
  },
} as const satisfies Record<string, EndpointShape>
