import type { Problems } from '../problem'
import type { XmlElement } from './xml-records'

const mostKept = 2000

/** Parts of a file that are written alike are read once and shared: large files repeat the same data and parameters in
 *  thousands of modules. What had a problem is read again each time, so that every place is told. */
export class Alike<T> {
  private readonly known = new Map<string, T>()

  read(element: XmlElement, problems: Problems, read: () => T): T {
    const writing = writingOf(element)
    const known = this.known.get(writing)
    if (known !== undefined) return known
    const before = problems.list.length
    const result = read()
    if (problems.list.length === before && this.known.size < mostKept) this.known.set(writing, result)
    return result
  }
}

/** Everything an element says, as one text. */
function writingOf({ name, attributes, children }: XmlElement): string {
  let text = `<${name}`
  for (const key in attributes) text += ` ${key}=${attributes[key]}`
  for (const child of children) text += writingOf(child)
  return `${text}>`
}
