import type { Command } from '@kataxis/core'

/** Something done in this browser that the server has not confirmed. */
export interface Pending {
  readonly commandId: string
  readonly baseRevision: number
  readonly action: { readonly kind: 'command'; readonly command: Command } | { readonly kind: 'undo' } | { readonly kind: 'redo' } | { readonly kind: 'back'; readonly revision: number }
}

const keyOf = (projectId: string) => `kataxis.pending.${projectId}`

/** Unconfirmed work outlives the page. */
export function savePending(projectId: string, pending: readonly Pending[]): void {
  if (pending.length === 0) localStorage.removeItem(keyOf(projectId))
  else localStorage.setItem(keyOf(projectId), JSON.stringify(pending))
}

export function loadPending(projectId: string): Pending[] {
  try {
    return JSON.parse(localStorage.getItem(keyOf(projectId)) ?? '[]') as Pending[]
  } catch {
    return []
  }
}
