import { z } from 'zod'
import { maxFileBytes } from '@kataxis/core'
import { Download, endpoint, type Endpoint } from '../http/endpoint'
import { notFound } from '../http/refused'
import type { Services } from '../services'

const file = z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/) })
const summary = z.object({
  format: z.string(),
  formatVersion: z.string().nullable(),
  vendor: z.string(),
  family: z.string(),
  devices: z.array(z.object({ key: z.string(), name: z.string(), orderNumber: z.string().nullable(), firmware: z.string().nullable(), slots: z.number() })),
  modules: z.number(),
  errors: z.number(),
  warnings: z.number(),
})

export function fileEndpoints({ db, shelf, plans }: Services): Endpoint[] {
  return [
    endpoint(
      { method: 'get', path: '/api/files', summary: 'The Shelf', answer: z.object({ files: z.array(z.object({ sha256: z.string(), name: z.string(), bytes: z.number(), addedAt: z.date(), summary })) }) },
      async () => ({ files: await shelf.list() }),
    ),
    endpoint(
      { method: 'post', path: '/api/files', summary: 'Bring in a description file', query: z.object({ name: z.string().min(1).max(300) }), rawBytes: maxFileBytes, answer: z.object({ sha256: z.string(), isNew: z.boolean() }) },
      ({ query, raw }) => shelf.add(query.name, raw),
    ),
    endpoint(
      { method: 'get', path: '/api/files/{sha256}/catalog', summary: 'What a file offers', params: file, answer: z.unknown() },
      async ({ params }) => {
        const catalog = (await plans.catalogs.load(db, [params.sha256])).get(params.sha256)
        if (!catalog) throw notFound('description file')
        return catalog
      },
    ),
    endpoint(
      { method: 'get', path: '/api/files/{sha256}/raw', summary: 'The file as it came', params: file, answer: 'file' },
      async ({ params }) => {
        const { name, content } = await shelf.content(params.sha256)
        return new Download(content, 'application/octet-stream', name)
      },
    ),
    endpoint(
      { method: 'delete', path: '/api/files/{sha256}', summary: 'Throw away an unused file', params: file, answer: z.object({}) },
      async ({ params }) => {
        await shelf.remove(params.sha256)
        return {}
      },
    ),
  ]
}
