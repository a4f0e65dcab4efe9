/** One revision of a plan: who made it, when, and by which command; an undo or redo names the revision
 *  that it takes back or brings again. */
export interface ChangeEntry {
  readonly revision: number
  /** ISO 8601, UTC. */
  readonly at: string
  readonly author: string
  readonly kind: string
  readonly target: number | null
  readonly undone: boolean
  readonly command: unknown
  /** How many rows it changed. */
  readonly rows: number
}

/** The change log, oldest first, one JSON object a line (NDJSON). */
export async function writeChanges(entries: AsyncIterable<ChangeEntry>): Promise<Uint8Array> {
  let text = ''
  for await (const { revision, at, author, kind, target, undone, command, rows } of entries)
    text += `${JSON.stringify({ revision, at, author, kind, target, undone, rows, command })}\n`
  return new TextEncoder().encode(text)
}
