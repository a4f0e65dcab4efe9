import { layoutOf } from './layout'
import type { Device, DeviceFile, Module, Parameter, ParameterRecord } from './model'
import { wordBytes, wordChannels } from './words'

/** One thing that two versions of a file do not have in common. */
export interface Difference {
  readonly change: 'added' | 'removed' | 'changed'
  readonly what: 'head' | 'module' | 'parameter'
  readonly key: string
  readonly name: string
  /** The module or head a parameter belongs to. */
  readonly owner: string | null
  /** What is other than before, in words: `data: 2 bytes in → 4 bytes in`. */
  readonly details: readonly string[]
}

interface Keyed {
  readonly key: string
  readonly name: string
}

/** What changed from an older version of a file to a newer one: heads, modules, and their
 *  parameters. */
export function compareFiles(older: DeviceFile, newer: DeviceFile): Difference[] {
  return [
    ...compareOwners('head', older.devices, newer.devices, (device) => [
      ...headFacts(device),
      ...ownerFacts(device),
    ]),
    ...compareOwners('module', older.modules, newer.modules, (module) => [
      ['ident', hex(module.ident)],
      ['order number', module.orderNumber ?? 'none'],
      ['configuration', module.configuration ?? 'none'],
      ...ownerFacts(module),
    ]),
  ]
}

type Facts = readonly (readonly [string, string])[]

function ownerFacts(owner: Device | Module): Facts {
  const layout = layoutOf(owner)
  return [
    ['name', owner.name],
    ['data', wordBytes(layout)],
    ['channels', wordChannels(layout) || 'none'],
    ['current', owner.currentMa === null ? 'not stated' : `${owner.currentMa} mA`],
  ]
}

function headFacts(device: Device): Facts {
  const { inputBytes, outputBytes, dataBytes, modules } = device.limits
  const limit = (value: number | null) => (value === null ? 'not stated' : String(value))
  return [
    ['firmware', device.firmware ?? 'none'],
    ['slots', String(device.slots.length)],
    ['most input bytes', limit(inputBytes)],
    ['most output bytes', limit(outputBytes)],
    ['most bytes both ways', limit(dataBytes)],
    ['most modules', limit(modules)],
  ]
}

function compareOwners<T extends Device | Module>(
  what: 'head' | 'module',
  older: readonly T[],
  newer: readonly T[],
  factsOf: (owner: T) => Facts,
): Difference[] {
  return pairs(older, newer).flatMap(([before, after]): Difference[] => {
    if (!before)
      return [
        { change: 'added', what, key: after!.key, name: after!.name, owner: null, details: [] },
      ]
    if (!after)
      return [
        { change: 'removed', what, key: before.key, name: before.name, owner: null, details: [] },
      ]
    const details = different(factsOf(before), factsOf(after))
    const own: Difference[] =
      details.length > 0
        ? [{ change: 'changed', what, key: after.key, name: after.name, owner: null, details }]
        : []
    return [...own, ...compareParameters(before, after)]
  })
}

function compareParameters(before: Device | Module, after: Device | Module): Difference[] {
  return pairs(parametersOf(before), parametersOf(after)).flatMap(([old, now]): Difference[] => {
    const { key, name } = (now ?? old)!
    const about = { what: 'parameter' as const, key, name, owner: after.name }
    if (!old) return [{ ...about, change: 'added', details: [] }]
    if (!now) return [{ ...about, change: 'removed', details: [] }]
    const details = different(parameterFacts(old), parameterFacts(now))
    return details.length > 0 ? [{ ...about, change: 'changed', details }] : []
  })
}

interface PlacedParameter extends Parameter {
  readonly record: number | null
}

function parametersOf(owner: Device | Module): PlacedParameter[] {
  const of = (prefix: string, records: readonly ParameterRecord[]) =>
    records.flatMap(({ index, parameters }) =>
      parameters.map((parameter) => ({
        ...parameter,
        key: `${prefix}${index ?? ''}/${parameter.key}`,
        record: index,
      })),
    )
  return [
    ...of('', owner.parameters),
    ...owner.submodules.flatMap(({ key, parameters }) => of(`${key}/`, parameters)),
  ]
}

function parameterFacts({
  name,
  type,
  offsetBytes,
  offsetBits,
  bits,
  default: standard,
  allowed,
  texts,
  record,
}: PlacedParameter): Facts {
  return [
    ['name', name],
    ['type', type],
    ['place', `record ${record ?? '–'}, byte ${offsetBytes}.${offsetBits}, ${bits} bits`],
    ['default', String(standard)],
    [
      'allowed',
      allowed.map(([from, to]) => (from === to ? from : `${from}..${to}`)).join(' ') ||
        'everything',
    ],
    [
      'texts',
      Object.entries(texts)
        .map(([value, text]) => `${value} ${text}`)
        .join(', ') || 'none',
    ],
  ]
}

function different(before: Facts, after: Facts): string[] {
  const now = new Map(after)
  return before.flatMap(([what, value]) =>
    now.get(what) === value ? [] : [`${what}: ${value} → ${now.get(what)}`],
  )
}

/** Both versions of each key, in the order of the newer one, what is gone at its end. */
function pairs<T extends Keyed>(
  older: readonly T[],
  newer: readonly T[],
): (readonly [T | undefined, T | undefined])[] {
  const before = new Map(older.map((entry) => [entry.key, entry]))
  const after = new Set(newer.map(({ key }) => key))
  return [
    ...newer.map((entry) => [before.get(entry.key), entry] as const),
    ...older.filter(({ key }) => !after.has(key)).map((entry) => [entry, undefined] as const),
  ]
}

function hex(value: number | null): string {
  return value === null ? 'none' : `0x${value.toString(16)}`
}
