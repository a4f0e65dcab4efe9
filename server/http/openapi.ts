import {
  OpenApiGeneratorV31,
  OpenAPIRegistry,
  extendZodWithOpenApi,
} from '@asteasolutions/zod-to-openapi'
import { z } from 'zod'
import type { Endpoint } from './endpoint'

extendZodWithOpenApi(z)

const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  code: z.string(),
  detail: z.string(),
})

/** The description of the HTTP interface, from the schemas that check it. */
export function describe(endpoints: readonly Endpoint[]): object {
  const registry = new OpenAPIRegistry()
  for (const { method, path, summary, params, query, body, isRaw, answer } of endpoints) {
    registry.registerPath({
      method,
      path,
      summary,
      request: {
        ...(params ? { params: params as never } : {}),
        ...(query ? { query: query as never } : {}),
        ...(body ? { body: { content: { 'application/json': { schema: body } } } } : {}),
        ...(!isRaw
          ? {}
          : { body: { content: { 'application/octet-stream': { schema: z.string() } } } }),
      },
      responses: {
        200: { description: 'done', ...content(answer) },
        default: {
          description: 'refused',
          content: { 'application/problem+json': { schema: problem } },
        },
      },
    })
  }
  return new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: { title: 'Kataxis', version: '1' },
  })
}

function content(answer: Endpoint['answer']) {
  if (answer === 'events') return { content: { 'text/event-stream': { schema: z.string() } } }
  if (answer === 'file') return { content: { 'application/octet-stream': { schema: z.string() } } }
  return { content: { 'application/json': { schema: answer } } }
}
