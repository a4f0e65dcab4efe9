import { createHash } from 'node:crypto'

/** What a session is called where its token must not be known. */
export function sessionOf(token: string): string {
  return createHash('sha256').update(token).digest('hex')
}
