/** The field behind the terminals: whoever checks signals acts there and sees what happens there.
 *  Shares of the range, from 0 to 1; digital ones are 0 or 1. */
export interface Field {
  /** Lets a signal's sensor have this, until something else is said. */
  put(tag: string, share: number): void
  /** What arrives at an output's actuator; null where nothing does. */
  seen(tag: string): number | null
}
