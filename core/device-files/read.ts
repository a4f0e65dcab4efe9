import type { DeviceFile, FormatName } from '../catalog/model'
import type { Problem } from '../problem'
import { decodeText } from './decode-text'
import { readGsdml } from './gsdml/read'

export interface ReadResult {
  /** What the text is; null where no format recognised it. */
  readonly format: FormatName | null
  /** Null where nothing of the file can be used; then `problems` says why. */
  readonly file: DeviceFile | null
  readonly problems: readonly Problem[]
}

interface Format {
  readonly recognise: (text: string, fileName: string) => boolean
  readonly read: (text: string, fileName: string) => { readable: boolean; file: DeviceFile }
}

/** A new format is one entry here and one folder. */
const formats: Partial<Record<FormatName, Format>> = {
  gsdml: {
    recognise: (text, fileName) => /^gsdml-/i.test(fileName) || /<(?:\w+:)?ISO15745Profile[\s>]/.test(text.slice(0, 20_000)),
    read: readGsdml,
  },
}

/** Larger files are refused before they are read; real ones end at about 30 MB. */
export const maxFileBytes = 64 * 1024 * 1024

/** Reads a description file of any known format. Nothing is fetched, no entity expanded. */
export function readDeviceFile(bytes: Uint8Array, fileName: string): ReadResult {
  if (bytes.length > maxFileBytes) return refused('file.size', `The file has ${Math.round(bytes.length / 1e6)} MB; description files of up to ${Math.round(maxFileBytes / 1e6)} MB are read.`)
  if (bytes.length === 0) return refused('file.empty', 'The file is empty.')
  const decoded = decodeText(bytes)
  if ('problem' in decoded) return { format: null, file: null, problems: [decoded.problem] }
  for (const [name, format] of Object.entries(formats)) {
    if (!format.recognise(decoded.text, fileName)) continue
    const { readable, file } = format.read(decoded.text, fileName)
    return { format: name as FormatName, file: readable ? file : null, problems: file.problems }
  }
  return refused('format.unknown', `Line 1 shows no description format that Kataxis reads; it knows ${Object.keys(formats).join(', ').toUpperCase()}.`)
}

function refused(code: string, message: string): ReadResult {
  return { format: null, file: null, problems: [{ severity: 'error', code, message, line: 1, column: 1 }] }
}
