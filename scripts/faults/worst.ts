import { zipSync } from 'fflate'

const text = (of: string) => new TextEncoder().encode(of)

/** Requests that would hold up or end a server that does not mind them. Each is answered somehow;
 *  that is all that is asked. */
export async function worstRequests(
  url: string,
  headers: Record<string, string>,
  project: string,
): Promise<void> {
  const copies = Array.from({ length: 60 }, (_, k) => ({
    type: 'copyStation',
    sourceId: 's0',
    networkId: 'n1',
    copies: Array.from({ length: 1000 }, (_, i) => ({ id: `w${k}-${i}` })),
  }))
  const edits = Array.from({ length: 20_000 }, (_, i) => ({
    id: `w${i}`,
    tag: '',
    comment: 'x'.repeat(100),
  }))
  const command = (of: object) =>
    JSON.stringify({ commandId: `w${Math.random()}`, baseRevision: 0, command: of })
  const requests: [path: string, body: Uint8Array | string][] = [
    ['/session', `{"name":"${'x'.repeat(30_000_000)}"}`],
    ['/projects/import', zipSync({ 'plan.json': text('{},'.repeat(20_000_000)) }, { level: 9 })],
    ['/projects/import', text(`{"kataxis":1,"modules":[${'{},'.repeat(2_000_000)}{}]}`)],
    [`/projects/${project}/commands`, command({ type: 'batch', label: 'w', commands: copies })],
    [
      `/projects/${project}/commands`,
      command({ type: 'removeSignals', ids: edits.map(({ id }) => id) }),
    ],
    ['/files?name=a.txt', text('; a comment\r\n'.repeat(20_000))],
    ['/files?name=a.xml', text('<!-- a -->'.repeat(100_000))],
  ]
  for (const [path, body] of requests) {
    await fetch(url + path, {
      method: 'POST',
      headers:
        typeof body === 'string'
          ? headers
          : { ...headers, 'Content-Type': 'application/octet-stream' },
      body: body as BodyInit,
      signal: AbortSignal.timeout(60_000),
    }).then(
      (response) => response.arrayBuffer(),
      () => null,
    )
  }
}
