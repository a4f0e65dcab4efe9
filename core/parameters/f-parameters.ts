import { createModel } from 'js-crc'
import type { ParameterRecord } from '../catalog/model'
import { fromHex, toHex } from '../vocabulary/hex'

/** F parameters of a PROFIsafe submodule (layout from the profile, from memory; confirmed by a
 *  protocol analyser in the tests). */
export interface FParameters {
  readonly sourceAddress: number
  readonly destinationAddress: number
  readonly watchdogMs: number
  /** Whether the block holds a check sum over the module's own parameters. */
  readonly hasIParameterCrc: boolean
  readonly parameterCrc: number
}

/** Octets where the block holds them; the parameter check sum stands in the last two. */
const at = { source: 2, destination: 4, watchdog: 6, iParameterCrc: 8 } as const
const plainLength = 10
const longLength = 14

/** What nobody sets: it follows from the others, or is entered with who and when. */
export const computedFParameters: ReadonlySet<string> = new Set(['F_Par_CRC', 'F_iPar_CRC'])

export function isFailSafeRecord({ length, parameters }: ParameterRecord): boolean {
  return (
    (length === plainLength || length === longLength) &&
    parameters.some(({ key }) => key === 'F_Dest_Add' || key === 'F_Par_CRC' || key === 'F_WD_Time')
  )
}

const crc16 = createModel({
  width: 16,
  poly: 0x4eab,
  init: 0,
  refin: false,
  refout: false,
  xorout: 0,
})

/** F_Par_CRC: 16 bits, polynomial 0x14EAB, not reflected, start 0, over the block without it
 *  (PROFIsafe profile, from memory). Where the block holds an iPar CRC it is taken in the order of
 *  the block; that order is not confirmed. */
export function parameterCrc(block: Uint8Array): number {
  return parseInt(crc16([...block.subarray(0, block.length - 2)]), 16)
}

/** A block with its check sums put in; hex in, hex out. */
export function withParameterCrc(hex: string, iParameterCrc: number): string {
  const block = fromHex(hex)
  const view = new DataView(block.buffer)
  if (block.length === longLength) view.setUint32(at.iParameterCrc, iParameterCrc)
  view.setUint16(block.length - 2, parameterCrc(block))
  return toHex(block)
}

export function readFParameters(hex: string): FParameters {
  const block = fromHex(hex)
  const view = new DataView(block.buffer)
  return {
    sourceAddress: view.getUint16(at.source),
    destinationAddress: view.getUint16(at.destination),
    watchdogMs: view.getUint16(at.watchdog),
    hasIParameterCrc: block.length === longLength,
    parameterCrc: view.getUint16(block.length - 2),
  }
}
