import type { Device, Diagnosis, Module, Slot, Submodule, Subslot } from '../../catalog/model'
import { Problems, type Position } from '../../vocabulary/problem'
import { countValues, values, type ValueRange } from '../../vocabulary/value-list'
import { Attributes } from '../xml-attributes'
import type { XmlElement } from '../xml-records'
import { Texts } from '../xml-texts'
import { DataItems } from './data-items'
import { Records } from './records'

export const maxSlots = 65536

/** Where something may, does and must stand; thousands of references have the same. */
export interface Placing {
  readonly allowed: ValueRange[] | null
  readonly used: ValueRange[] | null
  readonly fixed: ValueRange[] | null
}

export interface Reference {
  readonly target: string
  readonly placing: Placing
  readonly at: Position
}

/** Things that can be plugged, waiting until all of them are known. */
export interface Socket {
  readonly owner: { slots?: readonly Slot[]; subslots: readonly Subslot[] }
  readonly numbers: number[]
  readonly references: readonly Reference[]
  readonly kind: 'slot' | 'subslot'
}

/** What is collected while the file is gone through once. Names, pictures and what may be plugged
 *  where stand further on in the file than what refers to them; they are settled at the end. */
export class Reading {
  readonly problems = new Problems()
  readonly attributes = new Attributes(this.problems)
  readonly texts: Texts
  readonly dataItems: DataItems
  readonly records: Records
  readonly vendor = { id: null as number | null, name: '' }
  readonly family = { main: '', product: '' }
  readonly devices: Device[] = []
  readonly modules: Module[] = []
  readonly submodules: Submodule[] = []
  readonly diagnoses: Diagnosis[] = []
  readonly categories = new Map<string, { name: string }>()
  readonly categoryWishes: { target: { category: string | null }; id: string }[] = []
  readonly pictures = new Map<string, string>()
  readonly pictureWishes: string[][] = []
  readonly sockets: Socket[] = []
  readonly placings = new Map<string, Placing>()
  private readonly keys = new Set<string>()
  deviceId = 0
  profileVersion: string | null = null
  rootSeen = ''
  identitySeen = false

  constructor(language: string | null) {
    this.texts = new Texts(this.problems, language, { id: 'TextId', value: 'Value' })
    this.dataItems = new DataItems(this.attributes, this.texts, this.problems)
    this.records = new Records(this.attributes, this.texts, this.problems)
  }

  /** An element's ID, which no other may have. */
  uniqueKey(element: XmlElement): string {
    const key = this.attributes.key(element)
    if (this.keys.has(key))
      this.problems.error('id.duplicate', `ID "${key}" stands more than once in the file.`, element)
    this.keys.add(key)
    return key
  }

  /** The numbers of a value list, of which no more than `most` make sense. */
  numbersOf(ranges: ValueRange[], at: Position, most = maxSlots): number[] {
    if (countValues(ranges) > most) {
      this.problems.error(
        'slots.count',
        `The value list names ${countValues(ranges)} slots; at most ${most} make sense.`,
        at,
      )
      return []
    }
    return [...values(ranges)]
  }
}
