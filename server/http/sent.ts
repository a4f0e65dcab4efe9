import type { Request, Response } from 'express'
import type { UserRow } from '../services/users'

/** A request as it came, before anything of it was checked. */
export interface Sent {
  readonly params: unknown
  readonly query: unknown
  readonly body: Uint8Array
  readonly user: UserRow | null
  /** Only where it is answered here. */
  readonly request?: Request
  readonly response?: Response
}
