import { Download, endpoint, type Endpoint } from '../http/endpoint'
import type { PlanServices } from '../services'

export function rehearsalEndpoints({ rehearsal }: PlanServices): Endpoint[] {
  return [
    endpoint('rehearsal', async ({ params }) => ({
      rehearsal: await rehearsal.view(params.project),
    })),
    endpoint('beginRehearsal', ({ params }) => rehearsal.begin(params.project)),
    endpoint('scan', ({ params }) => rehearsal.scan(params.project)),
    endpoint('blink', ({ params, body }) => rehearsal.blink(params.project, body.mac)),
    endpoint('assign', ({ params, body }) =>
      rehearsal.assign(params.project, body.mac, body.stationId),
    ),
    endpoint(
      'capture',
      async ({ params }) =>
        new Download(
          await rehearsal.capture(params.project),
          'application/vnd.tcpdump.pcap',
          'rehearsal.pcap',
        ),
    ),
  ]
}
