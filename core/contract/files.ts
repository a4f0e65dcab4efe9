import { z } from 'zod'
import type { Difference } from '../catalog/compare'
import type { PackedFile } from '../catalog/pack'
import type { FileSummary } from '../catalog/summary'
import { maxFileBytes } from '../device-files/read'
import type { Problem } from '../vocabulary/problem'
import { moment, nothing, outlineOf, type EndpointShape } from './endpoint'

const file = z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/) })
const summary = outlineOf<FileSummary>(
  z.looseObject({
    format: z.string(),
    vendor: z.string(),
    family: z.string(),
    heads: z.number(),
    modules: z.number(),
    errors: z.number(),
    warnings: z.number(),
  }),
)
const shelfFile = z.object({
  sha256: z.string(),
  name: z.string(),
  bytes: z.number(),
  addedAt: moment,
  summary,
})
/** What became of one file that was brought in. */
export const arrival = z.object({
  name: z.string(),
  state: z.enum(['new', 'known', 'refused']),
  sha256: z.string().nullable(),
  sentence: z.string(),
  problems: z
    .array(outlineOf<Problem>(z.looseObject({ severity: z.string(), message: z.string() })))
    .readonly(),
})
const hit = z.object({
  sha256: z.string(),
  kind: z.enum(['head', 'module', 'submodule']),
  key: z.string(),
  name: z.string(),
  orderNumber: z.string().nullable(),
  info: z.string(),
  fileName: z.string(),
  vendor: z.string(),
  protocol: z.string().nullable(),
})
const difference = outlineOf<Difference>(
  z.looseObject({ change: z.string(), what: z.string(), name: z.string() }),
)
const use = z.object({
  projectId: z.string(),
  project: z.string(),
  stationId: z.string(),
  station: z.string(),
})
const lineNumber = z.coerce.number<number>().int().min(1).max(100_000_000)

export const fileContract = {
  files: {
    method: 'get',
    path: '/api/files',
    summary: 'The Shelf',
    answer: z.object({ files: z.array(shelfFile) }),
  },
  searchShelf: {
    method: 'get',
    path: '/api/files/search',
    summary: 'Heads and modules by order number, name or text',
    query: z.object({ q: z.string().max(200) }),
    answer: z.object({ hits: z.array(hit), isComplete: z.boolean() }),
  },
  addFile: {
    method: 'post',
    path: '/api/files',
    summary: 'Bring in a description file, or a ZIP of them',
    query: z.object({ name: z.string().min(1).max(300) }),
    isRaw: true,
    most: maxFileBytes,
    answer: z.object({ arrivals: z.array(arrival) }),
  },
  catalog: {
    method: 'get',
    path: '/api/files/{sha256}/catalog',
    at: 'work',
    summary: 'What a file offers, packed; in another of its languages if wanted',
    params: file,
    query: z.object({ language: z.string().max(20).optional() }),
    answer: outlineOf<PackedFile>(
      z.looseObject({ packed: z.number(), shared: z.array(z.unknown()) }),
    ),
  },
  fileLines: {
    method: 'get',
    path: '/api/files/{sha256}/lines',
    at: 'work',
    summary: 'Lines of a file as text',
    params: file,
    query: z.object({ from: lineNumber, to: lineNumber }),
    answer: z.object({ lines: z.array(z.string()) }),
  },
  fileUses: {
    method: 'get',
    path: '/api/files/{sha256}/uses',
    summary: 'Stations that are built on a file',
    params: file,
    answer: z.object({ uses: z.array(use) }),
  },
  compareFiles: {
    method: 'get',
    path: '/api/files/{sha256}/compare',
    at: 'work',
    summary: 'What changed from an older version of a file to this one',
    params: file,
    query: z.object({ older: file.shape.sha256 }),
    answer: z.object({ differences: z.array(difference) }),
  },
  sheetSchema: {
    method: 'get',
    path: '/api/schemas/device-sheet',
    summary: 'JSON Schema of device sheets',
    answer: z.looseObject({}),
  },
  rawFile: {
    method: 'get',
    path: '/api/files/{sha256}/raw',
    at: 'work',
    summary: 'The file as it came',
    params: file,
    answer: 'file',
  },
  removeFile: {
    method: 'delete',
    path: '/api/files/{sha256}',
    summary: 'Throw away an unused file',
    params: file,
    answer: nothing,
  },
} as const satisfies Record<string, EndpointShape>
