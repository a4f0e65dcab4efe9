import { Download, endpoint, type Endpoint } from '../http/endpoint'
import type { PlanServices } from '../services'

export function rehearsalEndpoints({ rehearsal }: PlanServices): Endpoint[] {
  return [
    endpoint('rehearsal', async ({ params }) => ({
      rehearsal: await rehearsal.view(params.project),
    })),
    endpoint('beginRehearsal', async ({ params, body, user }) =>
      rehearsal.begin(params.project, body, user.fullName),
    ),
    endpoint('actInRehearsal', ({ params, body, user }) =>
      rehearsal.act(params.project, body, user),
    ),
    endpoint('endRehearsal', ({ params }) => rehearsal.end(params.project)),
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
