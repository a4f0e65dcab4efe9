import type { RealModule } from '../wire'
import { hexIdent } from './idents'

const blockType = 0x0013

/** RealIdentificationData, block version 1.1, one application process 0: what a device says is
 *  really plugged. IEC 61158-6-10 (from memory). Big-endian. */
export function encodeRealIdentification(modules: readonly RealModule[]): Uint8Array {
  const size =
    4 + 2 + 2 + 4 + 2 + modules.reduce((sum, { submodules }) => sum + 8 + submodules.length * 6, 0)
  const view = new DataView(new ArrayBuffer(size))
  let at = 0
  const put = (bytes: 1 | 2 | 4, value: number) => {
    if (bytes === 1) view.setUint8(at, value)
    else if (bytes === 2) view.setUint16(at, value)
    else view.setUint32(at, value)
    at += bytes
  }
  put(2, blockType)
  put(2, size - 4)
  put(1, 1)
  put(1, 1)
  put(2, 1)
  put(4, 0)
  put(2, modules.length)
  for (const { slot, ident, submodules } of modules) {
    put(2, slot)
    put(4, parseInt(ident, 16))
    put(2, submodules.length)
    for (const submodule of submodules) {
      put(2, submodule.subslot)
      put(4, parseInt(submodule.ident, 16))
    }
  }
  return new Uint8Array(view.buffer)
}

/** The inverse; a sentence where the record is something else or cut off. */
export function decodeRealIdentification(record: Uint8Array): RealModule[] | { fault: string } {
  const view = new DataView(record.buffer, record.byteOffset, record.byteLength)
  if (
    record.length < 14 ||
    view.getUint16(0) !== blockType ||
    view.getUint16(2) !== record.length - 4
  ) {
    return { fault: 'The record is no whole RealIdentificationData block.' }
  }
  const modules: RealModule[] = []
  let at = 14
  try {
    for (let count = view.getUint16(12); count > 0; count--) {
      const submodules: RealModule['submodules'][number][] = []
      const head = at
      at += 8
      for (let rest = view.getUint16(head + 6); rest > 0; rest--, at += 6)
        submodules.push({
          subslot: view.getUint16(at),
          ident: hexIdent(view.getUint32(at + 2)),
          // The record says what is plugged, not how much data it has.
          inputBytes: 0,
          outputBytes: 0,
        })
      modules.push({
        slot: view.getUint16(head),
        ident: hexIdent(view.getUint32(head + 2)),
        submodules,
      })
    }
  } catch (error) {
    if (error instanceof RangeError)
      return { fault: `The record ends in the middle of a module, at octet ${record.length}.` }
    throw error
  }
  return modules
}
