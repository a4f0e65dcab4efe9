import type { Database } from '../db/connect'
import { Refused } from './refused'
import { refusal } from './refusals'
import * as repository from '../repositories/sign-in-tries'

interface Limit {
  /** Wrong tries that cost nothing. */
  readonly free: number
  /** Longest wait after a wrong try, in seconds. */
  readonly longestS: number
  /** `refuse`: tries before the wait is over are turned away unheard; `hold`: each try is answered
   *  that much later. */
  readonly how: 'refuse' | 'hold'
}

/** Wrong tries are counted by address and name together, by address, by name, and in all, in
 *  PostgreSQL for every instance. Nobody can keep the right person out for good: what others may
 *  use up (a name, all together) only makes answers slower. */
const limits = {
  pair: { free: 9, longestS: 60, how: 'refuse' },
  address: { free: 60, longestS: 30, how: 'refuse' },
  name: { free: 40, longestS: 4, how: 'hold' },
  all: { free: 300, longestS: 2, how: 'hold' },
} as const satisfies Record<string, Limit>
type Kind = keyof typeof limits
const kinds = Object.keys(limits) as Kind[]

const forgottenAfterS = 15 * 60
const mostHeld = 200

/** Slows wrong passwords down. */
export class SignInLimits {
  private held = 0

  constructor(private readonly db: Database) {}

  /** Before a password is looked at: waits, or refuses with the seconds that are left. The try
   *  counts as wrong until `succeeded`. */
  async begin(address: string, name: string): Promise<void> {
    const keys = keysOf(address, name)
    const known = await repository.readTries(this.db, Object.values(keys))
    const wait = (kind: Kind) =>
      Math.ceil(((known.get(keys[kind])?.getTime() ?? 0) - Date.now()) / 1000)
    const refusing = Math.max(...kinds.filter((kind) => limits[kind].how === 'refuse').map(wait))
    if (refusing > 0) throw slow(refusing)
    const tries = await repository.countTry(
      this.db,
      kinds.map((kind) => ({ key: keys[kind], ...limits[kind] })),
      forgottenAfterS,
    )
    const holding = Math.max(
      0,
      ...kinds
        .filter((kind) => limits[kind].how === 'hold')
        .map((kind) => delayS(tries.get(keys[kind]) ?? 1, limits[kind])),
    )
    if (holding === 0) return
    if (this.held >= mostHeld) throw slow(2)
    this.held++
    await new Promise((go) => setTimeout(go, holding * 1000))
    this.held--
  }

  /** The password was right: it was no wrong try. */
  async succeeded(address: string, name: string): Promise<void> {
    const { pair, ...others } = keysOf(address, name)
    await repository.forgive(this.db, pair, Object.values(others))
  }
}

function keysOf(address: string, name: string): Record<Kind, string> {
  const who = name.trim().toLowerCase().slice(0, 60)
  return {
    pair: `pair ${address} ${who}`,
    address: `address ${address}`,
    name: `name ${who}`,
    all: 'all',
  }
}

/** Seconds to wait after so many wrong tries: 1, 2, 4 … beyond those that are free. */
function delayS(tries: number, { free, longestS }: Limit): number {
  return tries <= free ? 0 : Math.min(longestS, 2 ** Math.min(tries - free - 1, 10))
}

function slow(seconds: number): Refused {
  return refusal('session.slow', seconds)
}
