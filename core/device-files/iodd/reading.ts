import type { Diagnosis, IoLinkTraits, ProcessDataLayout } from '../../catalog/model'
import { Problems } from '../../vocabulary/problem'
import { Attributes } from '../xml-attributes'
import { Texts } from '../xml-texts'
import { Datatypes } from './datatypes'
import { Menus } from './menus'
import { Variables } from './variables'

/** What is collected while the file is gone through once. */
export class Reading {
  readonly problems = new Problems()
  readonly attributes = new Attributes(this.problems)
  readonly texts: Texts
  readonly datatypes: Datatypes
  readonly variables: Variables
  readonly menus: Menus
  readonly vendor = { id: null as number | null, name: '' }
  readonly family = { main: '', product: '' }
  readonly names = { name: '', info: '' }
  readonly variants: { productId: string; name: string }[] = []
  readonly diagnoses: Diagnosis[] = []
  readonly layouts: ProcessDataLayout[] = []
  deviceId: number | null = null
  edition: string | null = null
  root = ''
  layer: Omit<IoLinkTraits, 'layouts'> = {
    transmissionRate: null,
    minCycleTimeUs: null,
    mSequenceCapability: null,
    hasSioMode: false,
  }

  constructor(language: string | null) {
    const { problems, attributes } = this
    this.texts = new Texts(problems, language, { id: 'id', value: 'value' })
    this.datatypes = new Datatypes(attributes, this.texts, problems)
    this.variables = new Variables(attributes, this.datatypes, this.texts, problems)
    this.menus = new Menus(attributes, this.texts, problems)
  }
}
