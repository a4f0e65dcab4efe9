import { z } from 'zod'
import {
  command,
  id,
  may,
  newId,
  projectRow,
  signedBy,
  tables,
  exportFormats,
  type ExportName,
} from '@kataxis/core'
import { Download, endpoint, JsonText, PackedJson, type Endpoint } from '../http/endpoint'
import type { PlanServices } from '../services'
import { written, type Told } from '../services/told'
import type { UserRow } from '../services/users'
import { listProjects } from '../repositories/plans'

const project = z.object({ project: id })
const latest = 2_000_000_000
const order = z.object({
  commandId: id,
  baseRevision: z.number().int().min(0).max(latest),
  epoch: z.string().max(100).optional(),
})
/** Taken back with what others have built on it, and which change the sender means, as a refusal
 *  offered it. */
const takingBack = order.extend({
  withDependents: z.boolean().default(false),
  skip: z.boolean().default(false),
  target: z.number().int().min(0).max(latest).nullable().default(null),
})
/** What is done is signed by who is signed in. */
const signed = <T extends object>(sent: T, { id: userId, fullName, role }: UserRow) => ({
  ...sent,
  userId,
  author: fullName,
  mayChangeSafety: may(role, 'safety'),
})
const revisionText = z.string().regex(/^\d{1,9}$/)
/** Words of a filter that are looked for. */
const mostWords = 8
const versionName = z.string().trim().min(1).max(100)
const kind = z.enum(['do', 'undo', 'redo', 'back', 'repair'])
const rowChange = z.object({
  table: z.string(),
  id: z.string(),
  before: z.unknown(),
  after: z.unknown(),
})
const historyEntry = z.object({
  revision: z.number(),
  author: z.string(),
  at: z.date(),
  kind,
  target: z.number().nullable(),
  undone: z.boolean(),
  command: z.unknown(),
  rows: z.number(),
  first: z.array(rowChange),
})
const entry = z.object({
  revision: z.number().int(),
  commandId: z.string(),
  author: z.string(),
  at: z.date(),
  kind,
  target: z.number().nullable(),
  changes: z.array(rowChange),
})
/** `epoch` names the database; where it is another one, what the sender knows of the plan is of no
 *  use. */
const entries = z.object({ epoch: z.string(), entries: z.array(entry) })
const told = async (what: Promise<Told>) => new JsonText(written(await what))
const exportNames = Object.keys(exportFormats) as [ExportName, ...ExportName[]]
const largestImport = 256 * 1024 * 1024
/** A command about every channel of a large plan. */
const largestCommand = 64 * 1024 * 1024

export function projectEndpoints({ db, plans, handover }: PlanServices): Endpoint[] {
  return [
    endpoint(
      {
        method: 'get',
        path: '/api/projects',
        summary: 'All projects',
        answer: z.object({
          projects: z.array(z.object({ id: z.string(), name: z.string(), revision: z.number() })),
        }),
      },
      async () => ({ projects: await listProjects(db) }),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects',
        summary: 'A new, empty project',
        body: z.object({ name: projectRow.shape.name }),
        answer: z.object({ id: z.string() }),
      },
      async ({ body: { name } }) => {
        const row = projectRow.parse({ id: newId('p-'), name, tagLength: 32 })
        await plans.create(row)
        return { id: row.id }
      },
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/import',
        summary: 'A project from a project file or archive',
        at: 'work',
        isRaw: true,
        most: largestImport,
        answer: z.object({ id: z.string() }),
      },
      ({ raw, user }) =>
        handover.import(raw, { name: user.fullName, mayChangeSafety: may(user.role, 'safety') }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/projects/{project}',
        at: 'plans',
        summary: 'A whole plan at its revision',
        params: project,
        answer: z.object({
          epoch: z.string(),
          revision: z.number(),
          damage: z.array(z.string()),
          project: projectRow,
          controllers: z.array(tables.controllers),
          networks: z.array(tables.networks),
          stations: z.array(tables.stations),
          modules: z.array(tables.modules),
          signals: z.array(tables.signals),
        }),
      },
      async ({ params }) => new PackedJson(await plans.packed(params.project)),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/{project}/commands',
        at: 'plans',
        most: largestCommand,
        summary: 'Carry out one command',
        params: project,
        body: order.extend({ command }),
        answer: entries,
      },
      ({ params, user, body: { command: wanted, ...sent } }) =>
        told(plans.execute(params.project, signed(sent, user), signedBy(wanted, user.fullName))),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/{project}/undo',
        at: 'plans',
        summary: 'Take back one’s own last change',
        params: project,
        body: takingBack,
        answer: entries,
      },
      ({ params, user, body }) => told(plans.undo(params.project, signed(body, user))),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/{project}/redo',
        at: 'plans',
        summary: 'Bring back what was taken back last',
        params: project,
        body: takingBack,
        answer: entries,
      },
      ({ params, user, body }) => told(plans.redo(params.project, signed(body, user))),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/projects/{project}/changes',
        at: 'plans',
        summary: 'Changes after a revision',
        params: project,
        query: z.object({ since: revisionText }),
        answer: entries,
      },
      ({ params, query }) => told(plans.changesSince(params.project, Number(query.since))),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/projects/{project}/history',
        at: 'work',
        summary:
          'Who changed what, newest first, with the first rows of each; older ones by `before`, those that say all of some words by `words`',
        params: project,
        query: z.object({ before: revisionText.optional(), words: z.string().max(200).optional() }),
        answer: z.object({ entries: z.array(historyEntry) }),
      },
      async ({ params, query }) => ({
        entries: await plans.history(params.project, {
          before: query.before === undefined ? null : Number(query.before),
          words: (query.words ?? '').split(/\s+/).filter(Boolean).slice(0, mostWords),
        }),
      }),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/{project}/back',
        at: 'plans',
        summary: 'The plan as it was at a revision, as a new change',
        params: project,
        body: takingBack.extend({ revision: z.number().int().min(0).max(latest) }),
        answer: entries,
      },
      ({ params, user, body: { revision, ...rest } }) =>
        told(plans.backTo(params.project, signed(rest, user), revision)),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/{project}/repair',
        at: 'plans',
        summary: 'Puts the rows of a damaged project in order, as a change with history',
        params: project,
        body: order,
        answer: entries,
      },
      ({ params, user, body }) => told(plans.repair(params.project, signed(body, user))),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/projects/{project}/difference',
        at: 'work',
        summary: 'Each row that differs between two revisions',
        params: project,
        query: z.object({ from: revisionText, to: revisionText }),
        answer: z.object({ changes: z.array(rowChange) }),
      },
      async ({ params, query }) => ({
        changes: await plans.difference(params.project, Number(query.from), Number(query.to)),
      }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/projects/{project}/versions',
        at: 'plans',
        summary: 'Revisions that have a name',
        params: project,
        answer: z.object({
          versions: z.array(
            z.object({ name: z.string(), revision: z.number(), author: z.string(), at: z.date() }),
          ),
        }),
      },
      async ({ params }) => ({ versions: await plans.versions(params.project) }),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/projects/{project}/versions',
        at: 'plans',
        summary: 'Gives the plan as it is now a name',
        params: project,
        body: z.object({ name: versionName }),
        answer: z.object({}),
      },
      async ({ params, user, body }) => {
        await plans.nameVersion(params.project, user.fullName, body.name)
        return {}
      },
    ),
    endpoint(
      {
        method: 'delete',
        path: '/api/projects/{project}/versions/{name}',
        at: 'plans',
        summary: 'Forgets a name; the history stays',
        params: project.extend({ name: versionName }),
        answer: z.object({}),
      },
      async ({ params }) => {
        await plans.forgetVersion(params.project, params.name)
        return {}
      },
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/projects/{project}/export/{format}',
        at: 'work',
        summary: 'An export as a file',
        params: project.extend({ format: z.enum(exportNames) }),
        answer: 'file',
      },
      async ({ params }) => {
        const { bytes, mediaType, fileName } = await handover.export(params.project, params.format)
        return new Download(bytes, mediaType, fileName)
      },
    ),
  ]
}
