import type { Position, Problems } from '../problem'
import type { XmlElement } from './xml-records'

interface Entry {
  readonly textId: string
  chosen: string | null
  primary: string | null
  other: string | null
  /** Where it is named first. */
  namedAt: Position | null
}

/** How a format writes a text: the attribute that names it, the one that holds it. */
export interface TextWriting {
  readonly id: string
  readonly value: string
}

/** Texts stand at the end of a GSDML or IODD file, so what wants one waits until all languages are read. */
export class Texts {
  private readonly entries = new Map<string, Entry>()
  // Side by side instead of one object a wish: large files have hundreds of thousands.
  private readonly targets: Record<string, string>[] = []
  private readonly properties: string[] = []
  private readonly wanted: Entry[] = []
  /** Languages of the file, its primary one first. */
  readonly languages: string[] = []
  private property: 'chosen' | 'primary' | 'other' = 'primary'

  /** Takes texts of `language`, or of the file's primary language where that is null or missing. */
  constructor(
    private readonly problems: Problems,
    private readonly language: string | null,
    private readonly writing: TextWriting,
  ) {}

  /** Remembers that `target[property]` wants the text `textId` names. */
  want(target: object, property: string, textId: string | undefined, at: XmlElement): void {
    if (textId === undefined) return
    const entry = this.entry(textId)
    entry.namedAt ??= at.place
    this.targets.push(target as Record<string, string>)
    this.properties.push(property)
    this.wanted.push(entry)
  }

  enterLanguage(tag: string | null, isPrimary: boolean): void {
    // The primary language is English where the file does not say (GSDML specification, from memory).
    const language = tag ?? (isPrimary ? 'en' : '?')
    this.languages.push(language)
    this.property = isPrimary ? 'primary' : language === this.language ? 'chosen' : 'other'
  }

  readText(text: XmlElement): void {
    const id = text.attributes[this.writing.id]
    const value = text.attributes[this.writing.value]
    if (id === undefined || value === undefined) {
      this.problems.error('text.incomplete', `A Text needs both ${this.writing.id} and ${this.writing.value}.`, text)
    } else {
      const entry = this.entry(id)
      if (this.property === 'other') entry.other ??= value
      else entry[this.property] = value
    }
  }

  /** Fills in every name: chosen language, else the primary one, else any other language, else the text's own id. */
  settle(): void {
    for (const [i, { textId, chosen, primary, other }] of this.wanted.entries()) this.targets[i]![this.properties[i]!] = chosen ?? primary ?? other ?? textId
    for (const { textId, chosen, primary, other, namedAt } of this.entries.values()) {
      if (primary !== null || namedAt === null) continue
      if (chosen !== null || other !== null) {
        this.problems.warning('text.language', `Text "${textId}" is missing in the primary language; another language is shown.`, namedAt)
      } else {
        this.problems.error('reference.text', `Text "${textId}" is named here but stands in no language of the file.`, namedAt)
      }
    }
  }

  private entry(textId: string): Entry {
    let entry = this.entries.get(textId)
    if (!entry) this.entries.set(textId, (entry = { textId, chosen: null, primary: null, other: null, namedAt: null }))
    return entry
  }
}
