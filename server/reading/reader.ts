import { Piscina, transferableSymbol, valueSymbol } from 'piscina'
import { filesOf, readOne, type Reading, type ReadingTask } from './read'

/** In a thread of its own: what a package holds, or what one file says. Large parts change hands
 *  instead of being copied. */
export default function reader(task: ReadingTask & { readonly what: 'unpack' | 'read' }): unknown {
  const value = task.what === 'unpack' ? filesOf(task) : readOne(task)
  const buffers = (Array.isArray(value) ? value : [value]).flatMap((part: ReadingTask | Reading) =>
    Object.values(part).filter((field): field is Uint8Array => field instanceof Uint8Array),
  )
  return Piscina.move({
    [transferableSymbol]: buffers.map(({ buffer }) => buffer),
    [valueSymbol]: value,
  } as never)
}
