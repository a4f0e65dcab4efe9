import { basename } from 'node:path'
import { isZip, readDeviceFile, unpack, type NamedBytes, type Problem } from '@kataxis/core'
import { readBytes, sha256 } from '../files'
import { print, tell } from '../print'

interface Reading {
  readonly code: number
  readonly output: unknown
}

export function read(paths: string[], options: { language?: string }): number {
  const readings = paths.flatMap((path) => readPath(path, options.language ?? null))
  print(readings.length === 1 ? readings[0]!.output : readings.map(({ output }) => output))
  return Math.max(...readings.map(({ code }) => code))
}

function readPath(path: string, language: string | null): Reading[] {
  const bytes = readBytes(path)
  const about = {
    contract: 1,
    file: { name: basename(path), bytes: bytes.length, sha256: sha256(bytes) },
  }
  if (!isZip(bytes)) return [readOne({ name: basename(path), bytes }, about, language)]
  const unpacked = unpack(bytes)
  if ('fault' in unpacked)
    return [
      unreadable(about, basename(path), null, [
        { severity: 'error', code: 'zip', message: unpacked.fault, line: 1, column: 1 },
      ]),
    ]
  return unpacked.files.map((file) => readOne(file, { ...about, entry: file.name }, language))
}

function readOne({ name, bytes }: NamedBytes, about: object, language: string | null): Reading {
  const { format, file, problems } = readDeviceFile(bytes, name, { language })
  if (!file) return unreadable(about, name, format, problems)
  return {
    code: problems.some(({ severity }) => severity === 'error') ? 1 : 0,
    output: { ...about, ...file },
  }
}

function unreadable(
  about: object,
  name: string,
  format: string | null,
  problems: readonly Problem[],
): Reading {
  const first = problems.findLast(({ severity }) => severity === 'error') ?? problems[0]
  tell(`${name}: line ${first?.line ?? 1}: ${first?.message ?? 'it cannot be read.'}`)
  return {
    code: 2,
    output: {
      ...about,
      format,
      formatVersion: null,
      vendor: { id: null, name: '' },
      devices: [],
      modules: [],
      problems,
    },
  }
}
