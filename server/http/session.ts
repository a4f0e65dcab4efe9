import { parse, serialize } from 'cookie'
import type { Request, Response } from 'express'
import { may, wordMissingRight, type Right } from '@kataxis/core'
import type { UserRow, Users } from '../services/users'
import { Refused } from '../services/refused'
import { refusal } from '../services/refusals'

const cookieName = 'kataxis_session'
const csrfHeader = 'x-kataxis-token'

export function tokenOf(request: Request): string | null {
  return parse(request.headers.cookie ?? '')[cookieName] ?? null
}

/** Sets the session's cookie, or takes it away; not readable by scripts, not sent along by other
 *  sites. */
export function setCookie(
  request: Request,
  response: Response,
  token: string | null,
  expires = new Date(0),
): void {
  response.appendHeader(
    'Set-Cookie',
    serialize(cookieName, token ?? '', {
      httpOnly: true,
      sameSite: 'strict',
      secure: request.secure,
      path: '/',
      expires,
    }),
  )
}

/** Who sends a request; every changing one has to bring the session's word along. */
export async function senderOf(users: Users, request: Request): Promise<UserRow> {
  const token = tokenOf(request)
  const signedIn = token === null ? null : await users.signedIn(token)
  if (!signedIn) throw refusal('session.missing')
  if (request.method !== 'GET' && request.get(csrfHeader) !== signedIn.csrf)
    throw refusal('session.word')
  return signedIn.user
}

/** Lets somebody pass who has a right. */
export function allow({ role }: UserRow, right: Right): void {
  if (!may(role, right)) throw new Refused('forbidden', 'role.right', wordMissingRight(role, right))
}
