import { numberOf, readType, UserParameters } from './parameters'
import type { Reading } from './reading'
import { afterText, parseNumber, parseRanges, parseText, type Statement } from './statements'

type Reader = (reading: Reading, statement: Statement) => void

/** A block: its end keyword, and what is read where it begins, inside it, and where it ends. */
export interface BlockKind {
  readonly ends: string
  /** Keywords that may also stand outside, with nothing behind them, begin none then. */
  readonly needsValue: boolean
  readonly begin?: Reader
  readonly inside: Reader
  readonly end?: (reading: Reading) => void
}

const skipped = { needsValue: false, inside: () => undefined }

export const blockKinds: ReadonlyMap<string, BlockKind> = new Map<string, BlockKind>(
  Object.entries({
    module: {
      ends: 'endmodule',
      needsValue: true,
      begin: beginModule,
      inside: inModule,
      end: (reading) => {
        if (reading.module) reading.shareParameters(reading.module)
        reading.module = null
      },
    },
    prmtext: { ends: 'endprmtext', needsValue: true, begin: beginTexts, inside: inTexts },
    extuserprmdata: {
      ends: 'endextuserprmdata',
      needsValue: true,
      begin: beginParameter,
      inside: inParameter,
    },
    slotdefinition: { ends: 'endslotdefinition', needsValue: false, inside: inSlots },
    unit_diag_area: {
      ends: 'unit_diag_area_end',
      needsValue: true,
      begin: (reading, { value }) => (reading.area = value),
      inside: inArea,
    },
    unitdiagtype: { ends: 'endunitdiagtype', ...skipped },
    physical_interface: { ends: 'end_physical_interface', ...skipped },
  } satisfies Record<string, BlockKind>),
)

/** The block that a statement begins; null where it begins none. */
export function blockAt({ keyword, value }: Statement): BlockKind | null {
  const kind = blockKinds.get(keyword)
  return kind && (value !== '' || !kind.needsValue) ? kind : null
}

function beginModule(reading: Reading, statement: Statement): void {
  const written = afterText(statement.value)
  const configuration = reading.configurationOf(written)
  const name = parseText(statement.value)
  if (configuration.fault)
    reading.problems.error(
      configuration.fault.code,
      `The configuration of module "${name}" is "${written}": ${configuration.fault.words}.`,
      statement,
    )
  reading.module = {
    name: name.trim(),
    configuration,
    at: statement,
    reference: null,
    info: '',
    parameters: new UserParameters(),
    failSafe: new UserParameters(),
  }
  reading.modules.push(reading.module)
}

const parameterKeywords: ReadonlySet<string> = new Set([
  'ext_module_prm_data_len',
  'ext_user_prm_data_const',
  'ext_user_prm_data_ref',
])

function inModule({ module }: Reading, statement: Statement): void {
  if (!module) return
  const { keyword, value } = statement
  const isFailSafe = keyword.startsWith('f_')
  const parameters = isFailSafe ? module.failSafe : module.parameters
  const name = isFailSafe ? keyword.slice(2) : keyword
  if (parameterKeywords.has(name)) parameters.add(statement)
  else if (name === 'info_text') module.info = parseText(value)
  else if (module.reference === null && value === '' && parseNumber(keyword) !== null)
    module.reference = parseNumber(keyword)
}

function beginTexts(reading: Reading, statement: Statement): void {
  reading.words = {}
  reading.texts.set(numberOf(statement, reading.problems) ?? -1, reading.words)
}

function inTexts({ words }: Reading, { keyword, argument, value }: Statement): void {
  if (keyword === 'text' && argument !== null) words[argument] = parseText(value)
}

function beginParameter(reading: Reading, statement: Statement): void {
  const { definitions, problems } = reading
  const { value } = statement
  const quote = value.indexOf('"')
  const reference = parseNumber(value.slice(0, quote < 0 ? undefined : quote))
  if (reference === null)
    problems.error(
      'gsd.number',
      `ExtUserPrmData = ${value}: a reference number and a name are needed.`,
      statement,
    )
  const definition = {
    reference: reference ?? -1,
    name: parseText(value),
    type: '',
    kind: 'unsigned' as const,
    bits: 8,
    offsetBits: 0,
    default: 0,
    allowed: [],
    textReference: null,
    visible: true,
    changeable: true,
    at: statement,
  }
  if (definitions.has(definition.reference))
    problems.error(
      'id.duplicate',
      `ExtUserPrmData ${definition.reference} stands more than once in the file.`,
      statement,
    )
  definitions.set(definition.reference, definition)
  reading.definition = definition
}

function inParameter({ definition, problems }: Reading, statement: Statement): void {
  if (!definition) return
  const { keyword, value } = statement
  if (keyword === 'prm_text_ref') definition.textReference = numberOf(statement, problems)
  else if (keyword === 'changeable') definition.changeable = parseNumber(value) !== 0
  else if (keyword === 'visible') definition.visible = parseNumber(value) !== 0
  else if (
    definition.type === '' &&
    value === '' &&
    !readType(definition, statement.written, statement, problems)
  ) {
    problems.error(
      'gsd.type',
      `"${statement.written}" is no type with a default, such as Unsigned8 0 0-255.`,
      statement,
    )
  }
}

function inSlots({ slots, problems }: Reading, statement: Statement): void {
  if (statement.keyword !== 'slot') return
  const slot = parseNumber(statement.argument ?? '')
  const match = /^(\S+)(?:\s+(.+))?$/.exec(afterText(statement.value))
  const standard = match ? parseNumber(match[1]!) : null
  const allowed = match?.[2] === undefined ? [] : parseRanges(match[2])
  if (
    slot === null ||
    !allowed ||
    allowed.some(([from, to]) => from < 0 || to > 65_535) ||
    (match && standard === null)
  ) {
    problems.error(
      'gsd.slot',
      `Slot(${statement.argument ?? ''}) = ${statement.value}: a name, the module that stands there first, and a list such as 1-5 are needed.`,
      statement,
    )
    return
  }
  slots.push({ slot, standard, allowed, at: statement })
}

function inArea({ diagnoses, area }: Reading, { keyword, argument, value }: Statement): void {
  if (keyword !== 'value') return
  diagnoses.push({
    kind: 'unit',
    code: parseNumber(argument ?? '') ?? 0,
    name: parseText(value),
    help: `Bits ${area}`,
  })
}
