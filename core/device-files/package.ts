import { unzipSync } from 'fflate'
import { maxFileBytes } from './read'

/** A description file with its name, as it came or out of a ZIP. */
export interface NamedBytes {
  readonly name: string
  readonly bytes: Uint8Array
}

const maxUnpackedBytes = 512 * 1024 * 1024
const maxEntries = 5000

export function isZip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5)
}

/** Pictures and notes that makers put beside their files, and the definitions that every IODD package repeats. */
const isBeside = (name: string) => !/\.(xml|gsdml|gs[defgips]|eds|json|zip)$/i.test(name) || /^IODD-StandardDefinitions|^IODD-StandardUnitDefinitions/i.test(name)

/** The description files of a ZIP, in memory and by their bare names: what a path says beyond that is never used. Refused are
 *  packages that unpack to more than 512 MB; a ZIP inside a ZIP is passed over. */
export function unpack(bytes: Uint8Array): { files: NamedBytes[] } | { fault: string } {
  let unpacked = 0
  let entries = 0
  try {
    const found = unzipSync(bytes, {
      filter: ({ name, originalSize, size }) => {
        if (name.endsWith('/') || isBeside(bareName(name))) return false
        // The size that the package states; unpacking more than it says fails.
        unpacked += Math.max(originalSize, size)
        entries++
        return unpacked <= maxUnpackedBytes && entries <= maxEntries && originalSize <= maxFileBytes
      },
    })
    if (unpacked > maxUnpackedBytes) return { fault: 'The package unpacks to more than 512 MB; it is refused.' }
    if (entries > maxEntries) return { fault: `The package holds more than ${maxEntries} description files; it is refused.` }
    const files = Object.entries(found).filter(([name]) => !/\.zip$/i.test(name)).map(([name, content]) => ({ name: bareName(name), bytes: content }))
    return files.length === 0 ? { fault: 'The package holds no description file.' } : { files }
  } catch (error) {
    return { fault: `The package cannot be unpacked: ${(error as Error).message}.` }
  }
}

function bareName(path: string): string {
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1)
}
