import { getNodePath, findNodeAtLocation, parseTree, printParseErrorCode, type Node, type ParseError } from 'jsonc-parser'
import { makeDevice, blankFile, makeModule, makeSubmodule, noLimits } from '../../catalog/blank'
import type { Connection, DataItem, Device, Module, ParameterRecord, Submodule } from '../../catalog/model'
import { encodeValue, parseOctets, toHex } from '../../parameters'
import { Problems } from '../../problem'
import type { FormatReading } from '../format'
import { SourceText } from '../source-text'
import { inRanges, parseValueList } from '../value-list'
import { deviceSheet, sheetTypes, type DeviceSheet, type SheetData } from './schema'

/** Reads a device sheet: JSON by the published schema. Each wrong value is told with its path and place. */
export function readSheet(text: string): FormatReading {
  const problems = new Problems()
  const source = new SourceText(text)
  const faults: ParseError[] = []
  const tree = parseTree(text, faults, { allowTrailingComma: false, disallowComments: true })
  const refused = { readable: false, file: { ...blankFile, format: 'sheet' as const, problems: problems.list } }
  const [fault] = faults
  if (fault || !tree) {
    const what = fault ? printParseErrorCode(fault.error).replace(/(?<=[a-z])(?=[A-Z])/g, ' ').toLowerCase() : 'nothing there'
    problems.error('sheet.json', `The sheet is not JSON: ${what}.`, source.placeAt(fault?.offset ?? 0))
    return refused
  }
  const parsed = deviceSheet.safeParse(JSON.parse(text))
  if (!parsed.success) {
    for (const { path, message } of parsed.error.issues) {
      const node = nodeAt(tree, path as (string | number)[])
      problems.error('sheet.value', `${path.join('.') || 'The sheet'}: ${message.replace(/\.$/, '')}.`, source.placeAt(node.offset))
    }
    return refused
  }
  const at = (path: (string | number)[]) => source.placeAt(nodeAt(tree, path).offset)
  return { readable: true, file: { ...blankFile, format: 'sheet', formatVersion: '1', ...catalogOf(parsed.data, (code, message, path) => problems.error(code, message, at(path))), problems: problems.list } }
}

/** The innermost part that is there of what a path names. */
function nodeAt(tree: Node, path: (string | number)[]): Node {
  for (let length = path.length; length > 0; length--) {
    const node = findNodeAtLocation(tree, path.slice(0, length))
    if (node && getNodePath(node).length === length) return node
  }
  return tree
}

type Complain = (code: string, message: string, path: (string | number)[]) => void

/** What a sheet offers, in the catalog's model; also what the form previews while somebody types. */
export function catalogOf(sheet: DeviceSheet, complain: Complain = () => undefined) {
  const keys = new Set<string>()
  const modules = sheet.modules.map((module, i): Module => {
    if (keys.has(module.key)) complain('id.duplicate', `The key "${module.key}" stands more than once in the sheet.`, ['modules', i, 'key'])
    keys.add(module.key)
    const submodules = submoduleOf(module.key, module.name, module.inputs, module.outputs)
    return makeModule({
      key: module.key,
      name: module.name,
      info: module.info,
      orderNumber: module.orderNumber || null,
      category: module.category || null,
      inputBytes: submodules[0]?.inputBytes ?? 0,
      outputBytes: submodules[0]?.outputBytes ?? 0,
      submodules,
      parameters: module.parameters.map((record, r) => recordOf(record, ['modules', i, 'parameters', r], complain)),
      currentMa: module.currentMa,
      ...(module.placement && { placement: module.placement }),
    })
  })
  return { vendor: { id: null, name: sheet.maker }, family: { main: '', product: sheet.name }, modules, devices: [deviceOf(sheet, complain)] }
}

function deviceOf(sheet: DeviceSheet, complain: Complain): Device {
  const { slots, head } = sheet
  const fits = sheet.modules.map((module) => ({ key: module.key, ranges: parseValueList(module.slots) ?? [] }))
  const everySlot = slots.everySlot ? fixedSlots(sheet) : null
  const own = submoduleOf('head', sheet.name, everySlot ? [...head.inputs, ...everySlot.inputs] : head.inputs, everySlot ? [...head.outputs, ...everySlot.outputs] : head.outputs)
  const common = makeDevice({
    key: sheet.orderNumber || sheet.name,
    name: sheet.name,
    info: sheet.info,
    orderNumber: sheet.orderNumber || null,
    limits: { ...noLimits, modules: slots.count },
    slots: Array.from({ length: slots.count }, (_, i) => {
      const slot = slots.first + i
      return { slot, fixed: null, default: null, allowed: fits.filter(({ ranges }) => ranges.length === 0 || inRanges(ranges, slot)).map(({ key }) => key) }
    }),
    submodules: own,
    parameters: head.parameters.map((record, r) => recordOf(record, ['head', 'parameters', r], complain)),
    connections: sheet.dataSets.map(connectionOf),
    currentMa: sheet.supplyMa === null ? null : -sheet.supplyMa,
    ...(sheet.placement && { placement: sheet.placement }),
  })
  if (sheet.network === 'ethernet-ip') {
    const { vendorCode = 0, productType = 0, productCode = 0, majorRevision = 0, minorRevision = 0 } = sheet.identity
    return { ...common, protocol: 'ethernet-ip', identity: { 'ethernet-ip': { vendorCode, productType, productCode, majorRevision, minorRevision } }, ethernetIp: { productType: '', maxConnections: null, isModular: slots.count > 0 } }
  }
  return {
    ...common,
    protocol: sheet.network,
    identity: { sheet: { vendor: sheet.maker, orderNumber: sheet.orderNumber } },
    sheet: { addressing: sheet.addressing, headerBytes: layOut(head.inputs).bytes, controller: sheet.controller ?? null, registers: sheet.registers },
  }
}

/** "Every slot 16 bytes in and 16 out": the octets stand there whatever is plugged. */
function fixedSlots({ slots: { count, first, everySlot } }: DeviceSheet): { inputs: SheetData; outputs: SheetData } {
  const octets = (bytes: number): SheetData => (bytes === 0 ? [] : Array.from({ length: count }, (_, i) => ({ name: `Slot ${first + i}`, type: 'uint8' as const, count: bytes })))
  return { inputs: octets(everySlot!.inputBytes), outputs: octets(everySlot!.outputBytes) }
}

function submoduleOf(key: string, name: string, inputs: SheetData, outputs: SheetData): Submodule[] {
  if (inputs.length === 0 && outputs.length === 0) return []
  const [laidIn, laidOut] = [layOut(inputs), layOut(outputs)]
  return [makeSubmodule({ key: `${key}.data`, name, inputBytes: laidIn.bytes, outputBytes: laidOut.bytes, inputs: laidIn.items, outputs: laidOut.items })]
}

/** Bits are packed from bit 0, half octets at bit 0 or 4, everything else begins at a whole octet. */
export function layOut(data: SheetData): { items: DataItem[]; bytes: number } {
  const items: DataItem[] = []
  let offset = 0
  for (const { name, type, count } of data) {
    const { bits } = sheetTypes[type]
    const step = Math.min(bits, 8)
    for (let i = 0; i < count; i++) {
      offset = Math.ceil(offset / step) * step
      items.push({ name: count === 1 ? name : `${name} ${i + 1}`, type, offsetBits: offset, bits, asBits: false, channels: [] })
      offset += bits
    }
  }
  return { items, bytes: Math.ceil(offset / 8) }
}

function recordOf(record: DeviceSheet['head']['parameters'][number], path: (string | number)[], complain: Complain): ParameterRecord {
  const bytes = new Uint8Array(record.length)
  const constant = parseOctets(record.constant)
  if (!constant || constant.length > record.length) complain('record.constant', `"${record.constant}" are not at most ${record.length} octets in hex.`, [...path, 'constant'])
  else bytes.set(constant)
  const parameters = record.parameters.map((parameter, i) => {
    const { kind } = sheetTypes[parameter.type]
    const laid = {
      key: parameter.key, name: parameter.name, type: parameter.type, kind, byteOrder: record.byteOrder, offsetBytes: parameter.byte, offsetBits: parameter.bit, bits: kind === 'float' ? 32 : parameter.bits ?? sheetTypes[parameter.type].bits,
      default: parameter.default, allowed: parseValueList(parameter.allowed) ?? [], texts: parameter.texts, visible: true, changeable: true, unit: parameter.unit,
    }
    if (laid.offsetBytes * 8 + laid.offsetBits + laid.bits > record.length * 8) complain('record.length', `${parameter.name} ends after the record's ${record.length} octets.`, [...path, 'parameters', i, 'byte'])
    else encodeValue(bytes, laid, laid.default)
    return laid
  })
  return { index: record.index, length: record.length, bytes: toHex(bytes), parameters }
}

/** Class 4, configuration instance, connection points out and in (CIP Vol. 1, App. C). */
function connectionOf({ key, name, info, outputInstance, outputBytes, inputInstance, inputBytes, configInstance, configBytes }: DeviceSheet['dataSets'][number]): Connection {
  const instance = (kind: number, number: number) => (number > 255 ? [kind + 1, 0, number & 0xff, number >> 8] : [kind, number])
  const path = [0x20, 4, ...instance(0x24, configInstance), ...instance(0x2c, outputInstance), ...instance(0x2c, inputInstance)]
  return { key, name, info, outputBytes, inputBytes, configBytes, path: toHex(Uint8Array.from(path)), requestedIntervalUs: null, requestedInputIntervalUs: null, hasRunIdleHeader: true, inputs: [], outputs: [] }
}
