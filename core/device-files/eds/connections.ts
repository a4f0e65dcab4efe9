import type { Connection } from '../../catalog/model'
import { toHex } from '../../vocabulary/hex'
import type { Entry } from './entries'
import { parsePath } from '../../protocols/ethernet-ip/paths'
import type { Reading } from './reading'

export interface ReadConnection extends Connection {
  /** Assemblies that the configuration data are laid out by. */
  readonly configurations: readonly string[]
  /** Parameters that are process data or the interval of it, and no settings. */
  readonly carried: readonly string[]
}

/** Fields of ConnectionN: transport, flags, O→T interval, size, format, T→O interval, size,
 *  format, both configurations, name, help, path. */
export function readConnection(reading: Reading, entry: Entry): ReadConnection {
  const { problems, assemblies } = reading
  const [outputs, inputs, proxy, target] = [3, 6, 8, 10].map((field) =>
    part(reading, entry, field),
  ) as [
    ReturnType<typeof part>,
    ReturnType<typeof part>,
    ReturnType<typeof part>,
    ReturnType<typeof part>,
  ]
  const path = parsePath(entry.field(14), (reference) => reading.defaultOf(reference))
  if (typeof path === 'string') problems.error('eds.path', `${entry.name}: ${path}.`, entry.at(14))
  const intervals = [2, 5].flatMap(
    (field) => reading.parameters.get(entry.field(field).toLowerCase()) ?? [],
  )
  const limits = intervals[0]?.allowed[0]
  const outputInterval = amount(reading, entry, 2)
  const inputInterval = amount(reading, entry, 5)
  return {
    key: entry.name,
    name: entry.field(12),
    info: entry.field(13),
    outputBytes: outputs.bytes,
    inputBytes: inputs.bytes,
    configBytes: proxy.bytes + target.bytes,
    path: typeof path === 'string' ? '' : toHex(Uint8Array.from(path)),
    requestedIntervalUs: outputInterval ?? inputInterval,
    requestedInputIntervalUs: inputInterval,
    // Bits 8 to 10 of the flags: 4 = 32-bit header with run/idle (CIP Vol. 1, ch. 7, from
    // memory).
    hasRunIdleHeader: (((reading.numberIn(entry, 1) ?? 0) >>> 8) & 7) === 4,
    inputs: inputs.assembly ? assemblies.items(inputs.assembly) : [],
    outputs: outputs.assembly ? assemblies.items(outputs.assembly) : [],
    configurations: [proxy.assembly, target.assembly].filter((name) => name !== null),
    carried: [
      ...[inputs.assembly, outputs.assembly].flatMap((name) =>
        name === null ? [] : assemblies.carriedBy(name),
      ),
      ...intervals.map(({ key }) => key),
    ],
    ...(limits && { intervalLimitsUs: limits }),
  }
}

/** Size and content of one part of a connection; an empty size takes its assembly's. */
function part(
  reading: Reading,
  entry: Entry,
  sizeField: number,
): { bytes: number; assembly: string | null } {
  const { problems, assemblies } = reading
  const format = entry.field(sizeField + 1)
  const isAssembly = /^assem\d+$/i.test(format)
  if (isAssembly && !assemblies.has(format))
    problems.error(
      'reference.assembly',
      `${entry.name} names ${format}, which does not stand in the file.`,
      entry.at(sizeField + 1),
    )
  const stated = amount(reading, entry, sizeField)
  return {
    bytes: stated ?? (isAssembly ? assemblies.bytes(format) : 0),
    assembly: isAssembly && assemblies.has(format) ? format : null,
  }
}

/** A size or interval: a number, or a parameter's default. */
function amount(reading: Reading, entry: Entry, field: number): number | null {
  const { problems } = reading
  const written = entry.field(field)
  const standard = reading.defaultOf(written)
  if (standard !== null) return standard
  if (/^param\d+$/i.test(written)) {
    problems.error(
      'reference.parameter',
      `${entry.name} names ${written}, which does not stand in the file.`,
      entry.at(field),
    )
    return null
  }
  return reading.numberIn(entry, field, [0, 0xffffffff])
}
