import { makeDevice, makeModule, makeSubmodule } from '../../catalog/blank'
import type { Device, Module, Slot } from '../../catalog/model'
import { values } from '../../vocabulary/value-list'
import type { OpenModule, OpenSlot, Reading } from './reading'

const mostSlots = 256

/** Keys of modules by the reference that slots name them by. */
type Keys = ReadonlyMap<number | null, string>

/** The modules of the file, each with a key of its own. */
export function buildModules(reading: Reading): Module[] {
  const modules = reading.modules.map((open, i) => buildModule(reading, open, i))
  const taken = new Set<string>()
  for (const [i, { key }] of modules.entries()) {
    if (taken.has(key))
      reading.problems.error(
        'id.duplicate',
        `Module reference ${key} stands more than once in the file.`,
        reading.modules[i]!.at,
      )
    taken.add(key)
  }
  return modules
}

function buildModule(
  { definitions, texts, problems }: Reading,
  open: OpenModule,
  position: number,
): Module {
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

/** The one device that a GSD describes. */
export function buildDevice(reading: Reading, modules: readonly Module[]): Device {
  const { definitions, texts, problems, ownParameters, oldParameters } = reading
  const isModular = reading.flag('modular_station')
  const slots = slotsOf(reading, modules, isModular)
  return makeDevice({
    key: reading.text('model_name') ?? 'device',
    name: reading.text('model_name') ?? '',
    info: reading.text('info_text') ?? '',
    orderNumber: reading.text('ordernumber') ?? reading.text('order_number'),
    firmware: reading.text('software_release'),
    hardware: reading.text('hardware_release'),
    protocol: 'profibus',
    identity: { profibus: { identNumber: reading.number('ident_number', 65_535) ?? 0 } },
    limits: {
      inputBytes: reading.number('max_input_len'),
      outputBytes: reading.number('max_output_len'),
      dataBytes: reading.number('max_data_len'),
      modules: isModular ? (reading.number('max_module', mostSlots) ?? slots.length) : slots.length,
      parameterBytes:
        reading.number('max_user_prm_data_len') ?? reading.number('user_prm_data_len'),
    },
    slots,
    parameters: (ownParameters.isEmpty ? oldParameters : ownParameters).settle(
      definitions,
      texts,
      problems,
    ),
    profibus: abilitiesOf(reading, isModular),
  })
}

function abilitiesOf(reading: Reading, isModular: boolean) {
  const interval = reading.number('min_slave_intervall')
  return {
    transmissionRates: [...reading.speeds.keys()].sort((a, b) => a - b),
    maxStationDelay: Object.fromEntries(
      [...reading.speeds].filter(([, delay]) => delay !== null),
    ) as Record<string, number>,
    // 100 µs a unit; the keyword really is spelt so.
    minSlaveIntervalUs: interval === null ? null : interval * 100,
    maxDiagnosisBytes: reading.number('max_diag_data_len'),
    isModular,
    freezes: reading.flag('freeze_mode_supp'),
    syncs: reading.flag('sync_mode_supp'),
    detectsRate: reading.flag('auto_baud_supp'),
    takesAddressOverBus: reading.flag('set_slave_add_supp'),
  }
}

/** Slots from their definitions; without any a modular station takes every module in each of
 *  `Max_Module` slots, a compact one has a single slot for its configuration (common practice). */
function slotsOf(reading: Reading, modules: readonly Module[], isModular: boolean): Slot[] {
  if (reading.slots.length > 0) {
    const keys: Keys = new Map(
      reading.modules.map(({ reference }, i) => [reference, modules[i]!.key]),
    )
    return reading.slots.map((slot) => buildSlot(reading, slot, keys))
  }
  const all = modules.map(({ key }) => key)
  const count = isModular ? (reading.number('max_module', mostSlots) ?? 0) : Math.min(1, all.length)
  const only = !isModular && all.length === 1 ? all[0]! : null
  return Array.from({ length: count }, (_, i) => ({
    slot: i + 1,
    fixed: only,
    default: only,
    allowed: all,
  }))
}

function buildSlot(
  { problems }: Reading,
  { slot, standard, allowed, at }: OpenSlot,
  keys: Keys,
): Slot {
  const wanted = [...values(allowed)]
  if (standard !== null && !wanted.includes(standard)) wanted.unshift(standard)
  const isNamed = (reference: number) =>
    reference === standard || allowed.some(([from, to]) => from === reference && to === reference)
  const found = wanted.flatMap((reference) => {
    const key = keys.get(reference)
    // A range may well pass over numbers that no module has.
    if (key === undefined && isNamed(reference))
      problems.error(
        'reference.module',
        `Slot ${slot} names module ${reference}, which does not stand in the file.`,
        at,
      )
    return key ?? []
  })
  return {
    slot,
    fixed: null,
    default: standard === null ? null : (keys.get(standard) ?? null),
    allowed: found,
  }
}
