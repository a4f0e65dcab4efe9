import { z } from 'zod'
import { maxFileBytes, sheetFile } from '@kataxis/core'
import { Download, endpoint, JsonText, type Endpoint } from '../http/endpoint'
import { Refused } from '../services/refused'
import type { PlanServices } from '../services'

const file = z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/) })
const summary = z.object({
  format: z.string(),
  formatVersion: z.string().nullable(),
  vendor: z.string(),
  family: z.string(),
  protocol: z.string().nullable(),
  languages: z.array(z.string()),
  devices: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      orderNumber: z.string().nullable(),
      firmware: z.string().nullable(),
      protocol: z.string(),
      slots: z.number(),
    }),
  ),
  heads: z.number(),
  modules: z.number(),
  adds: z.number(),
  parameters: z.number(),
  offers: z.array(z.string()),
  errors: z.number(),
  warnings: z.number(),
})
const arrival = z.object({
  name: z.string(),
  state: z.enum(['new', 'known', 'refused']),
  sha256: z.string().nullable(),
  sentence: z.string(),
  problems: z.array(z.unknown()),
})
const hit = z.object({
  sha256: z.string(),
  kind: z.string(),
  key: z.string(),
  name: z.string(),
  orderNumber: z.string().nullable(),
  info: z.string(),
  fileName: z.string(),
  vendor: z.string(),
  protocol: z.string().nullable(),
})
const difference = z.object({
  change: z.enum(['added', 'removed', 'changed']),
  what: z.enum(['head', 'module', 'parameter']),
  key: z.string(),
  name: z.string(),
  owner: z.string().nullable(),
  details: z.array(z.string()),
})

export function fileEndpoints({ shelf }: PlanServices): Endpoint[] {
  return [
    endpoint(
      {
        method: 'get',
        path: '/api/files',
        summary: 'The Shelf',
        answer: z.object({
          files: z.array(
            z.object({
              sha256: z.string(),
              name: z.string(),
              bytes: z.number(),
              addedAt: z.date(),
              summary,
            }),
          ),
        }),
      },
      async () => ({ files: await shelf.list() }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/files/search',
        summary: 'Heads and modules by order number, name or text',
        query: z.object({ q: z.string().max(200) }),
        answer: z.object({ hits: z.array(hit), isComplete: z.boolean() }),
      },
      ({ query }) => shelf.search(query.q),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/files',
        summary: 'Bring in a description file, or a ZIP of them',
        query: z.object({ name: z.string().min(1).max(300) }),
        isRaw: true,
        most: maxFileBytes,
        answer: z.object({ arrivals: z.array(arrival) }),
      },
      async ({ query, raw }) => {
        const arrivals = await shelf.add(query.name, raw)
        const [only] = arrivals
        if (arrivals.length === 1 && only?.state === 'refused')
          throw new Refused(
            'impossible',
            only.problems.at(-1)?.code ?? 'file.unreadable',
            only.sentence,
            {
              problems: only.problems,
            },
          )
        return { arrivals }
      },
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/files/{sha256}/catalog',
        at: 'work',
        summary: 'What a file offers, packed; in another of its languages if wanted',
        params: file,
        query: z.object({ language: z.string().max(20).optional() }),
        answer: z.unknown(),
      },
      async ({ params, query }) =>
        new JsonText(
          await (query.language === undefined
            ? shelf.packed(params.sha256)
            : shelf.inLanguage(params.sha256, query.language)),
        ),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/files/{sha256}/lines',
        at: 'work',
        summary: 'Lines of a file as text',
        params: file,
        query: z.object({
          from: z.coerce.number().int().min(1).max(100_000_000),
          to: z.coerce.number().int().min(1).max(100_000_000),
        }),
        answer: z.object({ lines: z.array(z.string()) }),
      },
      async ({ params, query }) => ({
        lines: await shelf.lines(params.sha256, query.from, Math.min(query.to, query.from + 500)),
      }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/files/{sha256}/uses',
        summary: 'Stations that are built on a file',
        params: file,
        answer: z.object({
          uses: z.array(
            z.object({
              projectId: z.string(),
              project: z.string(),
              stationId: z.string(),
              station: z.string(),
            }),
          ),
        }),
      },
      async ({ params }) => ({ uses: await shelf.uses(params.sha256) }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/files/{sha256}/compare',
        at: 'work',
        summary: 'What changed from an older version of a file to this one',
        params: file,
        query: z.object({ older: file.shape.sha256 }),
        answer: z.object({ differences: z.array(difference) }),
      },
      async ({ params, query }) => ({
        differences: await shelf.compare(query.older, params.sha256),
      }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/schemas/device-sheet',
        summary: 'JSON Schema of device sheets',
        answer: z.unknown(),
      },
      () => z.toJSONSchema(sheetFile, { io: 'input' }),
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/files/{sha256}/raw',
        at: 'work',
        summary: 'The file as it came',
        params: file,
        answer: 'file',
      },
      async ({ params }) => {
        const { name, content } = await shelf.content(params.sha256)
        return new Download(content, 'application/octet-stream', name)
      },
    ),
    endpoint(
      {
        method: 'delete',
        path: '/api/files/{sha256}',
        summary: 'Throw away an unused file',
        params: file,
        answer: z.object({}),
      },
      async ({ params }) => {
        await shelf.remove(params.sha256)
        return {}
      },
    ),
  ]
}
