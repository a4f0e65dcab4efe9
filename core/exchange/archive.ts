import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { NamedBytes } from '../device-files/package'

const fixedTime = new Date('2000-01-01T00:00:00Z')
const planName = 'plan.json'
const maxUnpackedBytes = 512 * 1024 * 1024

/** Project file and description files in one ZIP, the same to the byte for the same content. */
export function writeArchive(projectText: string, files: readonly (NamedBytes & { sha256: string })[]): Uint8Array {
  const entries: Record<string, [Uint8Array, { mtime: Date }]> = { [planName]: [strToU8(projectText), { mtime: fixedTime }] }
  for (const { sha256, name, bytes } of [...files].sort((a, b) => (a.sha256 < b.sha256 ? -1 : 1))) {
    entries[`files/${sha256.slice(0, 12)}-${name.replace(/[^\w.-]/g, '_')}`] = [bytes, { mtime: fixedTime }]
  }
  return zipSync(entries)
}

/** Unpacks an archive in memory, never to disk; refuses one that would unpack to more than 512 MB. */
export function readArchive(bytes: Uint8Array): { projectText: string; files: NamedBytes[] } | { fault: string } {
  let unpacked = 0
  try {
    const entries = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        unpacked += originalSize
        return unpacked <= maxUnpackedBytes
      },
    })
    if (unpacked > maxUnpackedBytes) return { fault: 'The archive unpacks to more than 512 MB; it is refused.' }
    const plan = entries[planName]
    if (!plan) return { fault: `The archive holds no ${planName}; it is no project archive.` }
    const files = Object.entries(entries).filter(([name]) => name.startsWith('files/')).map(([name, content]) => ({ name: name.replace(/^files\/[0-9a-f]{12}-/, ''), bytes: content }))
    return { projectText: strFromU8(plan), files }
  } catch (error) {
    return { fault: `The archive cannot be unpacked: ${(error as Error).message}.` }
  }
}
