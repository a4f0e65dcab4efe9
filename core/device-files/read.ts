import type { DeviceFile, FormatName } from '../catalog/model'
import { formatNames } from '../catalog/words'
import type { Problem } from '../vocabulary/problem'
import { decodeText } from './decode-text'
import { readEds } from './eds/read'
import { readEsi } from './esi/read'
import type { Format, ReadOptions } from './format'
import { readGsd } from './gsd/read'
import { readGsdml } from './gsdml/read'
import { readIodd } from './iodd/read'
import { firstLine, rootElement } from './recognise'
import { readSheet } from './sheet/read'

export interface ReadResult {
  /** What the text is; null where no format recognised it. */
  readonly format: FormatName | null
  /** Null where nothing of the file can be used; then `problems` says why. */
  readonly file: DeviceFile | null
  readonly problems: readonly Problem[]
}

const isNamed = (fileName: string, ending: RegExp) => ending.test(fileName)

/** A new format is one entry here and one folder. */
const formats: Readonly<Record<FormatName, Format>> = {
  gsdml: {
    endings: ['.xml', '.gsdml'],
    recognise: (text, fileName) =>
      rootElement(text) === 'ISO15745Profile' || isNamed(fileName, /^gsdml-/i),
    read: readGsdml,
  },
  gsd: {
    endings: ['.gsd', '.gse', '.gsg', '.gsf', '.gsi', '.gsp', '.gss'],
    recognise: (text, fileName) =>
      /^#Profibus_DP/i.test(firstLine(text, ';')) || isNamed(fileName, /\.gs[defgips]$/i),
    read: readGsd,
  },
  esi: {
    endings: ['.xml'],
    recognise: (text) => rootElement(text) === 'EtherCATInfo',
    read: readEsi,
  },
  iodd: {
    endings: ['.xml'],
    recognise: (text) => rootElement(text) === 'IODevice',
    read: readIodd,
    repeats: /^IODD-Standard(Unit)?Definitions/i,
  },
  eds: {
    endings: ['.eds'],
    recognise: (text, fileName) =>
      /^\[\s*File\s*\]/i.test(firstLine(text, '$')) || isNamed(fileName, /\.eds$/i),
    read: readEds,
  },
  sheet: {
    endings: ['.json'],
    recognise: (text) =>
      /^\s*\{/.test(text.slice(0, 1000)) && text.slice(0, 50_000).includes('"kataxisSheet"'),
    read: readSheet,
  },
}

/** Goes up when the readers find more in the same bytes; catalogs of an older one are made anew. */
export const readerVersion = 12

/** Larger files are refused before they are read; real ones end at about 30 MB. */
export const maxFileBytes = 64 * 1024 * 1024

/** File name endings of all formats. */
export const fileEndings: readonly string[] = [
  ...new Set(Object.values(formats).flatMap(({ endings }) => endings)),
]

/** Files that the packages of some formats repeat, and that describe no device. */
export const repeatedBeside: readonly RegExp[] = Object.values(formats).flatMap(({ repeats }) =>
  repeats ? [repeats] : [],
)

/** Reads a description file of any known format. Nothing is fetched, no entity expanded. */
export function readDeviceFile(
  bytes: Uint8Array,
  fileName: string,
  options: ReadOptions = {},
): ReadResult {
  if (bytes.length > maxFileBytes)
    return refused(
      'file.size',
      `The file has ${Math.round(bytes.length / 1e6)} MB; description files of up to ${Math.round(maxFileBytes / 1e6)} MB are read.`,
    )
  if (bytes.length === 0) return refused('file.empty', 'The file is empty.')
  const decoded = decodeText(bytes)
  if ('problem' in decoded) return { format: null, file: null, problems: [decoded.problem] }
  for (const [name, format] of Object.entries(formats)) {
    if (!format.recognise(decoded.text, fileName)) continue
    const { readable, file } = format.read(decoded.text, fileName, options)
    const problems = atMost(file.problems)
    return { format: name as FormatName, file: readable ? { ...file, problems } : null, problems }
  }
  return refused(
    'format.unknown',
    `Line 1 shows no description format that Kataxis reads; it knows ${Object.keys(formats)
      .map((name) => formatNames[name as FormatName])
      .join(', ')}.`,
  )
}

/** A part that is wrong and stands thousands of times in a file is told often enough to find
 *  them. */
const mostProblems = 2000

function atMost(problems: readonly Problem[]): readonly Problem[] {
  if (problems.length <= mostProblems) return problems
  const left = problems.slice(mostProblems)
  const severity = left.some((problem) => problem.severity === 'error')
    ? ('error' as const)
    : ('warning' as const)
  return [
    ...problems.slice(0, mostProblems),
    {
      severity,
      code: 'problems.more',
      message: `There are ${left.length} more problems from here on.`,
      line: left[0]!.line,
      column: left[0]!.column,
    },
  ]
}

function refused(code: string, message: string): ReadResult {
  return {
    format: null,
    file: null,
    problems: [{ severity: 'error', code, message, line: 1, column: 1 }],
  }
}
