import type { Parameter, ParameterIs, ParameterRecord } from '../../catalog/model'
import type { Problems } from '../../vocabulary/problem'
import { placeInMenus, type Menu, type MenuEntry, type Placeable } from '../menus'
import type { Attributes } from '../xml-attributes'
import { child, type XmlElement } from '../xml-records'
import type { Texts } from '../xml-texts'
import { unitNames } from './units'

type Shown = Pick<Parameter, 'unit' | 'display'>

/** Roles' own menus, in the order in which a tool shows them (IODD specification 1.1, from
 *  memory). */
const roots: readonly (readonly [element: string, name: string])[] = [
  ['IdentificationMenu', 'Identification'],
  ['ParameterMenu', 'Parameter'],
  ['ObservationMenu', 'Observation'],
  ['DiagnosisMenu', 'Diagnosis'],
]

/** Reads `Menu`s and says of each variable where the specialist's menus show it, with which unit
 *  and scaling. */
export class Menus {
  private readonly menus: Menu[] = []
  private readonly rootIds: string[] = []
  private readonly rootNames = new Map<string, string>()
  private readonly shown = new Map<string, Shown>()

  constructor(
    private readonly attributes: Attributes,
    private readonly texts: Texts,
    private readonly problems: Problems,
  ) {}

  read(element: XmlElement): void {
    const label = { name: '' }
    this.texts.want(label, 'name', child(element, 'Name')?.attributes['textId'], element)
    this.menus.push({
      id: element.attributes['id'] ?? '',
      label,
      entries: element.children.flatMap((entry) => this.entryOf(entry)),
    })
  }

  readRoots(element: XmlElement): void {
    for (const [name, words] of roots) {
      const id = child(element, name)?.attributes['menuId']
      if (id === undefined) continue
      this.rootIds.push(id)
      this.rootNames.set(id, words)
    }
  }

  /** Once all texts are filled in. Variables that can only be read stand in menus too and are
   *  passed over. */
  settle(records: readonly ParameterRecord[]): void {
    if (this.menus.length === 0) return
    const parameters = new Map(
      records.flatMap((record) =>
        record.parameters.map((parameter) => [
          parameter.key,
          parameter as Placeable & { -readonly [K in keyof Shown]: Shown[K] },
        ]),
      ),
    )
    for (const menu of this.menus) menu.label.name ||= this.rootNames.get(menu.id) ?? ''
    placeInMenus(
      this.menus,
      this.problems,
      (target) => {
        const all = (
          parameters.has(target)
            ? [target]
            : [...parameters.keys()].filter((one) => one.startsWith(`${target}.`))
        ).map((key) => parameters.get(key)!)
        for (const parameter of all) Object.assign(parameter, this.shown.get(target))
        return all
      },
      this.rootIds.length > 0 ? this.rootIds : undefined,
    )
  }

  private entryOf(entry: XmlElement): MenuEntry[] {
    const { name, attributes } = entry
    if (name === 'MenuRef') {
      const when = this.conditionOf(child(entry, 'Condition'))
      return [
        {
          kind: 'menu',
          target: attributes['menuId'] ?? '',
          at: entry.place,
          ...(when && { when }),
        },
      ]
    }
    if (name !== 'VariableRef' && name !== 'RecordItemRef') return []
    const variable = attributes['variableId'] ?? ''
    const target =
      name === 'VariableRef'
        ? variable
        : `${variable}.${this.attributes.required(entry, 'subindex', [0, 255])}`
    const unit =
      attributes['unitCode'] === undefined
        ? undefined
        : (unitNames.get(attributes['unitCode']) ?? `unit ${attributes['unitCode']}`)
    const factor = this.decimal(entry, 'gradient') ?? 1
    const offset = this.decimal(entry, 'offset') ?? 0
    const decimals = /^Dec\.(\d+)$/.exec(attributes['displayFormat'] ?? '')?.[1]
    const isScaled = factor !== 1 || offset !== 0 || decimals !== undefined
    if (!this.shown.has(target))
      this.shown.set(target, {
        ...(unit !== undefined && { unit }),
        ...(isScaled && {
          display: { factor, offset, decimals: decimals === undefined ? null : Number(decimals) },
        }),
      })
    return [{ kind: 'parameter', target, at: entry.place }]
  }

  /** `Condition` names a variable or an item of one, and the value at which the menu is shown (IODD
   *  specification 1.1, from memory). */
  private conditionOf(condition: XmlElement | undefined): ParameterIs | null {
    if (!condition) return null
    const subindex = this.attributes.number(condition, 'subindex', [0, 255]) ?? 0
    return {
      parameter: `${condition.attributes['variableId'] ?? ''}${subindex === 0 ? '' : `.${subindex}`}`,
      value: this.attributes.required(condition, 'value', [0, 255]),
    }
  }

  private decimal(entry: XmlElement, name: string): number | null {
    const written = entry.attributes[name]
    if (written === undefined) return null
    const value = written.trim() === '' ? NaN : Number(written)
    if (Number.isFinite(value)) return value
    this.problems.error(
      'attribute.number',
      `${entry.name}@${name} is "${written}"; a number is needed.`,
      entry,
    )
    return null
  }
}
