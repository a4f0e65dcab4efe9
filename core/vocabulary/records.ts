/** Whether a record has no key. Asked for every channel of a plan, so no list of its keys is made. */
export function isEmpty(record: object): boolean {
  for (const key in record) if (Object.hasOwn(record, key)) return false
  return true
}
