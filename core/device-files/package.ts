import { Unzip, UnzipInflate } from 'fflate'
import { fileEndings, maxFileBytes, repeatedBeside } from './read'

/** A description file with its name, as it came or out of a ZIP. */
export interface NamedBytes {
  readonly name: string
  readonly bytes: Uint8Array
}

export interface Unpacked {
  readonly files: NamedBytes[]
  /** Files that were passed over, and why; the others are good. */
  readonly refused: { readonly name: string; readonly fault: string }[]
}

interface UnpackLimits {
  /** Of one file, and of all together. */
  readonly fileBytes: number
  readonly allBytes: number
  readonly files: number
  /** Beyond a megabyte nothing honest is packed tighter than this. */
  readonly ratio: number
}

const limitsOfPackages: UnpackLimits = {
  fileBytes: maxFileBytes,
  allBytes: 512 * 1024 * 1024,
  files: 5000,
  ratio: 250,
}
const freeBytes = 4 * 1024 * 1024
const chunkBytes = 64 * 1024

export function isZip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5)
}

/** Pictures and notes that makers put beside their files, and what the packages of a format
 *  repeat. */
const isBeside = (name: string) =>
  ![...fileEndings, '.zip'].some((ending) => name.toLowerCase().endsWith(ending)) ||
  repeatedBeside.some((words) => words.test(name))

/** The description files of a ZIP, in memory and by their bare names: what a path says beyond that
 *  is never used. A ZIP inside a ZIP is passed over. */
export function unpack(bytes: Uint8Array): Unpacked | { fault: string } {
  const unpacked = unpackWithin(bytes, limitsOfPackages, (name) => !isBeside(bareName(name)))
  if ('fault' in unpacked) return unpacked
  const files = unpacked.files
    .filter(({ name }) => !/\.zip$/i.test(name))
    .map(({ name, bytes: content }) => ({ name: bareName(name), bytes: content }))
  const refused = unpacked.refused.map(({ name, fault }) => ({ name: bareName(name), fault }))
  return files.length + refused.length === 0
    ? { fault: 'The package holds no description file.' }
    : { files, refused }
}

/** Unpacks a ZIP as a stream, so that what it really unpacks to counts and not what it says; stops
 *  at the limits. */
export function unpackWithin(
  bytes: Uint8Array,
  limits: UnpackLimits,
  isWanted: (name: string) => boolean,
): Unpacked | { fault: string } {
  const files: NamedBytes[] = []
  const refused: Unpacked['refused'] = []
  let all = 0
  let found = 0
  /** Thrown within the unpacker it would be taken for a fault of one file. */
  let stop: string | null = null
  const unzip = new Unzip((file) => {
    if (file.name.endsWith('/') || !isWanted(file.name)) return
    if (stop !== null) return
    if (++found > limits.files)
      return void (stop = `It holds more than ${limits.files} files; it is refused.`)
    const parts: Uint8Array[] = []
    let size = 0
    let isOver = false
    const fault = (sentence: string) => {
      isOver = true
      parts.length = 0
      refused.push({ name: file.name, fault: sentence })
      file.terminate()
    }
    file.ondata = (error, part, isLast) => {
      if (isOver || stop !== null) return
      if (error) return fault(`it cannot be unpacked: ${error.message}.`)
      size += part.length
      all += part.length
      if (all > limits.allBytes)
        return void (stop = `It unpacks to more than ${megabytes(limits.allBytes)} MB; it is refused.`)
      if (all > freeBytes && all > bytes.length * limits.ratio)
        return void (stop = `It unpacks to more than ${limits.ratio} times its size; it is refused.`)
      if (size > limits.fileBytes)
        return fault(
          `it unpacks to more than ${megabytes(limits.fileBytes)} MB; files of up to that size are read.`,
        )
      parts.push(part)
      if (isLast) files.push({ name: file.name, bytes: joined(parts, size) })
    }
    file.start()
  })
  unzip.register(UnzipInflate)
  try {
    if (!hasDirectory(bytes)) throw new Error('it is cut off')
    for (let at = 0; at < bytes.length && stop === null; at += chunkBytes)
      unzip.push(bytes.subarray(at, at + chunkBytes), at + chunkBytes >= bytes.length)
  } catch (error) {
    return { fault: `It cannot be unpacked: ${(error as Error).message}.` }
  }
  return stop === null ? { files, refused } : { fault: stop }
}

const megabytes = (bytes: number) => Math.round(bytes / (1024 * 1024))

/** The end of a ZIP's directory stands within its last 64 kB (APPNOTE 4.3.16). */
function hasDirectory(bytes: Uint8Array): boolean {
  for (let at = bytes.length - 22; at >= 0 && at >= bytes.length - 22 - 0xffff; at--) {
    if (bytes[at] === 0x50 && bytes[at + 1] === 0x4b && bytes[at + 2] === 5 && bytes[at + 3] === 6)
      return true
  }
  return false
}

function joined(parts: readonly Uint8Array[], size: number): Uint8Array {
  const whole = new Uint8Array(size)
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}

function bareName(path: string): string {
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1)
}
