/** A column of rows. */
export interface RowColumn<R> {
  /** Also the name of its slot. */
  readonly key: string
  readonly title: string
  /** What it says; left out, the field of that name. */
  readonly text?: (row: R) => string
  /** By what it is sorted; left out, by what it says. */
  readonly sorts?: (row: R) => string | number
  /** Whether it cannot be sorted. */
  readonly isFixed?: boolean
  /** Whether rows can be narrowed down to what it says. */
  readonly choices?: boolean
  readonly width?: number
  readonly isMono?: boolean
  readonly isNumber?: boolean
}

const inOrder = new Intl.Collator('en', { numeric: true })
/** Order of what cells say: numbers by size, texts with the numbers in them by size. */
export function compareNatural(a: string | number, b: string | number): number {
  return typeof a === 'number' && typeof b === 'number'
    ? a - b
    : inOrder.compare(String(a), String(b))
}
