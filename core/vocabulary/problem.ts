export type Severity = 'error' | 'warning'

/** Something wrong with a file somebody brought in, with its place. Lines and columns count from
 *  1. */
export interface Problem {
  readonly severity: Severity
  readonly code: string
  readonly message: string
  readonly line: number | null
  readonly column: number | null
}

export interface Position {
  readonly line: number
  readonly column: number
}

/** Collects problems while a file is read; the place comes from whatever is being looked at. */
export class Problems {
  readonly list: Problem[] = []

  error(code: string, message: string, at: Position | null): void {
    this.list.push({
      severity: 'error',
      code,
      message,
      line: at?.line ?? null,
      column: at?.column ?? null,
    })
  }

  warning(code: string, message: string, at: Position | null): void {
    this.list.push({
      severity: 'warning',
      code,
      message,
      line: at?.line ?? null,
      column: at?.column ?? null,
    })
  }
}
