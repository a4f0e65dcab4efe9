import type { Device, DictionaryObject, Module, ParameterRecord, Slot } from '../../catalog/model'
import { Problems, type Position } from '../../vocabulary/problem'
import { Attributes } from '../xml-attributes'
import type { XmlElement } from '../xml-records'
import { LocalTexts } from './local-texts'
import { parseEsiNumber } from './numbers'
import { Pdos } from './pdos'

/** What a slot takes, by number or by class, waiting until all modules are known. */
export interface SlotWish {
  readonly slot: number
  readonly idents: readonly {
    readonly ident: number
    readonly isDefault: boolean
    readonly at: Position
  }[]
  readonly classes: readonly { readonly name: string; readonly at: Position }[]
}

interface ReadDevice {
  readonly device: Device
  /** Of the device, filled when all modules are known. */
  readonly slots: Slot[]
  readonly wishes: readonly SlotWish[]
  readonly group: { readonly type: string; readonly at: Position } | null
}

/** What is collected while the file is gone through once. */
export class Reading {
  readonly problems = new Problems()
  readonly attributes = new Attributes(this.problems, parseEsiNumber)
  readonly texts: LocalTexts
  readonly pdos: Pdos
  readonly vendor = { id: null as number | null, name: '' }
  readonly groups = new Map<string, string>()
  readonly devices: ReadDevice[] = []
  readonly modules: { readonly module: Module; readonly class: string | null }[] = []
  /** Keys of devices that a newer revision hides. */
  readonly hidden = new Set<string>()
  readonly keys = new Set<string>()
  /** Dictionaries that were read already; revisions share them. */
  readonly dictionaries = new WeakMap<XmlElement, DictionaryObject[]>()
  /** What of them may be written. */
  readonly writable = new WeakMap<XmlElement, readonly ParameterRecord[]>()
  version: string | null = null
  root = ''

  constructor(language: string | null) {
    this.texts = new LocalTexts(language)
    this.pdos = new Pdos(this.attributes, this.texts)
  }

  uniqueKey(key: string, element: XmlElement): string {
    if (this.keys.has(key))
      this.problems.error(
        'id.duplicate',
        `${element.name} ${key} stands more than once in the file.`,
        element,
      )
    this.keys.add(key)
    return key
  }
}
