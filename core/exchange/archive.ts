import { strFromU8, strToU8, zipSync } from 'fflate'
import { isZip, unpackWithin, type NamedBytes } from '../device-files/package'

const fixedTime = new Date('2000-01-01T00:00:00Z')
const planName = 'plan.json'

/** Project file and description files in one ZIP, the same to the byte for the same content. */
export function writeArchive(
  projectText: string,
  files: readonly (NamedBytes & { sha256: string })[],
): Uint8Array {
  const entries: Record<string, [Uint8Array, { mtime: Date }]> = {
    [planName]: [strToU8(projectText), { mtime: fixedTime }],
  }
  for (const { sha256, name, bytes } of [...files].sort((a, b) => (a.sha256 < b.sha256 ? -1 : 1))) {
    entries[`files/${sha256.slice(0, 12)}-${name.replace(/[^\w.-]/g, '_')}`] = [
      bytes,
      { mtime: fixedTime },
    ]
  }
  return zipSync(entries)
}

const limits = {
  fileBytes: 400 * 1024 * 1024,
  allBytes: 512 * 1024 * 1024,
  files: 5000,
  ratio: 250,
}

/** Unpacks an archive in memory, never to disk, within limits. */
export function readArchive(
  bytes: Uint8Array,
): { projectText: string; files: NamedBytes[] } | { fault: string } {
  const unpacked = unpackWithin(
    bytes,
    limits,
    (name) => name === planName || name.startsWith('files/'),
  )
  if ('fault' in unpacked) return { fault: `This archive cannot be read. ${unpacked.fault}` }
  const [refused] = unpacked.refused
  if (refused) return { fault: `The archive cannot be unpacked, ${refused.name}: ${refused.fault}` }
  const plan = unpacked.files.find(({ name }) => name === planName)
  if (!plan) return { fault: `The archive holds no ${planName}; it is no project archive.` }
  const files = unpacked.files
    .filter(({ name }) => name !== planName)
    .map(({ name, bytes: content }) => ({
      name: name.replace(/^files\/[0-9a-f]{12}-/, ''),
      bytes: content,
    }))
  return { projectText: strFromU8(plan.bytes), files }
}

/** The text of the project file that a file is or, as an archive, holds; null where it is neither: a
 *  workbook is a ZIP too. */
export function projectTextOf(bytes: Uint8Array): string | null {
  if (isZip(bytes)) {
    const archive = readArchive(bytes)
    return 'fault' in archive ? null : archive.projectText
  }
  const start = new TextDecoder().decode(bytes.subarray(0, 200)).replace(/^\ufeff/, '')
  return /^\s*\{/.test(start) ? new TextDecoder().decode(bytes) : null
}
