import { z } from 'zod'
import { id } from '@kataxis/core'
import { Download, endpoint, type Endpoint } from '../http/endpoint'
import type { PlanServices } from '../services'

const project = z.object({ project: id })
const mac = z.string().regex(/^([0-9a-f]{2}:){5}[0-9a-f]{2}$/)
const view = z.object({
  found: z.array(z.unknown()).nullable(),
  frames: z.array(z.unknown()),
  differences: z.array(z.unknown()),
})
const base = '/api/projects/{project}/rehearsal'

export function rehearsalEndpoints({ rehearsal }: PlanServices): Endpoint[] {
  return [
    endpoint(
      {
        method: 'get',
        at: 'work',
        path: base,
        summary: 'How the rehearsal stands',
        params: project,
        answer: z.object({ rehearsal: view.nullable() }),
      },
      async ({ params }) => ({ rehearsal: await rehearsal.view(params.project) }),
    ),
    endpoint(
      {
        method: 'post',
        at: 'work',
        right: 'commission',
        path: base,
        summary: 'Build the simulated wire anew',
        params: project,
        answer: view,
      },
      ({ params }) => rehearsal.begin(params.project),
    ),
    endpoint(
      {
        method: 'post',
        at: 'work',
        right: 'commission',
        path: `${base}/scan`,
        summary: 'Ask who is on the wire',
        params: project,
        answer: view,
      },
      ({ params }) => rehearsal.scan(params.project),
    ),
    endpoint(
      {
        method: 'post',
        at: 'work',
        right: 'commission',
        path: `${base}/blink`,
        summary: 'Let a device blink',
        params: project,
        body: z.object({ mac }),
        answer: view,
      },
      ({ params, body }) => rehearsal.blink(params.project, body.mac),
    ),
    endpoint(
      {
        method: 'post',
        at: 'work',
        right: 'commission',
        path: `${base}/assign`,
        summary: 'Give a device its planned name and address',
        params: project,
        body: z.object({ mac, stationId: id }),
        answer: view,
      },
      ({ params, body }) => rehearsal.assign(params.project, body.mac, body.stationId),
    ),
    endpoint(
      {
        method: 'get',
        at: 'work',
        path: `${base}/capture`,
        summary: 'All frames as a capture file',
        params: project,
        answer: 'file',
      },
      async ({ params }) =>
        new Download(
          await rehearsal.capture(params.project),
          'application/vnd.tcpdump.pcap',
          'rehearsal.pcap',
        ),
    ),
  ]
}
