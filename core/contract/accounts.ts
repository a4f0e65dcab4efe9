import { z } from 'zod'
import { roleNames } from '../users/roles'
import { nothing, type EndpointShape } from './endpoint'

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
const person = z.object({ user: z.string() })
/** Before anybody is signed in nothing large is read. */
const most = 10_000

export const accountContract = {
  session: {
    method: 'get',
    path: '/api/session',
    right: 'none',
    summary: 'Who is signed in',
    answer: session,
  },
  signIn: {
    method: 'post',
    path: '/api/session',
    right: 'none',
    most,
    summary: 'Sign in',
    body: z.object({ name: z.string().max(60), password }),
    answer: session,
  },
  signOut: {
    method: 'delete',
    path: '/api/session',
    right: 'read',
    summary: 'Sign out',
    answer: nothing,
  },
  changePassword: {
    method: 'post',
    path: '/api/session/password',
    right: 'read',
    most,
    summary: 'One’s own new password',
    body: z.object({ current: password, password }),
    answer: nothing,
  },
  becomeOwner: {
    method: 'post',
    path: '/api/owner',
    right: 'none',
    most,
    summary: 'Become the owner of a fresh instance',
    body: z.object({ name, fullName: fullName.default(''), password }),
    answer: session,
  },
  users: {
    method: 'get',
    path: '/api/users',
    right: 'own',
    summary: 'All accounts',
    answer: z.object({ users: z.array(user) }),
  },
  addUser: {
    method: 'post',
    path: '/api/users',
    right: 'own',
    summary: 'A new account',
    body: z.object({ name, fullName: fullName.default(''), role: z.enum(roleNames), password }),
    answer: nothing,
  },
  changeUser: {
    method: 'post',
    path: '/api/users/{user}',
    right: 'own',
    summary: 'Another role or password',
    params: person,
    body: z.object({ role: z.enum(roleNames).optional(), password: password.optional() }),
    answer: nothing,
  },
  removeUser: {
    method: 'delete',
    path: '/api/users/{user}',
    right: 'own',
    summary: 'Take an account away',
    params: person,
    answer: nothing,
  },
} as const satisfies Record<string, EndpointShape>
