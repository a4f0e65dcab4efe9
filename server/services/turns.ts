/** How something that was asked for ended. */
export type Outcome<R> = { readonly result: R } | { readonly error: unknown }

interface Waiting<A, R> {
  readonly asked: A
  readonly settle: (outcome: Outcome<R>) => void
}

/** Work about one thing, such as a project, one after the other; what gathers meanwhile is done
 *  together. `work` may ask again and again for all that waits, in the order in which it came, and
 *  gives the outcomes of as many as it did, at least of the first. */
export class Turns<A, R> {
  private readonly waiting = new Map<string, Waiting<A, R>[]>()

  constructor(
    private readonly work: (
      key: string,
      waiting: () => readonly A[],
    ) => Promise<readonly Outcome<R>[]>,
  ) {}

  ask(key: string, asked: A): Promise<R> {
    return new Promise((resolve, reject) => {
      const settle = (outcome: Outcome<R>) =>
        'error' in outcome ? reject(outcome.error as Error) : resolve(outcome.result)
      const queue = this.waiting.get(key)
      if (queue) return void queue.push({ asked, settle })
      this.waiting.set(key, [{ asked, settle }])
      void this.empty(key)
    })
  }

  private async empty(key: string): Promise<void> {
    for (let queue = this.waiting.get(key)!; queue.length > 0;) {
      const outcomes = await this.work(key, () => queue.map(({ asked }) => asked)).catch(
        (error: unknown) => [{ error }],
      )
      const done = queue.splice(0, Math.max(1, outcomes.length))
      done.forEach(({ settle }, i) =>
        settle(outcomes[i] ?? { error: new Error('a turn ended without an outcome') }),
      )
    }
    this.waiting.delete(key)
  }
}
