import { randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { ZxcvbnFactory } from '@zxcvbn-ts/core'
import * as common from '@zxcvbn-ts/language-common'
import pLimit from 'p-limit'
import { refusal } from './refusals'

const shortest = 8
/** Of 0 to 4, after the guesses that somebody needs who knows what people choose. */
const leastWorth = 2
const atOnce = 2
const mostWaiting = 40

const queue = pLimit(atOnce)
const worth = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs })
/** Compared with where there is no such account, so that both take as long. */
const nobody = hash(randomBytes(16))

/** Argon2id, two at a time on threads of their own; who would wait behind too many is turned
 *  away. */
async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (queue.pendingCount >= mostWaiting) throw refusal('server.busySigningIn')
  return queue(work)
}

/** A new password as it is kept; too short or too easily guessed ones are refused. `about`: names
 *  that it should not be made of. */
export async function hashed(password: string, about: readonly string[]): Promise<string> {
  if (password.length < shortest)
    throw refusal('password.short', { has: password.length, needs: shortest })
  if (worth.check(password.slice(0, 100), [...about]).score < leastWorth)
    throw refusal('password.weak')
  return inTurn(() => hash(password))
}

/** Whether a password is the one that was kept; null: there is no such account. */
export async function matches(kept: string | null, password: string): Promise<boolean> {
  return inTurn(
    async () =>
      (await verify(kept ?? (await nobody), password).catch(() => false)) && kept !== null,
  )
}
