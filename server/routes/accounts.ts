import type { Request } from 'express'
import { endpoint, type Endpoint } from '../http/endpoint'
import { refusal } from '../services/refusals'
import { setCookie, tokenOf } from '../http/session'
import type { Services } from '../services'
import { demoAccounts } from '../services/demo-accounts'

/** As Express takes it: behind a proxy the forwarded one only where the proxy was named. */
const addressOf = (request: Request) => request.ip ?? ''

export function accountEndpoints({ users, isDemo }: Services): Endpoint[] {
  return [
    endpoint('session', async ({ request }) => {
      const token = tokenOf(request)
      const signedIn = token === null ? null : await users.signedIn(token)
      return {
        user: signedIn?.user ?? null,
        csrf: signedIn?.csrf ?? null,
        needsOwner: signedIn === null && !(await users.hasAny()),
        demo: isDemo && !signedIn ? demoAccounts : null,
      }
    }),
    endpoint('signIn', async ({ body, request, response }) => {
      const opened = await users.signIn(body.name, body.password, addressOf(request))
      if (!opened) throw refusal('session.wrong')
      setCookie(request, response, opened.token, opened.expiresAt)
      return { user: opened.user, csrf: opened.csrf, needsOwner: false, demo: null }
    }),
    endpoint('signOut', async ({ request, response }) => {
      await users.signOut(tokenOf(request) ?? '')
      setCookie(request, response, null)
      return {}
    }),
    endpoint('changePassword', async ({ body, user, request }) => {
      await users.changeOwn(user, tokenOf(request) ?? '', addressOf(request), body)
      return {}
    }),
    endpoint('becomeOwner', async ({ body, request, response }) => {
      const owner = await users.createOwner(body)
      const opened = await users.open(owner.id)
      setCookie(request, response, opened.token, opened.expiresAt)
      return {
        user: { id: owner.id, name: owner.name, fullName: owner.fullName, role: owner.role },
        csrf: opened.csrf,
        needsOwner: false,
        demo: null,
      }
    }),
    endpoint('users', async () => ({ users: await users.list() })),
    endpoint('addUser', async ({ body }) => {
      await users.create(body)
      return {}
    }),
    endpoint('changeUser', async ({ params, body }) => {
      await users.change(params.user, body as Parameters<typeof users.change>[1])
      return {}
    }),
    endpoint('removeUser', async ({ params }) => {
      await users.remove(params.user)
      return {}
    }),
  ]
}
