import type { Parameter, ParameterRecord } from '../catalog/model'
import { formatValueList, inRanges } from '../vocabulary/value-list'
import type { Problem } from '../vocabulary/problem'
import { fromHex, parseOctets, toHex } from '../vocabulary/hex'
import { decodeValue, encodeValue, rangeOf } from './value'

export type ParameterValues = Readonly<Record<string, number | string>>

export interface EncodedRecord {
  readonly bytes: string
  readonly problems: readonly Problem[]
}

/** The record with these values, by parameter key, over its default. A value that the file does not
 *  allow is refused with what it does allow, and the default stays. */
export function encodeRecord(record: ParameterRecord, values: ParameterValues): EncodedRecord {
  const bytes = fromHex(record.bytes)
  const problems: Problem[] = []
  for (const parameter of record.parameters) {
    if (!Object.hasOwn(values, parameter.key)) continue
    const value = values[parameter.key]!
    const fault = faultOf(parameter, value)
    if (fault) problems.push(fault)
    else encodeValue(bytes, parameter, value)
  }
  return { bytes: toHex(bytes), problems }
}

/** The values of a record's parameters, by key. */
export function decodeRecord(
  record: ParameterRecord,
  bytes: Uint8Array,
): Record<string, number | string> {
  return Object.fromEntries(
    record.parameters.map((parameter) => [parameter.key, decodeValue(bytes, parameter)]),
  )
}

/** Why a parameter cannot have a value; null where it can. */
export function faultOf(parameter: Parameter, value: number | string): Problem | null {
  const refuse = (code: string, message: string): Problem => ({
    severity: 'error',
    code,
    message,
    line: null,
    column: null,
  })
  const octets = parameter.bits / 8
  if (!parameter.changeable && value !== parameter.default)
    return refuse(
      'parameter.fixed',
      `${parameter.name} cannot be changed; the description fixes it at ${parameter.default}.`,
    )
  if (parameter.kind === 'text') {
    const length = new TextEncoder().encode(String(value)).length
    const room = octets - (parameter.lengthOctets ?? 0)
    return length <= room
      ? null
      : refuse(
          'parameter.length',
          `${parameter.name} takes ${room} octets; "${value}" has ${length}.`,
        )
  }
  if (parameter.kind === 'octets') {
    const given = parseOctets(String(value))
    if (!given)
      return refuse(
        'parameter.octets',
        `${parameter.name} is "${value}"; octets such as "01 1f" are needed.`,
      )
    return given.length <= octets
      ? null
      : refuse(
          'parameter.length',
          `${parameter.name} takes ${octets} octets; ${given.length} are given.`,
        )
  }
  if (typeof value === 'string' || !Number.isFinite(value))
    return refuse('parameter.number', `${parameter.name} is "${value}"; a number is needed.`)
  if (parameter.kind !== 'float' && !Number.isInteger(value))
    return refuse('parameter.number', `${parameter.name} is ${value}; a whole number is needed.`)
  if (parameter.kind !== 'float' && !Number.isSafeInteger(value))
    return refuse(
      'parameter.precision',
      `${parameter.name} is ${value}; whole numbers up to 9007199254740991 are exact, and only those are taken.`,
    )
  const possible = rangeOf(parameter)
  const allowed = parameter.allowed.length > 0 ? parameter.allowed : possible ? [possible] : []
  if (allowed.length > 0 && !inRanges(allowed, value))
    return refuse(
      'parameter.range',
      `${parameter.name} is ${value}; ${formatValueList(allowed)} is allowed.`,
    )
  if (possible && !inRanges([possible], value))
    return refuse(
      'parameter.range',
      `${parameter.name} is ${value}; its ${parameter.bits} bits hold ${formatValueList([possible])}.`,
    )
  return null
}
