import { z } from 'zod'
import type { Right } from '../users/roles'

/** How a project is kept, each further away than the one before: in use, only to be looked at, to be
 *  restored for some days. */
export const projectStates = ['active', 'archived', 'deleted'] as const
export type ProjectState = (typeof projectStates)[number]

/** One way into the program, as data: the server checks by it what comes and what goes, the browser
 *  takes paths and types from it, OpenAPI is written from it. */
export interface EndpointShape {
  readonly method: 'get' | 'post' | 'delete'
  /** OpenAPI form: `/api/projects/{project}`. */
  readonly path: string
  readonly summary: string
  /** What the sender has to be allowed; left out, `read` for what only looks and `plan` for
   *  everything else. `none`: nobody has to be signed in. */
  readonly right?: Right | 'none'
  /** Of projects in which state; left out, one that is archived is only looked at, and one that is
   *  deleted not at all. */
  readonly reaches?: ProjectState
  /** Where the server does it. `plans`: all that asks for or changes a plan, in order; `work`: what
   *  may take long; left out: at once. */
  readonly at?: 'plans' | 'work'
  readonly params?: z.ZodType
  readonly query?: z.ZodType
  readonly body?: z.ZodType
  /** Largest body, in bytes; looked at before it is read. */
  readonly most?: number
  /** A raw body instead of JSON. */
  readonly isRaw?: boolean
  readonly answer: z.ZodType | 'file' | 'events'
}

/** A schema that looks at the outline only, where the whole would take too long for what a trusted
 *  program sends; the type says it exactly. */
export const outlineOf = <T>(schema: z.ZodType): z.ZodType<T, T> => schema as z.ZodType<T, T>

/** A point in time: ISO 8601 on the wire, whatever the server has it from. */
export const moment = z.union([z.string(), z.date().transform((at) => at.toISOString())])

export const nothing = z.object({})
