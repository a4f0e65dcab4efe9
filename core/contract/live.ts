import { z } from 'zod'
import { id } from '../plan/model'
import { nothing, type EndpointShape } from './endpoint'
import { project } from './projects'

/** Where somebody is who looks at the same project. */
const presence = z.object({
  /** The browser window, so that two of one person stay apart. */
  client: id,
  /** Id of the thing in focus. */
  at: z.string().max(200).nullable(),
  /** Whether the others shall say where they are. */
  asks: z.boolean(),
})

/** What is told of somebody, with the name that the server knows. */
export type Presence = z.infer<typeof presence> & { readonly author: string }

const health = z.object({
  status: z.literal('ok'),
  /** The highest of all projects. */
  revision: z.number(),
  space: z.object({ freeBytes: z.number().nullable(), isScarce: z.boolean() }),
  isListening: z.boolean(),
  streams: z.number(),
  longestBlockMs: z.number(),
})

export const liveContract = {
  health: {
    method: 'get',
    path: '/api/health',
    right: 'none',
    summary: 'Whether the program and its database answer, and how it is with them',
    answer: health,
  },
  sayPresence: {
    method: 'post',
    path: '/api/projects/{project}/presence',
    right: 'read',
    summary: 'Says to everybody else where one is; nothing is kept',
    params: project,
    body: presence,
    answer: nothing,
  },
  events: {
    method: 'get',
    path: '/api/events',
    summary:
      'Tells each new revision of some projects as it comes, and who is where; ends with the session',
    query: z.object({
      project: z.union([id.transform((one) => [one]), z.array(id).min(1).max(100)]),
    }),
    answer: 'events',
  },
  projectEvents: {
    method: 'get',
    path: '/api/projects/{project}/events',
    summary: 'The same for one project',
    params: project,
    answer: 'events',
  },
} as const satisfies Record<string, EndpointShape>
