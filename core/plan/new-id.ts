/** A row id: sorts by the time it was made, random behind that, so that two browsers never make the
 *  same one. */
export function newId(prefix = ''): string {
  const random = crypto.getRandomValues(new Uint32Array(2))
  return `${prefix}${Date.now().toString(36)}${random[0]!.toString(36)}${random[1]!.toString(36)}`
}
