/** What a step of the rehearsal found: what is wrong, where, and what would mend it. */
export interface RehearsalFinding {
  readonly code: string
  readonly severity: 'blocker' | 'warning' | 'note'
  /** Name of the station; null where it concerns none. */
  readonly station: string | null
  readonly slot: number | null
  readonly tag: string | null
  readonly message: string
  readonly remedy: string
}

export function finding(
  code: string,
  severity: RehearsalFinding['severity'],
  station: string | null,
  message: string,
  remedy: string,
  at: { readonly slot?: number | null; readonly tag?: string | null } = {},
): RehearsalFinding {
  const { slot = null, tag = null } = at
  return { code, severity, station, slot, tag, message, remedy }
}
