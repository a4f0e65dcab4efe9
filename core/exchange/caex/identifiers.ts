import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'

/** A UUID of version 8 (RFC 9562, 5.8) that a row of a project always has. */
export function uuidOf(projectId: string, rowId: string): string {
  const hex = bytesToHex(sha256(utf8ToBytes(`${projectId}/${rowId}`)).subarray(0, 16))
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20)}`
}

/** The UUID of a part of a row, by its number among the parts of that row: the last group of digits
 *  counts them, so that the parts of one row share the others. */
export function partsOf(uuid: string, sort: 'channel' | 'other'): (number: number) => string {
  const front = `${uuid.slice(0, 24)}${sort === 'channel' ? 'c' : 'd'}`
  return (number) => `${front}${number.toString(16).padStart(11, '0')}`
}
