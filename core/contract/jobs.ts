import { z } from 'zod'
import { maxFileBytes } from '../device-files/read'
import { exportNames } from '../exchange/formats'
import { exportOptions } from '../exchange/options'
import { id } from '../plan/model'
import { moment, nothing, type EndpointShape } from './endpoint'
import { arrival } from './files'
import { project } from './projects'

/** `waiting`: no instance has begun it; `running`: one is at it; the others are ends. */
export const jobStates = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const
export type JobState = (typeof jobStates)[number]

/** Work that takes longer than somebody waits for an answer, as its person sees it. */
export const jobView = z.object({
  id: z.string(),
  kind: z.enum(['export', 'read', 'release']),
  projectId: z.string().nullable(),
  /** What it is: `I/O list, XLSX · Skarvholm Waterworks`. */
  words: z.string(),
  state: z.enum(jobStates),
  /** How far it is, of how much; a total of 0 where nobody knows yet. */
  done: z.number(),
  total: z.number(),
  /** Why it failed, or what came of it. */
  sentence: z.string(),
  /** The file it made, where it makes one. */
  fileName: z.string().nullable(),
  bytes: z.number().nullable(),
  at: moment,
})
export type JobView = z.output<typeof jobView>

const one = z.object({ job: id })
const begun = z.object({ job: jobView })

export const jobContract = {
  jobs: {
    method: 'get',
    path: '/api/jobs',
    summary: 'One’s own jobs of the last day, newest first',
    answer: z.object({ jobs: z.array(jobView) }),
  },
  beginExport: {
    method: 'post',
    path: '/api/projects/{project}/export-jobs',
    right: 'read',
    summary: 'Begins to write an export; its file is asked for when the job is done',
    params: project,
    body: z.object({
      format: z.enum(exportNames),
      options: exportOptions.partial().default({}),
    }),
    answer: begun,
  },
  beginReading: {
    method: 'post',
    path: '/api/files/reading-jobs',
    summary: 'Begins to read a ZIP of description files onto the Shelf',
    query: z.object({ name: z.string().min(1).max(300) }),
    isRaw: true,
    most: maxFileBytes,
    answer: begun,
  },
  jobOutcome: {
    method: 'get',
    path: '/api/jobs/{job}',
    summary: 'A job, and what became of each file where it read some',
    params: one,
    answer: z.object({ job: jobView, arrivals: z.array(arrival) }),
  },
  jobFile: {
    method: 'get',
    path: '/api/jobs/{job}/file',
    at: 'work',
    summary: 'The file that a job made',
    params: one,
    answer: 'file',
  },
  cancelJob: {
    method: 'post',
    path: '/api/jobs/{job}/cancel',
    right: 'read',
    summary: 'Stops a job',
    params: one,
    answer: begun,
  },
  forgetJob: {
    method: 'delete',
    path: '/api/jobs/{job}',
    right: 'read',
    summary: 'Throws a finished job away, with its file',
    params: one,
    answer: nothing,
  },
} as const satisfies Record<string, EndpointShape>
