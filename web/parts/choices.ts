/** One of the choices of a field. */
export interface Choice<V> {
  readonly value: V
  readonly label: string
  readonly disabled?: boolean
}

/** A choice for each entry of a table. */
export function tableChoices<K extends string, T>(
  table: Readonly<Record<K, T>>,
  word: (entry: T, key: K) => string,
): Choice<K>[] {
  return (Object.entries(table) as [K, T][]).map(([value, entry]) => ({
    value,
    label: word(entry, value),
  }))
}

/** Choices that are called what they are. */
export function plainChoices<V extends string | number>(values: readonly V[]): Choice<V>[] {
  return values.map((value) => ({ value, label: String(value) }))
}
