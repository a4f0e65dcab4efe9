import type { Problems } from '../problem'
import type { XmlElement } from './xml-records'

const mostKept = 2000
const mostInBucket = 16

interface Known<T> {
  readonly element: XmlElement
  readonly result: T
}

/** Parts of a file that are written alike are read once and shared: large files repeat the same data and parameters in
 *  thousands of modules. What had a problem is read again each time, so that every place is told. */
export class Alike<T> {
  private readonly buckets = new Map<string, Known<T>[]>()
  private kept = 0

  read(element: XmlElement, problems: Problems, read: () => T): T {
    const key = `${element.name} ${element.children.length} ${element.children[0]?.children.length}`
    let bucket = this.buckets.get(key)
    const known = bucket?.find((candidate) => isAlike(candidate.element, element))
    if (known) return known.result
    const before = problems.list.length
    const result = read()
    if (problems.list.length === before && this.kept < mostKept) {
      if (!bucket) this.buckets.set(key, (bucket = []))
      if (bucket.length < mostInBucket) {
        bucket.push({ element, result })
        this.kept++
      }
    }
    return result
  }
}

/** The same element, attributes and children; where they stand does not matter. */
function isAlike(a: XmlElement, b: XmlElement): boolean {
  if (a.name !== b.name || a.children.length !== b.children.length) return false
  let count = 0
  for (const key in a.attributes) {
    if (a.attributes[key] !== b.attributes[key]) return false
    count++
  }
  for (const _ in b.attributes) count--
  if (count !== 0) return false
  for (let i = 0; i < a.children.length; i++) if (!isAlike(a.children[i]!, b.children[i]!)) return false
  return true
}
