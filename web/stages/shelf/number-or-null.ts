/** What stands in a field of a number; null where it is empty. */
export function numberOrNull(event: Event): number | null {
  const { value } = event.target as HTMLInputElement
  return value === '' ? null : Number(value)
}
