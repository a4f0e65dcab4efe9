import type { Parameter, ParameterRecord } from '../../catalog/model'
import { encodeValue } from '../../parameters'
import type { Position, Problems } from '../../vocabulary/problem'
import { child, children, listed, type XmlElement } from '../xml-records'
import { Attributes, parseWhole } from '../xml-attributes'
import { bytesOfType, kindOfType } from './data-types'
import { readFailSafeRecord } from './fail-safe'
import { placeInMenus, type Menu, type MenuEntry, type Placeable } from '../menus'
import { checkDefault } from '../default-value'
import type { Texts } from '../xml-texts'
import { toHex } from '../../vocabulary'

/** Enumerations by `ValueItem@ID`; filled while the file is read, complete at its end. */
export type Enumerations = Map<string, Record<string, string>>

const menuLists = [
  ['MenuList', 'MenuItem'],
  ['ParameterGroups', 'ParameterGroup'],
] as const

interface WaitingEnumeration {
  readonly parameter: { texts: Record<string, string> }
  readonly target: string
  readonly at: Position
}

/** Reads `ParameterRecordDataItem`s: constants, then the references' defaults over them. GSDML
 *  specification. */
export class Records {
  readonly enumerations: Enumerations = new Map()
  private readonly waiting: WaitingEnumeration[] = []
  private readonly menus: {
    readonly menus: readonly Menu[]
    readonly parameters: readonly Parameter[]
  }[] = []
  /** Lists written alike are one element and read once. */
  private readonly known = new WeakMap<XmlElement, readonly ParameterRecord[]>()
  private readonly readers = new Map<string, (record: XmlElement) => ParameterRecord>([
    ['ParameterRecordDataItem', (record) => this.readRecord(record)],
    [
      'F_ParameterRecordDataItem',
      (record) => readFailSafeRecord(record, this.attributes, this.problems),
    ],
  ])

  constructor(
    private readonly attributes: Attributes,
    private readonly texts: Texts,
    private readonly problems: Problems,
  ) {}

  readValueItem(item: XmlElement): void {
    const assigned: Record<string, string> = {}
    for (const assign of children(child(item, 'Assignments'), 'Assign')) {
      const content = assign.attributes['Content']
      if (content === undefined)
        this.problems.error('attribute.missing', 'Assign has no Content; it is needed.', assign)
      else this.texts.want(assigned, content, assign.attributes['TextId'], assign)
    }
    this.enumerations.set(this.attributes.key(item), assigned)
  }

  readList(owner: XmlElement): readonly ParameterRecord[] {
    const list = child(owner, 'RecordDataList')
    if (!list) return []
    let read = this.known.get(list)
    if (!read)
      this.known.set(
        list,
        (read = list.children.flatMap((record) => this.readers.get(record.name)?.(record) ?? [])),
      )
    return read
  }

  /** Once all texts are filled in: enumerations and menus. */
  settle(): void {
    for (const { menus, parameters } of this.menus) {
      const byKey = new Map(parameters.map((parameter) => [parameter.key, parameter as Placeable]))
      placeInMenus(menus, this.problems, (key) => (byKey.has(key) ? [byKey.get(key)!] : null))
    }
    for (const { parameter, target, at } of this.waiting) {
      const texts = this.enumerations.get(target)
      if (texts) parameter.texts = texts
      else
        this.problems.error(
          'reference.values',
          `ValueItem "${target}" is named here but does not stand in the file.`,
          at,
        )
    }
  }

  private readRecord(record: XmlElement): ParameterRecord {
    const length = this.attributes.required(record, 'Length', [0, 65535])
    const bytes = new Uint8Array(length)
    const parameters: Parameter[] = []
    for (const part of record.children) if (part.name === 'Const') this.layConstant(part, bytes)
    for (const part of record.children) {
      if (part.name !== 'Ref') continue
      const parameter = this.readReference(part, length)
      encodeValue(bytes, parameter, parameter.default)
      parameters.push(parameter)
    }
    const menus = this.readMenus(record)
    if (menus.length > 0) this.menus.push({ menus, parameters })
    const made = {
      index: this.attributes.required(record, 'Index', [0, 65535]),
      name: '',
      length,
      bytes: toHex(bytes),
      parameters,
    }
    this.texts.want(made, 'name', child(record, 'Name')?.attributes['TextId'], record)
    return made
  }

  /** `MenuList` and `ParameterGroups` of a record (GSDML specification, ParameterRecordDataItem;
   *  from memory). */
  private readMenus(record: XmlElement): Menu[] {
    return menuLists
      .flatMap(([list, item]) => listed(record, list, item))
      .map((element) => {
        const label = { name: '' }
        this.texts.want(
          label,
          'name',
          child(element, 'Name')?.attributes['TextId'] ?? element.attributes['TextId'],
          element,
        )
        const entries = element.children.flatMap(({ name, attributes, place }): MenuEntry[] => {
          if (name === 'MenuRef')
            return [{ kind: 'menu', target: attributes['MenuTarget'] ?? '', at: place }]
          return name === 'ParameterRef'
            ? [{ kind: 'parameter', target: attributes['ParameterTarget'] ?? '', at: place }]
            : []
        })
        return { id: this.attributes.key(element), label, entries }
      })
  }

  private layConstant(constant: XmlElement, bytes: Uint8Array): void {
    const octets = (constant.attributes['Data'] ?? '').split(',').map((octet) => parseWhole(octet))
    const offset = this.attributes.number(constant, 'ByteOffset', [0, 65535]) ?? 0
    if (octets.some((octet) => octet === null || octet < 0 || octet > 255)) {
      this.problems.error(
        'record.constant',
        `Const@Data is "${constant.attributes['Data'] ?? ''}"; octets such as "0x00,0x1F" are needed.`,
        constant,
      )
    } else if (offset + octets.length > bytes.length) {
      this.problems.error(
        'record.length',
        `Const ends at octet ${offset + octets.length}; the record has ${bytes.length}.`,
        constant,
      )
    } else {
      bytes.set(octets as number[], offset)
    }
  }

  private readReference(reference: XmlElement, recordLength: number): Parameter {
    const type = reference.attributes['DataType'] ?? ''
    const offsetBytes = this.attributes.required(reference, 'ByteOffset', [0, 65535])
    const bits = this.widthOf(reference, type)
    const kind = kindOfType(type)
    const text = reference.attributes['DefaultValue'] ?? ''
    const parameter = {
      key: reference.attributes['ID'] ?? reference.attributes['TextId'] ?? `line-${reference.line}`,
      name: '',
      type,
      kind,
      byteOrder: type === 'Bit' || type === 'BitArea' ? ('little' as const) : ('big' as const),
      offsetBytes,
      offsetBits: this.attributes.number(reference, 'BitOffset', [0, 7]) ?? 0,
      bits,
      default: kind === 'text' || kind === 'octets' ? text : this.numberOf(reference, text),
      allowed: this.attributes.list(reference, 'AllowedValues') ?? [],
      texts: {} as Record<string, string>,
      visible: this.attributes.boolean(reference, 'Visible', true),
      changeable: this.attributes.boolean(reference, 'Changeable', true),
    }
    if (offsetBytes * 8 + parameter.offsetBits + bits > recordLength * 8) {
      this.problems.error(
        'record.length',
        `Ref ends after the record's ${recordLength} octets.`,
        reference,
      )
    }
    if (type === 'BitArea' && parameter.offsetBits + bits > 8) {
      this.problems.warning(
        'record.bits',
        'BitArea crosses an octet; it is read on into the next octet’s low bits.',
        reference,
      )
    }
    checkDefault(parameter, reference, this.problems)
    this.texts.want(parameter, 'name', reference.attributes['TextId'], reference)
    const target = reference.attributes['ValueItemTarget']
    if (target !== undefined) this.waiting.push({ parameter, target, at: reference.place })
    return parameter
  }

  private widthOf(reference: XmlElement, type: string): number {
    if (type === 'Bit') return 1
    if (type === 'BitArea') return this.attributes.number(reference, 'BitLength', [1, 15]) ?? 1
    const octets = bytesOfType(type)
    if (octets === undefined)
      this.problems.error(
        'data.type',
        `Ref has the data type "${type}", which the format does not know.`,
        reference,
      )
    return 8 * (octets ?? this.attributes.number(reference, 'Length', [0, 65535]) ?? 0)
  }

  private numberOf(reference: XmlElement, text: string): number {
    const value = text.trim() === '' ? 0 : Number(text)
    if (Number.isFinite(value)) return value
    this.problems.error(
      'attribute.number',
      `Ref@DefaultValue is "${text}"; a number is needed.`,
      reference,
    )
    return 0
  }
}
