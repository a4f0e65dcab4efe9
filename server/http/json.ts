import { refusal } from '../services/refusals'

const utf8 = new TextDecoder('utf-8', { fatal: true })

/** A body as JSON. Characters that no database holds (NUL and halves of pairs) are refused with
 *  their place. */
export function readJson(bytes: Uint8Array): unknown {
  if (bytes.length === 0) return undefined
  let text: string
  try {
    text = utf8.decode(bytes)
  } catch {
    throw refusal('body.utf8')
  }
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw refusal('body.json')
  }
  // Only an escape can bring such a character in.
  if (/\\u(0000|d[89a-f])/i.test(text)) refuseUnstorable(value, 'body')
  return value
}

/** Refuses texts with NUL or half of a surrogate pair, wherever they stand in a value. */
export function refuseUnstorable(value: unknown, path: string): void {
  const queue: [unknown, string][] = [[value, path]]
  for (let next = queue.pop(); next; next = queue.pop()) {
    const [part, at] = next
    if (typeof part === 'string' && isUnstorable(part)) throw refusal('request.character', at)
    if (typeof part !== 'object' || part === null) continue
    for (const [key, inner] of Object.entries(part)) {
      queue.push([inner, `${at}.${key}`])
      if (isUnstorable(key)) throw refusal('request.fieldName', at)
    }
  }
}

const loneSurrogate = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/

function isUnstorable(text: string): boolean {
  return text.includes('\0') || loneSurrogate.test(text)
}
