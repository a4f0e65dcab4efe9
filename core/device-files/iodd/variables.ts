import type { Parameter, ParameterRecord } from '../../catalog/model'
import { encodeValue } from '../../parameters'
import type { Problems } from '../../vocabulary/problem'
import { checkDefault } from '../default-value'
import type { Attributes } from '../xml-attributes'
import { child, children, type XmlElement } from '../xml-records'
import type { Texts } from '../xml-texts'
import { Datatypes, offsetBytesOf, parseIoddNumber, type Field } from './datatypes'
import { toHex, parseOctets } from '../../vocabulary'

/** Standard variables that can be written: index, octets (IO-Link interface specification 1.1,
 *  annex B; lengths from memory). */
const standardVariables = new Map<
  string,
  { index: number; octets: number; type: 'StringT' | 'UIntegerT' }
>([
  ['V_SystemCommand', { index: 2, octets: 1, type: 'UIntegerT' }],
  ['V_DeviceAccessLocks', { index: 12, octets: 2, type: 'UIntegerT' }],
  ['V_ApplicationSpecificTag', { index: 24, octets: 32, type: 'StringT' }],
  ['V_FunctionTag', { index: 25, octets: 32, type: 'StringT' }],
  ['V_LocationTag', { index: 26, octets: 32, type: 'StringT' }],
])

/** Reads variables; every one that can be written becomes a record. */
export class Variables {
  readonly records: ParameterRecord[] = []
  // Side by side instead of a map: large files have tens of thousands, and only the few conditions
  // ask.
  private readonly defaultIds: string[] = []
  private readonly defaultSubindexes: number[] = []
  private readonly defaultValues: number[] = []
  private readonly ids = new Set<string>()
  /** Where default records are put together, one after the other; the longest variable has 232
   *  octets. */
  private readonly scratch = new Uint8Array(256)

  constructor(
    private readonly attributes: Attributes,
    private readonly datatypes: Datatypes,
    private readonly texts: Texts,
    private readonly problems: Problems,
  ) {}

  read(element: XmlElement): void {
    const id = this.idOf(element)
    const layout = this.datatypes.layoutOf(element, false)
    for (const { subindex } of layout.fields) {
      const value = parseIoddNumber(this.defaultOf(element, subindex) ?? '')
      if (value !== null) this.addDefault(id, subindex, value)
    }
    if (!element.attributes['accessRights']?.includes('w')) return
    const length = Math.ceil(layout.bits / 8)
    const bytes = this.scratch.fill(0, 0, length)
    const parameters: Parameter[] = []
    for (const field of layout.fields) {
      const parameter = this.parameterOf(
        id,
        field,
        layout.bits,
        this.defaultOf(element, field.subindex),
        element,
      )
      encodeValue(bytes, parameter, parameter.default)
      parameters.push(parameter)
    }
    const record = {
      index: this.attributes.required(element, 'index', [0, 65_535]),
      name: '',
      length,
      bytes: toHex(bytes, length),
      parameters,
    }
    this.texts.want(record, 'name', child(element, 'Name')?.attributes['textId'], element)
    this.records.push(record)
  }

  readStandard(element: XmlElement): void {
    const id = this.idOf(element)
    const known = standardVariables.get(id)
    const written = element.attributes['defaultValue']
    const value = parseIoddNumber(written ?? '')
    if (value !== null) this.addDefault(id, 0, value)
    if (!known) return
    const octets =
      this.attributes.number(element, 'fixedLengthRestriction', [1, 232]) ?? known.octets
    const isText = known.type === 'StringT'
    const parameter: Parameter = {
      key: id,
      name: id.slice(2).replace(/(?<=[a-z])(?=[A-Z])/g, ' '),
      type: known.type,
      kind: isText ? 'text' : 'unsigned',
      byteOrder: 'big',
      offsetBytes: 0,
      offsetBits: 0,
      bits: octets * 8,
      ...(isText && { fill: 0 as const }),
      default: isText ? (written ?? '') : (value ?? 0),
      allowed: [],
      texts: {},
      visible: true,
      changeable: true,
    }
    const bytes = new Uint8Array(octets)
    encodeValue(bytes, parameter, parameter.default)
    this.records.push({
      index: known.index,
      name: parameter.name,
      length: octets,
      bytes: toHex(bytes),
      parameters: [parameter],
    })
  }

  /** Default value of a variable or of one of its record items, also of those that can only be
   *  read; undefined where the file gives none. */
  defaultValueOf(id: string, subindex: number): number | undefined {
    const at = this.defaultIds.findIndex(
      (one, i) => one === id && this.defaultSubindexes[i] === subindex,
    )
    return this.defaultValues[at]
  }

  private addDefault(id: string, subindex: number, value: number): void {
    this.defaultIds.push(id)
    this.defaultSubindexes.push(subindex)
    this.defaultValues.push(value)
  }

  private idOf(element: XmlElement): string {
    const id = element.attributes['id'] ?? ''
    if (id === '')
      this.problems.error('attribute.missing', `${element.name} has no id; it is needed.`, element)
    // One look-up instead of two: tens of thousands of identifiers stand in a large file.
    const before = this.ids.size
    this.ids.add(id)
    if (id !== '' && this.ids.size === before)
      this.problems.error(
        'id.duplicate',
        `Variable "${id}" stands more than once in the file.`,
        element,
      )
    return id
  }

  /** The written default value of a subindex, 0 for the whole. */
  private defaultOf(element: XmlElement, subindex: number): string | undefined {
    if (subindex === 0) return element.attributes['defaultValue']
    return children(element, 'RecordItemInfo').find(
      (info) => this.attributes.required(info, 'subindex', [0, 255]) === subindex,
    )?.attributes['defaultValue']
  }

  private parameterOf(
    id: string,
    field: Field,
    recordBits: number,
    written: string | undefined,
    variable: XmlElement,
  ): Parameter {
    const isText = field.kind === 'text' || field.kind === 'octets'
    const value = isText || written === undefined ? 0 : parseIoddNumber(written)
    if (value === null)
      this.problems.error(
        'iodd.value',
        `The default value of "${id}" is "${written}"; a number is needed.`,
        variable,
      )
    if (field.kind === 'octets' && written !== undefined && parseOctets(written) === null)
      this.problems.error(
        'iodd.value',
        `The default value of "${id}" is "${written}"; octets are needed.`,
        variable,
      )
    const parameter: Parameter = {
      key: field.subindex === 0 ? id : `${id}.${field.subindex}`,
      name: '',
      type: field.type,
      kind: field.kind,
      byteOrder: 'big' as const,
      offsetBytes: offsetBytesOf(field, recordBits),
      offsetBits: field.bitOffset & 7,
      bits: field.bits,
      fill: field.kind === 'text' ? (0 as const) : undefined,
      default: isText ? (written ?? '') : (value ?? 0),
      allowed: field.allowed,
      texts: field.texts,
      visible: true,
      changeable: true,
    }
    checkDefault(parameter, variable, this.problems)
    const name = (field.element && child(field.element, 'Name')) ?? child(variable, 'Name')
    this.texts.want(parameter, 'name', name?.attributes['textId'], name ?? variable)
    const description = field.element
      ? child(field.element, 'Description')
      : child(variable, 'Description')
    if (description)
      this.texts.want(parameter, 'info', description.attributes['textId'], description)
    return parameter
  }
}
