import { z } from 'zod'
import { exportNames } from '../exchange/formats'
import { command, type Command } from '../plan/commands'
import type { RowChange } from '../plan/draft'
import { id, projectRow, tables } from '../plan/model'
import { packedSignals } from '../plan/packed'
import { roleNames } from '../users/roles'
import { moment, nothing, outlineOf, projectStates, type EndpointShape } from './endpoint'

export const project = z.object({ project: id })
const latest = 2_000_000_000
const revision = z.number().int().min(0).max(latest)
const revisionText = z.string().regex(/^\d{1,9}$/)
/** Sent with every change: its own id, which is carried out once; the revision that the sender saw;
 *  and the database that it was in. */
const order = z.object({
  commandId: id,
  baseRevision: revision,
  epoch: z.string().max(100).optional(),
})
const takingBack = order.extend({
  /** With what others have built on it. */
  withDependents: z.boolean().default(false),
  /** Undo only: it stays, and older changes can be taken back. */
  skip: z.boolean().default(false),
  /** The change that is meant, as a refusal named it. */
  target: revision.nullable().default(null),
})
const versionName = z.string().trim().min(1).max(100)
const kind = z.enum(['do', 'undo', 'redo', 'back', 'repair'])
const rowChange = outlineOf<RowChange>(z.looseObject({ table: z.string(), id: z.string() }))
const historyEntry = z.object({
  revision: z.number(),
  author: z.string(),
  at: moment,
  kind,
  target: z.number().nullable(),
  undone: z.boolean(),
  command: outlineOf<Command | null>(z.looseObject({ type: z.string() }).nullable()),
  /** Rows it touched, and the first of them. */
  rows: z.number(),
  first: z.array(rowChange),
})
const entry = z.object({
  revision: z.number().int(),
  commandId: z.string(),
  author: z.string(),
  at: moment,
  kind,
  target: z.number().nullable(),
  changes: z.array(rowChange),
})
/** What happened since. `epoch` names the database; where it is another one, what the sender knows
 *  of the plan is of no use. */
const told = z.object({ epoch: z.string(), entries: z.array(entry) })
const planHead = z.object({
  epoch: z.string(),
  revision: z.number(),
  /** What is wrong with a damaged project, as sentences; nothing changes it but a repair. */
  damage: z.array(z.string()),
  project: projectRow,
  controllers: z.array(tables.controllers),
  networks: z.array(tables.networks),
  stations: z.array(tables.stations),
  modules: z.array(tables.modules),
})
const state = z.enum(projectStates)
const role = z.enum(roleNames)
const member = z.object({ userId: z.string(), role })
const person = z.object({ id: z.string(), name: z.string(), fullName: z.string(), role })
const projectListed = z.object({
  id: z.string(),
  name: z.string(),
  revision: z.number(),
  /** Its last change, else when it was begun, and who made it. */
  at: moment,
  by: z.string().nullable(),
  state,
  /** When a deleted one goes for good. */
  goneAt: moment.nullable(),
  isOpen: z.boolean(),
  /** In which one enters it. */
  role,
})
export type ListedProject = z.output<typeof projectListed>
const largestImport = 256 * 1024 * 1024
/** A command about every channel of a large plan. */
const largestCommand = 64 * 1024 * 1024

export const projectContract = {
  projects: {
    method: 'get',
    path: '/api/projects',
    summary: 'All projects',
    answer: z.object({
      projects: z.array(projectListed),
    }),
  },
  access: {
    method: 'get',
    path: '/api/projects/{project}/access',
    summary: 'What somebody may do in a project',
    params: project,
    answer: z.object({ role, state }),
  },
  setState: {
    method: 'post',
    path: '/api/projects/{project}/state',
    summary: 'Archives or deletes a project, or puts it in use again',
    reaches: 'deleted',
    params: project,
    body: z.object({ state }),
    answer: nothing,
  },
  copyProject: {
    method: 'post',
    path: '/api/projects/{project}/copies',
    at: 'work',
    summary: 'A new project with the same plan, whose history begins there',
    reaches: 'archived',
    params: project,
    body: z.object({ name: projectRow.shape.name }),
    answer: z.object({ id: z.string() }),
  },
  members: {
    method: 'get',
    path: '/api/projects/{project}/members',
    right: 'own',
    summary: 'Who may enter a project, and who could',
    params: project,
    answer: z.object({ isOpen: z.boolean(), members: z.array(member), people: z.array(person) }),
  },
  setMembers: {
    method: 'post',
    path: '/api/projects/{project}/members',
    right: 'own',
    reaches: 'archived',
    summary: 'Everybody may enter a project, or its members in their roles',
    params: project,
    body: z.object({ isOpen: z.boolean(), members: z.array(member).max(1000) }),
    answer: nothing,
  },
  createProject: {
    method: 'post',
    path: '/api/projects',
    summary: 'A new, empty project',
    body: z.object({ name: projectRow.shape.name }),
    answer: z.object({ id: z.string() }),
  },
  openDemo: {
    method: 'post',
    path: '/api/demo',
    at: 'work',
    summary: 'The demo project, with its description files; made where it is not there yet',
    answer: z.object({ id: z.string() }),
  },
  importProject: {
    method: 'post',
    path: '/api/projects/import',
    summary: 'A project from a project file or archive',
    at: 'work',
    isRaw: true,
    most: largestImport,
    answer: z.object({ id: z.string() }),
  },
  plan: {
    method: 'get',
    path: '/api/projects/{project}',
    at: 'plans',
    summary: 'A whole plan at its revision',
    params: project,
    answer: planHead.extend({ signals: z.array(tables.signals) }),
  },
  packedPlan: {
    method: 'get',
    path: '/api/projects/{project}/packed',
    at: 'plans',
    summary: 'The same with its signals packed, as the interface fetches it',
    params: project,
    answer: planHead.extend({ signals: packedSignals }),
  },
  command: {
    method: 'post',
    path: '/api/projects/{project}/commands',
    at: 'plans',
    most: largestCommand,
    summary: 'Carry out one command',
    params: project,
    body: order.extend({ command }),
    answer: told,
  },
  undo: {
    method: 'post',
    path: '/api/projects/{project}/undo',
    at: 'plans',
    summary: 'Take back one’s own last change',
    params: project,
    body: takingBack,
    answer: told,
  },
  redo: {
    method: 'post',
    path: '/api/projects/{project}/redo',
    at: 'plans',
    summary: 'Bring back what was taken back last',
    params: project,
    body: takingBack,
    answer: told,
  },
  backTo: {
    method: 'post',
    path: '/api/projects/{project}/back',
    at: 'plans',
    summary: 'The plan as it was at a revision, as a new change',
    params: project,
    body: takingBack.extend({ revision }),
    answer: told,
  },
  repair: {
    method: 'post',
    path: '/api/projects/{project}/repair',
    at: 'plans',
    summary: 'Puts the rows of a damaged project in order, as a change with history',
    params: project,
    body: order,
    answer: told,
  },
  export: {
    method: 'get',
    path: '/api/projects/{project}/export/{format}',
    at: 'work',
    summary: 'An export as a file',
    params: project.extend({ format: z.enum(exportNames) }),
    /** `options`: JSON, see `exportOptions`. */
    query: z.object({ options: z.string().max(200_000).optional() }),
    answer: 'file',
  },
  changes: {
    method: 'get',
    path: '/api/projects/{project}/changes',
    at: 'plans',
    summary: 'Changes after a revision',
    params: project,
    query: z.object({ since: revisionText }),
    answer: told,
  },
  history: {
    method: 'get',
    path: '/api/projects/{project}/history',
    at: 'work',
    summary:
      'Who changed what, newest first, with the first rows of each; older ones by `before`, those that say all of some words by `words`',
    params: project,
    query: z.object({ before: revisionText.optional(), words: z.string().max(200).optional() }),
    answer: z.object({ entries: z.array(historyEntry) }),
  },
  difference: {
    method: 'get',
    path: '/api/projects/{project}/difference',
    at: 'work',
    summary: 'Each row that differs between two revisions',
    params: project,
    query: z.object({ from: revisionText, to: revisionText }),
    answer: z.object({ changes: z.array(rowChange) }),
  },
  versions: {
    method: 'get',
    path: '/api/projects/{project}/versions',
    at: 'plans',
    summary: 'Revisions that have a name',
    params: project,
    answer: z.object({
      versions: z.array(
        z.object({ name: z.string(), revision: z.number(), author: z.string(), at: moment }),
      ),
    }),
  },
  nameVersion: {
    method: 'post',
    path: '/api/projects/{project}/versions',
    at: 'plans',
    summary: 'Gives the plan as it is now a name',
    params: project,
    body: z.object({ name: versionName }),
    answer: nothing,
  },
  forgetVersion: {
    method: 'delete',
    path: '/api/projects/{project}/versions/{name}',
    at: 'plans',
    summary: 'Forgets a name; the history stays',
    params: project.extend({ name: versionName }),
    answer: nothing,
  },
} as const satisfies Record<string, EndpointShape>
