/** The usual number of a description file, up to nine decimal digits, without a regular expression;
 *  -1 for any other text. */
export function parseDigits(text: string): number {
  if (text.length === 0 || text.length > 9) return -1
  let value = 0
  for (let i = 0; i < text.length; i++) {
    const digit = text.charCodeAt(i) - 48
    if (digit < 0 || digit > 9) return -1
    value = 10 * value + digit
  }
  return value
}
