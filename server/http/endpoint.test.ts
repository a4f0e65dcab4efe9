import { describe, expect, test } from 'vitest'
import { endpoint, JsonText } from './endpoint'
import type { Sent } from './sent'

const sent: Sent = { params: {}, query: {}, body: new Uint8Array(), user: null }
const answering = (answer: unknown) => endpoint('users', () => answer as never).handle(sent)
const user = { id: 'u', name: 'nils', fullName: 'Nils Hov', role: 'planner' }

describe('an answer', () => {
  test('goes as the contract says, and nothing beyond', async () => {
    const answer = { users: [{ ...user, passwordHash: 'secret' }], more: 1 }
    expect(await answering(answer)).toEqual({ users: [user] })
  })

  test.each([
    ['what is something else', { users: 'nobody' }],
    ['what has no such role', { users: [{ ...user, role: 'king' }] }],
    // Looked at in tests (KATAXIS_CHECK_ANSWERS).
    ['what is written already', new JsonText('{"users":[{}]}')],
  ])('%s is a fault of the program', async (_, answer) => {
    await expect(answering(answer)).rejects.toThrow(/The answer of users is not what the contract/)
  })
})
