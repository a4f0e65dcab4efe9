import { basename } from 'node:path'
import {
  encodeRecord,
  readDeviceFile,
  recordsOf,
  type DeviceFile,
  type Parameter,
  type ParameterRecord,
  type Problem,
} from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { onlyDescription } from '../files'
import { print } from '../print'

/** The parameter records of a device, module or submodule with the values of `--set`; exit code 1
 *  where one is refused. */
export function encode(
  path: string,
  key: string,
  options: { record?: string; set: string[] },
): number {
  const { name, bytes } = onlyDescription(path)
  const { file, problems: faults } = readDeviceFile(bytes, name)
  if (!file)
    throw new CannotDo(
      `${basename(path)}: ${faults.findLast(({ severity }) => severity === 'error')?.message ?? 'it cannot be read.'}`,
    )
  const records = chosen(file, key, options.record)
  const { values, problems } = readValues(records, options.set)
  const encoded = records.map((record) => {
    const { bytes: hex, problems: refused } = encodeRecord(record, values)
    problems.push(...refused)
    return {
      index: record.index,
      ...(record.subindex !== undefined && { subindex: record.subindex }),
      bytes: hex,
    }
  })
  if (problems.length > 0) print({ contract: 1, problems })
  else print(encoded.length === 1 ? encoded[0] : encoded)
  return problems.length > 0 ? 1 : 0
}

function chosen(
  file: DeviceFile,
  key: string,
  index: string | undefined,
): readonly ParameterRecord[] {
  const all = recordsOf(file, key)
  if (!all) throw new CannotDo(`The file has no device, module or submodule "${key}".`)
  if (all.length === 0) throw new CannotDo(`"${key}" has no parameter records.`)
  if (index === undefined) return all
  const wanted = index === 'null' ? null : Number(index)
  const found = all.filter((record) => record.index === wanted)
  if (found.length === 0)
    throw new CannotDo(
      `"${key}" has no record ${index}; it has ${[...new Set(all.map((record) => String(record.index)))].join(', ')}.`,
    )
  return found
}

/** `PARAMETER=VALUE` by the parameter's key, or by its name where that is unique. */
function readValues(records: readonly ParameterRecord[], settings: readonly string[]) {
  const values: Record<string, number | string> = {}
  const problems: Problem[] = []
  for (const setting of settings) {
    const equals = setting.indexOf('=')
    if (equals < 1) throw new CannotDo(`--set ${setting}: PARAMETER=VALUE is needed.`)
    const parameter = findParameter(records, setting.slice(0, equals))
    values[parameter.key] = valueOf(parameter, setting.slice(equals + 1))
  }
  return { values, problems }
}

function findParameter(records: readonly ParameterRecord[], word: string): Parameter {
  const all = records.flatMap(({ parameters }) => parameters)
  const byKey = all.find(({ key }) => key === word)
  if (byKey) return byKey
  const byName = all.filter(({ name }) => name === word)
  if (new Set(byName.map(({ key }) => key)).size === 1) return byName[0]!
  if (byName.length > 1)
    throw new CannotDo(
      `"${word}" names several parameters: ${byName.map(({ key }) => key).join(', ')}.`,
    )
  throw new CannotDo(
    `There is no parameter "${word}"; there are ${
      all
        .slice(0, 20)
        .map(({ key }) => key)
        .join(', ') || 'none'
    }.`,
  )
}

function valueOf({ kind }: Parameter, text: string): number | string {
  if (kind === 'text' || kind === 'octets') return text
  if (text === 'true') return 1
  if (text === 'false') return 0
  const number = /^[#0]x[0-9a-f]+$/i.test(text) ? parseInt(text.slice(2), 16) : Number(text)
  return text.trim() === '' || Number.isNaN(number) ? text : number
}
