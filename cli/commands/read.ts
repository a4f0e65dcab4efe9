import { basename } from 'node:path'
import { readDeviceFile } from '@kataxis/core'
import { readBytes, sha256 } from '../files'
import { print, tell } from '../print'

export function read(paths: string[]): number {
  const results = paths.map((path) => {
    const bytes = readBytes(path)
    const { format, file, problems } = readDeviceFile(bytes, basename(path))
    const about = { contract: 1, file: { name: basename(path), bytes: bytes.length, sha256: sha256(bytes) } }
    if (file) return { code: problems.some(({ severity }) => severity === 'error') ? 1 : 0, output: { ...about, ...file } }
    const first = problems.findLast(({ severity }) => severity === 'error') ?? problems[0]
    tell(`${basename(path)}: line ${first?.line ?? 1}: ${first?.message ?? 'it cannot be read.'}`)
    return { code: 2, output: { ...about, format, formatVersion: null, vendor: { id: null, name: '' }, devices: [], modules: [], problems } }
  })
  print(paths.length === 1 ? results[0]!.output : results.map(({ output }) => output))
  return Math.max(...results.map(({ code }) => code))
}
