import type { Request } from 'express'
import { z } from 'zod'
import { roleNames } from '@kataxis/core'
import { endpoint, type Endpoint } from '../http/endpoint'
import { Refused } from '../services/refused'
import { setCookie, tokenOf } from '../http/session'
import type { Services } from '../services'
import { demoAccounts } from '../services/demo-accounts'

const user = z.object({
  id: z.string(),
  name: z.string(),
  fullName: z.string(),
  role: z.enum(roleNames),
})
const name = z
  .string()
  .trim()
  .min(1)
  .max(60)
  .regex(/^[\p{L}\p{N}._-]+$/u, 'letters, digits, dot, dash and underscore')
const password = z.string().max(200)
const fullName = z.string().trim().max(100)
const session = z.object({
  user: user.nullable(),
  csrf: z.string().nullable(),
  /** A fresh instance: the first one to come becomes its owner. */
  needsOwner: z.boolean(),
  /** Only in the demo. */
  demo: z.object({ password: z.string(), accounts: z.array(user.omit({ id: true })) }).nullable(),
})

/** Before anybody is signed in nothing large is read. */
const most = 10_000
/** As Express takes it: behind a proxy the forwarded one only where the proxy was named. */
const addressOf = (request: Request) => request.ip ?? ''

export function accountEndpoints({ users, isDemo }: Services): Endpoint[] {
  const person = z.object({ user: z.string() })
  return [
    endpoint(
      {
        method: 'get',
        path: '/api/session',
        right: 'none',
        summary: 'Who is signed in',
        answer: session,
      },
      async ({ request }) => {
        const token = tokenOf(request)
        const signedIn = token === null ? null : await users.signedIn(token)
        return {
          user: signedIn?.user ?? null,
          csrf: signedIn?.csrf ?? null,
          needsOwner: signedIn === null && !(await users.hasAny()),
          demo: isDemo && !signedIn ? demoAccounts : null,
        }
      },
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/session',
        right: 'none',
        most,
        summary: 'Sign in',
        body: z.object({ name: z.string().max(60), password }),
        answer: session,
      },
      async ({ body, request, response }) => {
        const opened = await users.signIn(body.name, body.password, addressOf(request))
        if (!opened) throw new Refused('signedOut', 'session.wrong', 'Name or password is wrong.')
        setCookie(request, response, opened.token, opened.expiresAt)
        return { user: opened.user, csrf: opened.csrf, needsOwner: false, demo: null }
      },
    ),
    endpoint(
      {
        method: 'delete',
        path: '/api/session',
        right: 'read',
        summary: 'Sign out',
        answer: z.object({}),
      },
      async ({ request, response }) => {
        await users.signOut(tokenOf(request) ?? '')
        setCookie(request, response, null)
        return {}
      },
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/session/password',
        right: 'read',
        most,
        summary: 'One’s own new password',
        body: z.object({ current: password, password }),
        answer: z.object({}),
      },
      async ({ body, user, request }) => {
        await users.changeOwn(user, tokenOf(request) ?? '', addressOf(request), body)
        return {}
      },
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/owner',
        right: 'none',
        most,
        summary: 'Become the owner of a fresh instance',
        body: z.object({ name, fullName: fullName.default(''), password }),
        answer: session,
      },
      async ({ body, request, response }) => {
        const owner = await users.createOwner(body)
        const opened = await users.open(owner.id)
        setCookie(request, response, opened.token, opened.expiresAt)
        return {
          user: { id: owner.id, name: owner.name, fullName: owner.fullName, role: owner.role },
          csrf: opened.csrf,
          needsOwner: false,
          demo: null,
        }
      },
    ),
    endpoint(
      {
        method: 'get',
        path: '/api/users',
        right: 'own',
        summary: 'All accounts',
        answer: z.object({ users: z.array(user) }),
      },
      async () => ({ users: await users.list() }),
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/users',
        right: 'own',
        summary: 'A new account',
        body: z.object({ name, fullName: fullName.default(''), role: z.enum(roleNames), password }),
        answer: z.object({}),
      },
      async ({ body }) => {
        await users.create(body)
        return {}
      },
    ),
    endpoint(
      {
        method: 'post',
        path: '/api/users/{user}',
        right: 'own',
        summary: 'Another role or password',
        params: person,
        body: z.object({ role: z.enum(roleNames).optional(), password: password.optional() }),
        answer: z.object({}),
      },
      async ({ params, body }) => {
        await users.change(params.user, body as Parameters<typeof users.change>[1])
        return {}
      },
    ),
    endpoint(
      {
        method: 'delete',
        path: '/api/users/{user}',
        right: 'own',
        summary: 'Take an account away',
        params: person,
        answer: z.object({}),
      },
      async ({ params }) => {
        await users.remove(params.user)
        return {}
      },
    ),
  ]
}
