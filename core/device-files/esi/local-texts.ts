import { child, type XmlElement } from '../xml-records'

/** Language tags by the locale numbers that ESI files use (Windows language code identifiers). */
const tags: Readonly<Record<string, string>> = {
  '1033': 'en',
  '1031': 'de',
  '1036': 'fr',
  '1040': 'it',
  '1034': 'es',
  '3082': 'es',
  '1041': 'ja',
  '1042': 'ko',
  '2052': 'zh',
  '1028': 'zh-TW',
  '1043': 'nl',
  '1053': 'sv',
  '1046': 'pt',
  '1049': 'ru',
  '1029': 'cs',
  '1045': 'pl',
  '1035': 'fi',
}

/** Texts that stand in an element several times, once a language. */
export class LocalTexts {
  private readonly seen = new Set<string>()

  constructor(private readonly language: string | null) {}

  /** English (LcId 1033) first, as everything outside asks for it. */
  get languages(): string[] {
    const found = [...this.seen].map((number) => tags[number] ?? number)
    return [...found.filter((tag) => tag === 'en'), ...found.filter((tag) => tag !== 'en')]
  }

  /** The child's text in the wanted language, else English, else the first one. */
  of(owner: XmlElement, name: string): string {
    let first: string | null = null
    let english: string | null = null
    for (const element of owner.children) {
      if (element.name !== name) continue
      const number = element.attributes['LcId']
      if (number !== undefined) this.seen.add(number)
      if (this.language !== null && number !== undefined && tags[number] === this.language)
        return element.text.trim()
      if (number === '1033') english ??= element.text.trim()
      first ??= element.text.trim()
    }
    return english ?? first ?? ''
  }
}

export function textOf(owner: XmlElement | undefined, name: string): string | null {
  return child(owner, name)?.text.trim() ?? null
}
