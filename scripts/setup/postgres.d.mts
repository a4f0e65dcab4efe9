export interface Cluster {
  readonly url: string
  /** Where the cluster stands. */
  readonly folder: string
  readonly isAlive: () => boolean
  readonly startAgain: () => Promise<void>
  readonly stop: () => void
}
export function startPostgres(home: string): Promise<Cluster>
export function removePostgres(home: string): void
