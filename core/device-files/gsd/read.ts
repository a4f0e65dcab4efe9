import { blankFile, makeDevice, makeModule, makeSubmodule } from '../../catalog/blank'
import type { Device, Diagnosis, Module, Slot } from '../../catalog/model'
import { Problems, type Position } from '../../vocabulary/problem'
import type { FormatReading } from '../format'
import { SourceText } from '../source-text'
import { values } from '../../vocabulary/value-list'
import { dataItemsOf, decodeConfiguration } from './configuration'
import { numberOf, readType, UserParameters, type Definition } from './parameters'
import {
  afterText,
  parseNumber,
  parseOctetList,
  parseRanges,
  parseText,
  statements,
  type Statement,
} from './statements'
import { toHex } from '../../vocabulary'

interface OpenModule {
  readonly name: string
  readonly configuration: ReturnType<typeof readConfiguration>
  readonly at: Position
  reference: number | null
  info: string
  parameters: UserParameters
  failSafe: UserParameters
}

interface OpenSlot {
  readonly slot: number
  readonly standard: number | null
  readonly allowed: readonly [number, number][]
  readonly at: Position
}

/** A block that is open, its end keyword, and where it began. */
interface Block {
  readonly kind: 'module' | 'text' | 'parameter' | 'slots' | 'area' | 'other'
  readonly ends: string
  readonly at: Statement
}

const blockStarts: ReadonlyMap<string, Omit<Block, 'at'>> = new Map(
  Object.entries({
    module: { kind: 'module', ends: 'endmodule' },
    prmtext: { kind: 'text', ends: 'endprmtext' },
    extuserprmdata: { kind: 'parameter', ends: 'endextuserprmdata' },
    slotdefinition: { kind: 'slots', ends: 'endslotdefinition' },
    unit_diag_area: { kind: 'area', ends: 'unit_diag_area_end' },
    unitdiagtype: { kind: 'other', ends: 'endunitdiagtype' },
    physical_interface: { kind: 'other', ends: 'end_physical_interface' },
  }),
)

/** kbit/s by the file's own words. */
const rates: Readonly<Record<string, number>> = {
  '9.6': 9.6,
  '19.2': 19.2,
  '31.25': 31.25,
  '45.45': 45.45,
  '93.75': 93.75,
  '187.5': 187.5,
  '500': 500,
  '1.5m': 1500,
  '3m': 3000,
  '6m': 6000,
  '12m': 12_000,
}
const mostSlots = 256
const parameterKeywords: ReadonlySet<string> = new Set([
  'ext_module_prm_data_len',
  'ext_user_prm_data_const',
  'ext_user_prm_data_ref',
])

/** Reads a GSD file of PROFIBUS DP, revisions 1 to 5 (IEC 61784 CPF 3 / EN 50170, from memory).
 *  What it does not interpret is passed over; `readable` is false where the text is no GSD or a
 *  block is still open at its end. */
export function readGsd(text: string): FormatReading {
  const problems = new Problems()
  const source = new SourceText(text)
  const facts = new Map<string, Statement>()
  const speeds = new Map<number, number | null>()
  const definitions = new Map<number, Definition>()
  const texts = new Map<number, Record<string, string>>()
  const parameterLists = new Map<string, UserParameters>()
  const configurations = new Map<string, ReturnType<typeof readConfiguration>>()
  const diagnoses: Diagnosis[] = []
  const helps = new Map<number, string>()
  const openModules: OpenModule[] = []
  const openSlots: OpenSlot[] = []
  const ownParameters = new UserParameters()
  const oldParameters = new UserParameters()
  let block: Block | null = null
  let module: OpenModule | null = null
  let definition: Definition | null = null
  let words: Record<string, string> = {}
  let headSeen = false

  const inside: Record<Block['kind'], (statement: Statement) => void> = {
    module: inModule,
    text: ({ keyword, argument, value }) => {
      if (keyword === 'text' && argument !== null) words[argument] = parseText(value)
    },
    parameter: inParameter,
    slots: inSlots,
    area: ({ keyword, argument, value }) => {
      if (keyword === 'value' && block)
        diagnoses.push({
          kind: 'unit',
          code: parseNumber(argument ?? '') ?? 0,
          name: parseText(value),
          help: `Bits ${block.at.value}`,
        })
    },
    other: () => undefined,
  }

  for (const statement of statements(source, problems)) {
    const { keyword } = statement
    if (block) {
      if (keyword === block.ends) {
        if (module) shareParameters(module)
        block = null
        module = null
      } else if (isBlockStart(keyword, statement))
        return cutOff(
          `"${block.at.keyword}" of line ${block.at.line} has no ${block.ends} before the next block begins.`,
          statement,
        )
      else inside[block.kind](statement)
      continue
    }
    if (!headSeen) {
      if (keyword !== '#profibus_dp')
        return cutOff(
          `The file begins with "${keyword.slice(0, 40)}"; a GSD file begins with #Profibus_DP.`,
          statement,
        )
      headSeen = true
    } else if (isBlockStart(keyword, statement)) {
      block = { ...blockStarts.get(keyword)!, at: statement }
      openBlock(block.kind, statement)
    } else {
      outside(statement)
    }
  }
  if (block)
    return cutOff(
      `The file is cut off: "${block.at.keyword}" of line ${block.at.line} has no ${block.ends}.`,
      source.placeAt(text.length),
    )
  if (!headSeen) return cutOff('The file has no #Profibus_DP.', { line: 1, column: 1 })
  return finish()

  function isBlockStart(keyword: string, statement: Statement): boolean {
    const start = blockStarts.get(keyword)
    return (
      start !== undefined &&
      (statement.value !== '' || start.kind === 'slots' || start.kind === 'other')
    )
  }

  function cutOff(message: string, at: Position): FormatReading {
    problems.error('gsd.cut', message, at)
    return { readable: false, file: { ...blankFile, format: 'gsd', problems: problems.list } }
  }

  function outside(statement: Statement): void {
    const { keyword, argument, value } = statement
    if (keyword.endsWith('_supp') && Object.hasOwn(rates, keyword.slice(0, -5))) {
      const rate = rates[keyword.slice(0, -5)]!
      if (parseNumber(value) === 1 && !speeds.has(rate)) speeds.set(rate, null)
    } else if (keyword.startsWith('maxtsdr_') && Object.hasOwn(rates, keyword.slice(8))) {
      const rate = rates[keyword.slice(8)]!
      if (speeds.has(rate)) speeds.set(rate, numberOf(statement, problems, 0, 65_535))
    } else if (keyword === 'user_prm_data_len') oldParameters.add(statement)
    else if (keyword === 'user_prm_data') oldParameters.add(statement)
    else if (keyword === 'ext_user_prm_data_const' || keyword === 'ext_user_prm_data_ref')
      ownParameters.add(statement)
    else if (keyword === 'unit_diag_bit' || keyword === 'channel_diag') {
      diagnoses.push({
        kind: keyword === 'channel_diag' ? 'channel' : 'unit',
        code: parseNumber(argument ?? '') ?? 0,
        name: parseText(value),
        help: '',
      })
    } else if (keyword === 'unit_diag_bit_help')
      helps.set(parseNumber(argument ?? '') ?? 0, parseText(value))
    else facts.set(keyword, statement)
  }

  function openBlock(kind: Block['kind'], statement: Statement): void {
    const { value } = statement
    if (kind === 'module') {
      const written = afterText(value)
      let configuration = configurations.get(written)
      if (!configuration) configurations.set(written, (configuration = readConfiguration(written)))
      if (configuration.fault)
        problems.error(
          configuration.fault.code,
          `The configuration of module "${parseText(value)}" is "${written}": ${configuration.fault.words}.`,
          statement,
        )
      module = {
        name: parseText(value).trim(),
        configuration,
        at: statement,
        reference: null,
        info: '',
        parameters: new UserParameters(),
        failSafe: new UserParameters(),
      }
      openModules.push(module)
    } else if (kind === 'text') {
      words = {}
      texts.set(numberOf(statement, problems) ?? -1, words)
    } else if (kind === 'parameter') {
      const reference = parseNumber(
        value.slice(0, value.indexOf('"') < 0 ? undefined : value.indexOf('"')),
      )
      if (reference === null)
        problems.error(
          'gsd.number',
          `ExtUserPrmData = ${value}: a reference number and a name are needed.`,
          statement,
        )
      definition = {
        reference: reference ?? -1,
        name: parseText(value),
        type: '',
        kind: 'unsigned',
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
    }
  }

  /** Modules repeat their parameter bytes; lists written alike are one. */
  function shareParameters(open: OpenModule): void {
    for (const list of ['parameters', 'failSafe'] as const) {
      if (open[list].isEmpty) continue
      const known = parameterLists.get(open[list].written)
      if (known) open[list] = known
      else parameterLists.set(open[list].written, open[list])
    }
  }

  function inModule(statement: Statement): void {
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

  function inParameter(statement: Statement): void {
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

  function inSlots(statement: Statement): void {
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
    openSlots.push({ slot, standard, allowed, at: statement })
  }

  function finish(): FormatReading {
    const modules = openModules.map(settleModule)
    const keys = new Map(openModules.map(({ reference }, i) => [reference, modules[i]!.key]))
    const taken = new Set<string>()
    for (const [i, { key }] of modules.entries()) {
      if (taken.has(key))
        problems.error(
          'id.duplicate',
          `Module reference ${key} stands more than once in the file.`,
          openModules[i]!.at,
        )
      taken.add(key)
    }
    const device = settleDevice(modules, keys)
    for (const required of ['vendor_name', 'model_name', 'ident_number']) {
      if (!facts.has(required))
        problems.error('gsd.missing', `${required} is missing; a GSD file must give it.`, {
          line: 1,
          column: 1,
        })
    }
    for (const [i, diagnosis] of diagnoses.entries())
      diagnoses[i] = { ...diagnosis, help: helps.get(diagnosis.code) ?? '' }
    problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
    return {
      readable: facts.has('ident_number') || facts.has('model_name'),
      file: {
        ...blankFile,
        format: 'gsd',
        formatVersion: textOf('gsd_revision'),
        vendor: { id: null, name: textOf('vendor_name') ?? '' },
        family: { main: textOf('slave_family') ?? '', product: textOf('model_name') ?? '' },
        devices: [device],
        modules,
        diagnoses,
        problems: problems.list,
      },
    }
  }

  function settleModule(open: OpenModule, position: number): Module {
    const { hex, inputs, outputs } = open.configuration
    const failSafe = open.failSafe.settle(definitions, texts, problems)
    const key = String(open.reference ?? `module-${position + 1}`)
    const parameters = open.parameters.settle(definitions, texts, problems)
    return makeModule({
      key,
      name: open.name,
      info: open.info,
      ident: open.reference,
      inputBytes: inputs.bytes,
      outputBytes: outputs.bytes,
      configuration: hex,
      submodules: [
        makeSubmodule({
          key: `${key}.data`,
          name: open.name,
          inputBytes: inputs.bytes,
          outputBytes: outputs.bytes,
          inputs: inputs.items,
          outputs: outputs.items,
          safety: failSafe.length > 0,
        }),
      ],
      parameters: failSafe.length === 0 ? parameters : [...parameters, ...failSafe],
    })
  }

  function settleDevice(
    modules: readonly Module[],
    keys: ReadonlyMap<number | null, string>,
  ): Device {
    const isModular = flag('modular_station')
    const slots = slotsOf(modules, keys, isModular)
    const records = (ownParameters.isEmpty ? oldParameters : ownParameters).settle(
      definitions,
      texts,
      problems,
    )
    const inputBytes = number('max_input_len')
    const outputBytes = number('max_output_len')
    return makeDevice({
      key: textOf('model_name') ?? 'device',
      name: textOf('model_name') ?? '',
      info: textOf('info_text') ?? '',
      orderNumber: textOf('ordernumber') ?? textOf('order_number'),
      firmware: textOf('software_release'),
      hardware: textOf('hardware_release'),
      protocol: 'profibus',
      identity: { profibus: { identNumber: number('ident_number', 65_535) ?? 0 } },
      limits: {
        inputBytes,
        outputBytes,
        dataBytes: number('max_data_len'),
        modules: isModular ? (number('max_module', mostSlots) ?? slots.length) : slots.length,
        parameterBytes: number('max_user_prm_data_len') ?? number('user_prm_data_len'),
      },
      slots,
      parameters: records,
      profibus: {
        transmissionRates: [...speeds.keys()].sort((a, b) => a - b),
        maxStationDelay: Object.fromEntries(
          [...speeds].filter(([, delay]) => delay !== null),
        ) as Record<string, number>,
        // 100 µs a unit; the keyword really is spelt so.
        minSlaveIntervalUs:
          number('min_slave_intervall') === null ? null : number('min_slave_intervall')! * 100,
        maxDiagnosisBytes: number('max_diag_data_len'),
        isModular,
        freezes: flag('freeze_mode_supp'),
        syncs: flag('sync_mode_supp'),
        detectsRate: flag('auto_baud_supp'),
        takesAddressOverBus: flag('set_slave_add_supp'),
      },
    })
  }

  /** Slots from their definitions; without any a modular station takes every module in each of
   *  `Max_Module` slots, a compact one has a single slot for its configuration (common
   *  practice). */
  function slotsOf(
    modules: readonly Module[],
    keys: ReadonlyMap<number | null, string>,
    isModular: boolean,
  ): Slot[] {
    if (openSlots.length === 0) {
      const all = modules.map(({ key }) => key)
      const count = isModular ? (number('max_module', mostSlots) ?? 0) : Math.min(1, all.length)
      const only = !isModular && all.length === 1 ? all[0]! : null
      return Array.from({ length: count }, (_, i) => ({
        slot: i + 1,
        fixed: only,
        default: only,
        allowed: all,
      }))
    }
    return openSlots.map(({ slot, standard, allowed, at }) => {
      const wanted = [...values(allowed)]
      if (standard !== null && !wanted.includes(standard)) wanted.unshift(standard)
      const found = wanted.flatMap((reference) => {
        const key = keys.get(reference)
        // A range may well pass over numbers that no module has.
        if (
          key === undefined &&
          (reference === standard ||
            allowed.some(([from, to]) => from === reference && to === reference))
        ) {
          problems.error(
            'reference.module',
            `Slot ${slot} names module ${reference}, which does not stand in the file.`,
            at,
          )
        }
        return key ?? []
      })
      return {
        slot,
        fixed: null,
        default: standard === null ? null : (keys.get(standard) ?? null),
        allowed: found,
      }
    })
  }

  function number(keyword: string, most?: number): number | null {
    const statement = facts.get(keyword)
    return statement ? numberOf(statement, problems, 0, most) : null
  }

  function flag(keyword: string): boolean {
    return parseNumber(facts.get(keyword)?.value ?? '0') === 1
  }

  function textOf(keyword: string): string | null {
    const statement = facts.get(keyword)
    return statement ? parseText(statement.value).trim() : null
  }
}

/** Configuration octets as they are written, decoded; modules repeat them. */
function readConfiguration(written: string) {
  const octets = parseOctetList(written)
  const identifiers = octets ? decodeConfiguration(octets) : []
  const known = typeof identifiers === 'string' ? [] : identifiers
  const fault = !octets
    ? { code: 'gsd.octets', words: 'octets such as 0x10,0x20 are needed' }
    : typeof identifiers === 'string'
      ? { code: 'gsd.configuration', words: identifiers }
      : null
  return {
    hex: toHex(Uint8Array.from(octets ?? [])),
    inputs: dataItemsOf(known, 'inputs'),
    outputs: dataItemsOf(known, 'outputs'),
    fault,
  }
}
