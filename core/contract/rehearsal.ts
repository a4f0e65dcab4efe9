import { z } from 'zod'
import { id } from '../plan/model'
import type { FoundDevice } from '../rehearsal/match'
import { outlineOf, type EndpointShape } from './endpoint'
import { project } from './projects'

const mac = z.string().regex(/^([0-9a-f]{2}:){5}[0-9a-f]{2}$/)
const view = z.object({
  found: z
    .array(outlineOf<FoundDevice>(z.looseObject({ mac: z.string() })))
    .readonly()
    .nullable(),
  frames: z
    .array(
      z.object({ timeMs: z.number(), direction: z.enum(['sent', 'received']), hex: z.string() }),
    )
    .readonly(),
  differences: z
    .array(
      z.discriminatedUnion('kind', [
        z.object({ kind: z.literal('factoryNew'), station: z.string() }),
        z.object({
          kind: z.literal('swapped'),
          station: z.string(),
          slots: z.tuple([z.number(), z.number()]).readonly(),
        }),
      ]),
    )
    .readonly(),
})
const base = '/api/projects/{project}/rehearsal'
const step = {
  method: 'post',
  at: 'work',
  right: 'commission',
  params: project,
  answer: view,
} as const

export const rehearsalContract = {
  rehearsal: {
    method: 'get',
    at: 'work',
    path: base,
    summary: 'How the rehearsal stands',
    params: project,
    answer: z.object({ rehearsal: view.nullable() }),
  },
  beginRehearsal: { ...step, path: base, summary: 'Build the simulated wire anew' },
  scan: { ...step, path: `${base}/scan`, summary: 'Ask who is on the wire' },
  blink: {
    ...step,
    path: `${base}/blink`,
    summary: 'Let a device blink',
    body: z.object({ mac }),
  },
  assign: {
    ...step,
    path: `${base}/assign`,
    summary: 'Give a device its planned name and address',
    body: z.object({ mac, stationId: id }),
  },
  capture: {
    method: 'get',
    at: 'work',
    path: `${base}/capture`,
    summary: 'All frames as a capture file',
    params: project,
    answer: 'file',
  },
} as const satisfies Record<string, EndpointShape>
